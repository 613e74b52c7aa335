#include "session/edit.h"

#include "session/in_range.h"

#include "base/text.h"
#include "session/map_change.h"
#include "session/overloaded.h"
#include "session/validate.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr const char* beatsOnlyTime = "Beats of a bar are listened to as their bar is: choose its section instead";

FrameCount lengthOf(const Take& take) {
    FrameCount length{1};
    for (const SourceFile& file : take.files)
        if (!file.empty())
            length = std::max(length, file.end() - SourceFrame{0});
    return length;
}

/// One object so that every case sees the session being changed.
struct Applier {
    Session next;

    bool speaksOf(const Correction& correction, char take, SourceFrame at) const {
        const auto distance = (correction.at - at).frames;
        return correction.take == take && std::abs(distance) <= correctionTolerance(next.rate).frames;
    }

    Expected<void> onMic(std::size_t mic, auto&& change) {
        if (mic >= next.mics.size())
            return fail(ErrorKind::badValue, "There is no such mic");
        return change(next.mics[mic]);
    }
    Expected<void> onLinked(std::size_t index, auto&& change) {
        return onMic(index, [&](Mic& mic) {
            change(mic);
            for (Mic& other : next.mics)
                if (mic.linked && other.linked && other.group == mic.group)
                    change(other);
            return done();
        });
    }
    static Expected<void> done() { return {}; }

