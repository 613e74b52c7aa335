#include "edits/detection_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "edits/spoken_of.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr const char* beatsOnlyTime = "Detection is set for whole bars: choose its section instead";

/// One object, so that each edit is applied to the same session.
struct DetectionEditor {
    Session& session;

    Expected<void> operator()(const SetThreshold& e) {
        return onMic(session, e.mic, [&](Mic& mic) {
            return inRange(e.level.value, limits::threshold, "A threshold").map([&] { mic.threshold = e.level; });
        });
    }
    Expected<void> operator()(const SetShortestGap& e) {
        return onMic(session, e.mic, [&](Mic& mic) {
            return inRange(e.gap.value, limits::shortestGap, "The shortest gap").map([&] {
                mic.shortestGap = e.gap;
            });
        });
    }
    Expected<void> operator()(const SetBleedJudging& e) {
        return onMic(session, e.mic, [&](Mic& mic) { return mic.judgesBleed = e.on, done(); });
    }
    Expected<void> operator()(const SetEmphasis& e) {
        for (const double weight : e.weights.value_or(BandWeights{1, 1, 1, 1}))
            if (auto fits = inRange(weight, limits::bandWeight, "A band's weight"); !fits)
                return fits;
        return onMic(session, e.mic, [&](Mic& mic) { return mic.emphasis = e.weights, done(); });
    }
    Expected<void> operator()(const SetSectionDetection& e) {
        if (e.section >= session.sections.size() || session.micNamed(e.detection.mic) == session.mics.size())
            return noSuch("section or mic");
        if (session.sections[e.section].beats)
            return refuse(beatsOnlyTime);
        const auto level = e.detection.threshold.value_or(Decibels{limits::threshold.defaultValue});
        const auto gap = e.detection.shortestGap.value_or(Milliseconds{limits::shortestGap.defaultValue});
        if (auto fits = inRange(level.value, limits::threshold, "A threshold").and_then([&] {
                return inRange(gap.value, limits::shortestGap, "The shortest gap");
            });
            !fits)
            return fits;
        auto& all = session.sections[e.section].detection;
        std::erase_if(all, [&](const auto& l) { return l.mic == e.detection.mic; });
        if (!e.detection.empty())
            all.push_back(e.detection);
        return {};
    }
    Expected<void> operator()(const SetFinest& e) {
        if (e.section && *e.section >= session.sections.size())
            return noSuch("section");
        if (e.section && session.sections[*e.section].beats)
            return refuse(beatsOnlyTime);
        if (auto fits = inRange(e.finest.value_or(Finest{}).near.value, limits::nearFinest, "Near a line"); !fits)
            return fits;
        (e.section ? session.sections[*e.section].finest : session.finest) = e.finest;
        return {};
    }
    Expected<void> operator()(const SetClusters& e) {
        return inRange(e.clusters.window.value, limits::oneHit, "The time within which strokes are one hit")
            .map([&] { session.clusters = e.clusters; });
    }
    Expected<void> operator()(const Correct& e) {
        for (const Correction& correction : e.corrections)
            correct(correction);
        return {};
    }
    Expected<void> operator()(const DeleteCorrections& e) {
        for (const TakePlace& place : e.at)
            session.corrections.eraseIf([&](const auto& c) { return speaksOf(c, place.take, place.at); });
        return {};
    }

private:
    bool speaksOf(const Correction& correction, TakeLetter take, SourceFrame at) const {
        const auto distance = (correction.at - at).frames;
        return correction.take == take && std::abs(distance) <= correctionTolerance(session.rate).frames;
    }
    static Expected<void> done() { return {}; }
    void correct(const Correction& correction) {
        bool wasAdded = false;
        session.corrections.eraseIf([&](const Correction& c) {
            const bool replaced =
                speaksOf(c, correction.take, correction.at) && aspectOf(c.kind) == aspectOf(correction.kind);
            wasAdded = wasAdded || (replaced && c.kind != Correction::Kind::remove);
            return replaced;
        });
        if (correction.kind == Correction::Kind::remove) {
            // What else was said about the hit goes with it, so that nothing is left that speaks of nothing.
            session.corrections.eraseIf(
                [&](const Correction& c) { return speaksOf(c, correction.take, correction.at); });
            if (wasAdded)
                return;
        }
        const auto after = std::upper_bound(session.corrections.begin(), session.corrections.end(), correction,
                                            [](const auto& a, const auto& b) { return a.at < b.at; });
        session.corrections.insert(after, correction);
    }
};

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

Expected<void> apply(const DetectionEdit& edit, Session& session) {
    return std::visit(DetectionEditor{session}, edit);
}

std::string describe(const Session& session, const DetectionEdit& edit) {
    return std::visit(
        Overloaded{
            [&](const SetThreshold& e) {
                return fmt::format("Threshold of {} {} dB", micName(session, e.mic), withMinus(e.level.value));
            },
            [&](const SetShortestGap& e) {
                return fmt::format("Shortest gap of {} {} ms", micName(session, e.mic),
                                   trimmedNumber(e.gap.value, 1));
            },
            [&](const SetBleedJudging& e) {
                return std::string(e.on ? "Judge bleed in " : "Do not judge bleed in ") + micName(session, e.mic);
            },
            [&](const SetEmphasis& e) {
                return fmt::format("Emphasis of {}{}", micName(session, e.mic),
                                   e.weights ? " by hand" : " by its drum");
            },
            [&](const SetSectionDetection& e) {
                return fmt::format("Detection of {} in {}", e.detection.mic, sectionName(session, e.section));
            },
            [&](const SetFinest& e) {
                return fmt::format("Finest note of {} {}",
                                   e.section ? sectionName(session, *e.section) : "the song",
                                   e.finest ? fmt::format("{}, {} ms", name(e.finest->value),
                                                          trimmedNumber(e.finest->near.value, 1))
                                            : std::string(e.section ? "as the song" : "any"));
            },
            [&](const SetClusters& e) {
                return fmt::format("One hit within {} ms, {} lands", trimmedNumber(e.clusters.window.value, 1),
                                   name(e.clusters.anchor));
            },
            [](const Correct& e) { return describe(e.corrections); },
            [](const DeleteCorrections& e) {
                return std::string(e.at.size() == 1 ? "Delete a correction" : "Delete corrections");
            }},
        edit);
}

} // namespace lampo
