#include "session/edit.h"

#include "base/text.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace lampo {
namespace {

template <class... Fs>
struct Overloaded : Fs... {
    using Fs::operator()...;
};

tl::unexpected<Error> outside(const std::string& what, double low, double high, const std::string& unit) {
    return fail(ErrorKind::badValue,
                what + " goes from " + trimmedNumber(low) + " to " + trimmedNumber(high) + " " + unit);
}

bool within(double value, double low, double high) {
    return std::isfinite(value) && low <= value && value <= high;
}

bool speaksOf(const Correction& correction, char take, SourceFrame at) {
    const auto distance = (correction.at - at).frames;
    return correction.take == take && std::abs(distance) <= correctionTolerance.frames;
}

/// One object so that every case sees the session being changed.
struct Applier {
    Session next;

    Expected<void> ranged(double value, double low, double high, const char* what, const char* unit,
                          auto&& assign) {
        if (!within(value, low, high))
            return outside(what, low, high, unit);
        assign();
        return {};
    }
    Expected<void> onMic(std::size_t mic, auto&& change) {
        if (mic >= next.mics.size())
            return fail(ErrorKind::badValue, "There is no such mic");
        return change(next.mics[mic]);
    }
    static Expected<void> done() { return {}; }

    Expected<void> operator()(const SetTempo& e) {
        return ranged(e.bpm.value, slowestTempo.value, fastestTempo.value, "The tempo", "BPM",
                      [&] { next.map.tempos.front().bpm = e.bpm; });
    }
    Expected<void> operator()(const SetMeter& e) {
        if (e.meter.beats < 1 || e.meter.beats > 32 || e.meter.unit < 1 || e.meter.unit > 32 ||
            !std::has_single_bit(static_cast<unsigned>(e.meter.unit)))
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
        return ranged(e.percent, 0, 100, "The strength", "%", [&] { next.timing.strength = e.percent; });
    }
    Expected<void> operator()(const SetLeadIn& e) {
        return ranged(e.time.value, 0, 50, "The lead-in", "ms", [&] { next.seams.leadIn = e.time; });
    }
    Expected<void> operator()(const SetFade& e) {
        return ranged(e.time.value, 1, 50, "A fade", "ms", [&] { next.seams.fade = e.time; });
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
            return ranged(e.level.value, -60, 0, "A threshold", "dB", [&] { mic.threshold = e.level; });
        });
    }
    Expected<void> operator()(const SetShortestGap& e) {
        return onMic(e.mic, [&](Mic& mic) {
            return ranged(e.gap.value, 10, 500, "The shortest gap", "ms", [&] { mic.shortestGap = e.gap; });
        });
    }
    Expected<void> operator()(const SetRole& e) {
        return onMic(e.mic, [&](Mic& mic) { return mic.role = e.role, done(); });
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
        for (Take& take : next.takes)
            move(take.files);
        return {};
    }
    Expected<void> operator()(const SetMicLevel& e) {
        return onMic(e.mic, [&](Mic& mic) {
            return ranged(e.level.value, -60, 12, "A level", "dB", [&] { mic.level = e.level; });
        });
    }
    Expected<void> operator()(const SetMute& e) {
        return onMic(e.mic, [&](Mic& mic) { return mic.mute = e.mute, done(); });
    }
    Expected<void> operator()(const SetSolo& e) {
        return onMic(e.mic, [&](Mic& mic) { return mic.solo = e.solo, done(); });
    }
    Expected<void> operator()(const MuteCompanion& e) {
        if (e.companion >= next.companions.size())
            return fail(ErrorKind::badValue, "There is no such companion");
        next.companions[e.companion].mute = e.mute;
        return {};
    }
    Expected<void> operator()(const ChooseTake& e) {
        if (e.take >= next.takes.size())
            return fail(ErrorKind::badValue, "There is no such take");
        next.sounding = e.take;
        return {};
    }
    Expected<void> operator()(const Correct& e) {
        (*this)(DropCorrection{e.correction.take, e.correction.at});
        const auto after = std::upper_bound(next.corrections.begin(), next.corrections.end(), e.correction,
                                            [](const auto& a, const auto& b) { return a.at < b.at; });
        next.corrections.insert(after, e.correction);
        return {};
    }
    Expected<void> operator()(const DropCorrection& e) {
        std::erase_if(next.corrections, [&](const auto& c) { return speaksOf(c, e.take, e.at); });
        return {};
    }
};

std::string minus(double value, int decimals = 1) {
    const std::string text = trimmedNumber(std::abs(value), decimals);
    return value < 0 && text != "0" ? "−" + text : text;
}

} // namespace

Expected<Session> edited(const Session& session, const Edit& edit) {
    Applier applier{session};
    if (auto applied = std::visit(applier, edit); !applied)
        return tl::unexpected(applied.error());
    return std::move(applier.next);
}

std::string describe(const Session& session, const Edit& edit) {
    const auto mic = [&](std::size_t index) {
        return index < session.mics.size() ? session.mics[index].stem : std::string("a mic");
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
                const auto section = e.section < session.sections.size() ? session.sections[e.section].name
                                                                         : std::string("a section");
                return "Grid of " + section + (e.grid ? " " + name(*e.grid) : " as the song");
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
            [&](const ChooseTake& e) {
                return "Take " + std::string(1, e.take < session.takes.size() ? session.takes[e.take].letter : '?');
            },
            [](const Correct& e) {
                switch (e.correction.kind) {
                case Correction::Kind::add:
                    return std::string("Add a hit");
                case Correction::Kind::remove:
                    return std::string("Remove a hit");
                case Correction::Kind::pin:
                    return std::string("Pin a hit as played");
                case Correction::Kind::place:
                    return std::string("Move a hit");
                }
                return std::string();
            },
            [](const DropCorrection&) { return std::string("Drop a correction"); }},
        edit);
}

} // namespace lampo