    Expected<void> operator()(const SetTempo& e) {
        return inRange(e.bpm.value, limits::tempo, "The tempo").map([&] { next.map.tempos.front().bpm = e.bpm; });
    }
    Expected<void> operator()(const SetMeter& e) {
        if (!isMeter(e.meter))
            return fail(ErrorKind::badValue, "A meter has 1 to 32 beats of 1, 2, 4, 8, 16 or 32");
        next.map.meters.front().meter = e.meter;
        return {};
    }
    Expected<void> operator()(const SetOrigin& e) {
        next.map.origin = e.origin;
        return {};
    }
    Expected<void> operator()(const SetGrid& e) {
        next.timing.grid = e.grid;
        return {};
    }
    Expected<void> operator()(const SetSectionGrid& e) {
        if (e.section >= next.sections.size())
            return fail(ErrorKind::badValue, "There is no such section");
        next.sections[e.section].grid = e.grid;
        return {};
    }
    Expected<void> operator()(const SetStrength& e) {
        return inRange(e.percent, limits::strength, "The strength").map([&] { next.timing.strength = e.percent; });
    }
    Expected<void> operator()(const SetLeadIn& e) {
        return inRange(e.time.value, limits::leadIn, "The lead-in").map([&] { next.seams.leadIn = e.time; });
    }
    Expected<void> operator()(const SetFade& e) {
        return inRange(e.time.value, limits::fade, "A fade").map([&] { next.seams.fade = e.time; });
    }
    Expected<void> operator()(const SetFill& e) {
        next.seams.fill = e.fill;
        return {};
    }
    Expected<void> operator()(const SetGuide& e) {
        return onMic(e.mic, [&](Mic& mic) { return mic.guide = e.guide, done(); });
    }
    Expected<void> operator()(const SetThreshold& e) {
        return onMic(e.mic, [&](Mic& mic) {
            return inRange(e.level.value, limits::threshold, "A threshold").map([&] { mic.threshold = e.level; });
        });
    }
    Expected<void> operator()(const SetShortestGap& e) {
        return onMic(e.mic, [&](Mic& mic) {
            return inRange(e.gap.value, limits::shortestGap, "The shortest gap").map([&] {
                mic.shortestGap = e.gap;
            });
        });
    }
    Expected<void> operator()(const SetBleedJudging& e) {
        return onMic(e.mic, [&](Mic& mic) { return mic.judgesBleed = e.on, done(); });
    }
    Expected<void> operator()(const SetEmphasis& e) {
        for (const double weight : e.weights.value_or(BandWeights{1, 1, 1, 1}))
            if (auto fits = inRange(weight, limits::bandWeight, "A band's weight"); !fits)
                return fits;
        return onMic(e.mic, [&](Mic& mic) { return mic.emphasis = e.weights, done(); });
    }
    Expected<void> operator()(const SetSectionListening& e) {
        if (e.section >= next.sections.size() || next.micNamed(e.listening.mic) == next.mics.size())
            return fail(ErrorKind::badValue, "There is no such section or mic");
        if (next.sections[e.section].beats)
            return fail(ErrorKind::badValue, beatsOnlyTime);
        const auto level = e.listening.threshold.value_or(Decibels{limits::threshold.usual});
        const auto gap = e.listening.shortestGap.value_or(Milliseconds{limits::shortestGap.usual});
        if (auto fits = inRange(level.value, limits::threshold, "A threshold").and_then([&] {
                return inRange(gap.value, limits::shortestGap, "The shortest gap");
            });
            !fits)
            return fits;
        auto& all = next.sections[e.section].listening;
        std::erase_if(all, [&](const auto& l) { return l.mic == e.listening.mic; });
        if (!e.listening.empty())
            all.push_back(e.listening);
        return {};
    }
    Expected<void> operator()(const SetClusters& e) {
        return inRange(e.clusters.window.value, limits::oneHit, "The time within which strokes are one hit")
            .map([&] { next.clusters = e.clusters; });
    }
    Expected<void> operator()(const SetFinest& e) {
        if (e.section && *e.section >= next.sections.size())
            return fail(ErrorKind::badValue, "There is no such section");
        if (e.section && next.sections[*e.section].beats)
            return fail(ErrorKind::badValue, beatsOnlyTime);
        if (auto fits = inRange(e.finest.value_or(Finest{}).near.value, limits::nearFinest, "Near a line"); !fits)
            return fits;
        (e.section ? next.sections[*e.section].finest : next.finest) = e.finest;
        return {};
    }
    Expected<void> operator()(const SetLabel& e) {
        return onMic(e.mic, [&](Mic& mic) { return mic.label = e.label == mic.stem ? "" : e.label, done(); });
    }
    Expected<void> operator()(const SetGroup& e) {
        return onMic(e.mic, [&](Mic& mic) {
            mic.group = e.group;
            mic.linked = e.linked && !e.group.empty();
            return done();
        });
    }
    Expected<void> operator()(const SetOffsets& e) {
        if (e.take >= next.takes.size() || e.offsets.size() != next.mics.size())
            return fail(ErrorKind::badValue, "There is no such take");
        Take& take = next.takes[e.take];
        for (std::size_t mic = 0; mic < e.offsets.size(); ++mic)
            if (e.offsets[mic])
                take.files.change(mic, [&](SourceFile& file) { file.offset = *e.offsets[mic]; });
        take.length = lengthOf(take);
        return {};
    }
    Expected<void> operator()(const ArrangeKit& e) {
        for (std::size_t place = 0, wanted = 0; wanted < e.mics.size(); ++wanted) {
            const std::size_t from = next.micNamed(e.mics[wanted].stem);
            if (from == next.mics.size() || from < place)
                continue;
            (void)(*this)(MoveMic{from, place});
            next.mics[place++] = e.mics[wanted];
        }
        return {};
    }
    Expected<void> operator()(const BringIn& e) {
        next = *e.session;
        return {};
    }
    Expected<void> operator()(const SetRole& e) {
        return onMic(e.mic, [&](Mic& mic) {
            const bool nobodySetIt = mic.threshold == usualThreshold(next.mics, mic.role);
            mic.role = e.role;
            if (nobodySetIt)
                mic.threshold = usualThreshold(next.mics, e.role);
            return done();
        });
    }
    Expected<void> operator()(const MoveMic& e) {
        if (e.from >= next.mics.size() || e.to >= next.mics.size())
            return fail(ErrorKind::badValue, "There is no such mic");
        const auto move = [&](auto& list) {
            const auto first = list.begin() + static_cast<std::ptrdiff_t>(std::min(e.from, e.to));
            const auto last = list.begin() + static_cast<std::ptrdiff_t>(std::max(e.from, e.to)) + 1;
            std::rotate(first, e.from < e.to ? first + 1 : last - 1, last);
        };
        move(next.mics);
        for (Take& take : next.takes) {
            std::vector<SourceFile> files(take.files.begin(), take.files.end());
            move(files);
            take.files = std::move(files);
        }
        return {};
    }
    Expected<void> operator()(const SetMicLevel& e) {
        return inRange(e.level.value, limits::level, "A level").and_then([&] {
            return onLinked(e.mic, [&](Mic& mic) { mic.level = e.level; });
        });
    }
    Expected<void> operator()(const SetMute& e) {
        return onLinked(e.mic, [&](Mic& mic) { mic.mute = e.mute; });
    }
    Expected<void> operator()(const SetSolo& e) {
        return onLinked(e.mic, [&](Mic& mic) { mic.solo = e.solo; });
    }
    Expected<void> operator()(const MuteCompanion& e) {
        if (e.companion >= next.companions.size())
            return fail(ErrorKind::badValue, "There is no such companion");
        next.companions[e.companion].mute = e.mute;
        return {};
    }
    Expected<void> operator()(const Correct& e) {
        for (const Correction& correction : e.corrections)
            correct(correction);
        return {};
    }
    Expected<void> operator()(const DropCorrections& e) {
        for (const TakePlace& place : e.at)
            next.corrections.eraseIf([&](const auto& c) { return speaksOf(c, place.take, place.at); });
        return {};
    }
    Expected<void> operator()(const TakeEdit& e) { return apply(e, next); }
    Expected<void> operator()(const TimingEdit& e) { return apply(e, next); }
    Expected<void> operator()(const HandEdit& e) { return apply(e, next); }
    Expected<void> operator()(const FeelEdit& e) { return apply(e, next); }

private:
    void correct(const Correction& correction) {
        bool wasAdded = false;
        next.corrections.eraseIf([&](const Correction& c) {
            const bool replaced =
                speaksOf(c, correction.take, correction.at) && aspectOf(c.kind) == aspectOf(correction.kind);
            wasAdded = wasAdded || (replaced && c.kind != Correction::Kind::remove);
            return replaced;
        });
        if (correction.kind == Correction::Kind::remove) {
            // What else was said about the hit goes with it, so that nothing is left that speaks of nothing.
            next.corrections.eraseIf(
                [&](const Correction& c) { return speaksOf(c, correction.take, correction.at); });
            if (wasAdded)
                return;
        }
        const auto after = std::upper_bound(next.corrections.begin(), next.corrections.end(), correction,
                                            [](const auto& a, const auto& b) { return a.at < b.at; });
        next.corrections.insert(after, correction);
    }
};

std::string minus(double value, int decimals = 1) {
    const std::string text = trimmedNumber(std::abs(value), decimals);
    return value < 0 && text != "0" ? "−" + text : text;
}

std::string describe(const std::vector<Correction>& corrections) {
    if (corrections.empty())
        return "Correct nothing";
    const std::string count = std::to_string(corrections.size());
    const bool one = corrections.size() == 1;
    const auto say = [&](const char* single, const char* before, const char* behind) {
        return one ? std::string(single) : before + count + behind;
    };
    switch (corrections.front().kind) {
    case Correction::Kind::add:
        return say("Add a hit", "Add ", " hits");
    case Correction::Kind::cut:
        return say("Cut without an attack", "Cut at ", " places");
    case Correction::Kind::remove:
        return say("Remove a hit", "Remove ", " hits");
    case Correction::Kind::mark:
        return say("Move the start of a hit", "Move the starts of ", " hits");
    case Correction::Kind::split:
        return say("Split a hit", "Split ", " hits");
    case Correction::Kind::join:
        return say("Join two hits", "Join ", " pairs of hits");
    case Correction::Kind::anchor:
        return "Anchor from " + corrections.front().mic;
    case Correction::Kind::drum:
        return say("A hit of the ", "", " hits of the ") + std::string(name(corrections.front().voice));
    case Correction::Kind::pin:
        return say("Pin a hit as played", "Pin ", " hits as played");
    case Correction::Kind::place:
        return say("Move a hit", "Move ", " hits");
    case Correction::Kind::line:
        return say("Send a hit to another line", "Send ", " hits to other lines");
    }
    return {};
}

} // namespace

Expected<Session> edited(const Session& session, const Edit& edit) {
    Applier applier{session};
    if (auto applied = std::visit(applier, edit); !applied)
        return tl::unexpected(applied.error());
    const bool ofTheMap = std::holds_alternative<SetTempo>(edit) || std::holds_alternative<SetMeter>(edit) ||
                          std::holds_alternative<SetOrigin>(edit);
    if (ofTheMap)
        keepOnTheirLines(applier.next, session.map);
    if (auto valid = validate(applier.next); !valid)
        return tl::unexpected(valid.error());
    return std::move(applier.next);
}

std::string describe(const Session& session, const Edit& edit) {
    const auto mic = [&](std::size_t index) {
        return index < session.mics.size() ? session.mics[index].shownName() : std::string("a mic");
    };
    const auto sectionName = [&](std::size_t index) {
        return index < session.sections.size() ? session.sections[index].name : std::string("a section");
    };
    return std::visit(
        Overloaded{
            [](const SetTempo& e) { return "Tempo " + trimmedNumber(e.bpm.value) + " BPM"; },
            [](const SetMeter& e) {
                return "Meter " + std::to_string(e.meter.beats) + "/" + std::to_string(e.meter.unit);
            },
            [&](const SetOrigin& e) {
                return "Bar 1 at " + minus(toSeconds({e.origin.frame}, session.rate).value, 3) + " s";
            },
            [](const SetGrid& e) { return "Grid " + name(e.grid); },
            [&](const SetSectionGrid& e) {
                return "Grid of " + sectionName(e.section) + (e.grid ? " " + name(*e.grid) : " as the song");
            },
            [](const SetStrength& e) { return "Strength " + trimmedNumber(e.percent, 1) + " %"; },
            [](const SetLeadIn& e) { return "Lead-in " + trimmedNumber(e.time.value, 1) + " ms"; },
            [](const SetFade& e) { return "Fade " + trimmedNumber(e.time.value, 1) + " ms"; },
            [](const SetFill& e) {
                return std::string(e.fill == Fill::borrow ? "Borrow into holes" : "Leave holes open");
            },
            [&](const SetGuide& e) { return mic(e.mic) + (e.guide ? " guides" : " follows"); },
            [&](const SetThreshold& e) {
                return "Threshold of " + mic(e.mic) + " " + minus(e.level.value) + " dB";
            },
            [&](const SetShortestGap& e) {
                return "Shortest gap of " + mic(e.mic) + " " + trimmedNumber(e.gap.value, 1) + " ms";
            },
            [&](const SetBleedJudging& e) {
                return std::string(e.on ? "Judge bleed in " : "Do not judge bleed in ") + mic(e.mic);
            },
            [&](const SetEmphasis& e) {
                return "Emphasis of " + mic(e.mic) + (e.weights ? " by hand" : " by its drum");
            },
            [&](const SetSectionListening& e) {
                return "Listening to " + e.listening.mic + " in " + sectionName(e.section);
            },
            [&](const SetClusters& e) {
                return "One hit within " + trimmedNumber(e.clusters.window.value, 1) + " ms, " +
                       std::string(name(e.clusters.anchor)) + " lands";
            },
            [&](const SetFinest& e) {
                return "Finest note of " + (e.section ? sectionName(*e.section) : "the song") + " " +
                       (e.finest ? name(e.finest->value) + ", " + trimmedNumber(e.finest->near.value, 1) + " ms"
                                 : std::string(e.section ? "as the song" : "any"));
            },
            [&](const SetLabel& e) { return "Call " + mic(e.mic) + " " + e.label; },
            [&](const SetGroup& e) {
                return e.group.empty() ? mic(e.mic) + " stands alone" : mic(e.mic) + " belongs to " + e.group;
            },
            [&](const SetOffsets& e) {
                return "Start of files in take " +
                       std::string(1, e.take < session.takes.size() ? session.takes[e.take].letter : '?');
            },
            [](const ArrangeKit&) { return std::string("Kit as kept"); },
            [](const BringIn& e) { return e.what; },
            [&](const SetRole& e) { return mic(e.mic) + " is " + std::string(name(e.role)); },
            [&](const MoveMic& e) { return "Move " + mic(e.from); },
            [&](const SetMicLevel& e) { return "Level of " + mic(e.mic) + " " + minus(e.level.value) + " dB"; },
            [&](const SetMute& e) { return (e.mute ? "Mute " : "Unmute ") + mic(e.mic); },
            [&](const SetSolo& e) { return (e.solo ? "Solo " : "No solo of ") + mic(e.mic); },
            [&](const MuteCompanion& e) {
                const auto companion = e.companion < session.companions.size()
                                           ? session.companions[e.companion].name
                                           : std::string("a companion");
                return (e.mute ? "Mute " : "Unmute ") + companion;
            },
            [](const Correct& e) { return describe(e.corrections); },
            [](const DropCorrections& e) {
                return std::string(e.at.size() == 1 ? "Drop a correction" : "Drop corrections");
            },
            [&](const TakeEdit& e) { return describe(session, e); },
            [&](const TimingEdit& e) { return describe(session, e); },
            [&](const HandEdit& e) { return describe(session, e); },
            [&](const FeelEdit& e) { return describe(session, e); }},
        edit);
}

} // namespace lampo
