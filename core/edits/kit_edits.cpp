#include "edits/kit_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "edits/spoken_of.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

FrameCount lengthOf(const Take& take) {
    FrameCount length{1};
    for (const SourceFile& file : take.files)
        if (!file.empty())
            length = std::max(length, file.end() - SourceFrame{0});
    return length;
}

/// One object, so that each edit is applied to the same session.
struct KitEditor {
    Session& session;

    Expected<void> operator()(const SetGuide& e) {
        return onMic(session, e.mic, [&](Mic& mic) { return mic.guide = e.guide, done(); });
    }
    Expected<void> operator()(const SetLabel& e) {
        return onMic(session, e.mic,
                     [&](Mic& mic) { return mic.label = e.label == mic.stem ? "" : e.label, done(); });
    }
    Expected<void> operator()(const SetGroup& e) {
        return onMic(session, e.mic, [&](Mic& mic) {
            mic.group = e.group;
            mic.linked = e.linked && !e.group.empty();
            return done();
        });
    }
    Expected<void> operator()(const SetOffsets& e) {
        if (e.take >= session.takes.size() || e.offsets.size() != session.mics.size())
            return noSuch("take");
        Take& take = session.takes[e.take];
        for (MicIndex mic; mic < e.offsets.size(); ++mic)
            if (e.offsets[mic])
                take.files.change(mic, [&](SourceFile& file) { file.offset = *e.offsets[mic]; });
        take.length = lengthOf(take);
        return {};
    }
    Expected<void> operator()(const ArrangeKit& e) {
        MicIndex place;
        for (const Mic& wanted : e.mics) {
            const auto from = session.micNamed(wanted.stem);
            if (!from || *from < place)
                continue;
            (void)(*this)(MoveMic{*from, place});
            session.mics[place] = wanted;
            ++place;
        }
        return {};
    }
    Expected<void> operator()(const SetRole& e) {
        return onMic(session, e.mic, [&](Mic& mic) {
            const bool nobodySetIt = mic.threshold == defaultThreshold(session.mics, mic.role);
            mic.role = e.role;
            if (nobodySetIt)
                mic.threshold = defaultThreshold(session.mics, e.role);
            return done();
        });
    }
    Expected<void> operator()(const MoveMic& e) {
        if (e.from >= session.mics.size() || e.to >= session.mics.size())
            return noSuch("mic");
        const auto move = [&](auto& list) {
            const auto first = list.begin() + static_cast<std::ptrdiff_t>(std::min(e.from, e.to));
            const auto last = list.begin() + static_cast<std::ptrdiff_t>(std::max(e.from, e.to)) + 1;
            std::rotate(first, e.from < e.to ? first + 1 : last - 1, last);
        };
        move(session.mics);
        for (Take& take : session.takes) {
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
        if (e.companion >= session.companions.size())
            return noSuch("companion");
        session.companions[e.companion].mute = e.mute;
        return {};
    }

private:
    Expected<void> onLinked(MicIndex index, auto&& change) {
        return onMic(session, index, [&](Mic& mic) {
            change(mic);
            for (Mic& other : session.mics)
                if (mic.linked && other.linked && other.group == mic.group)
                    change(other);
            return done();
        });
    }
    static Expected<void> done() { return {}; }
};

} // namespace

Expected<void> apply(const KitEdit& edit, Session& session) {
    return std::visit(KitEditor{session}, edit);
}

std::string describe(const Session& session, const KitEdit& edit) {
    return std::visit(
        Overloaded{[&](const SetGuide& e) { return micName(session, e.mic) + (e.guide ? " guides" : " follows"); },
                   [&](const SetLabel& e) { return fmt::format("Call {} {}", micName(session, e.mic), e.label); },
                   [&](const SetGroup& e) {
                       return e.group.empty() ? micName(session, e.mic) + " stands alone"
                                              : fmt::format("{} belongs to {}", micName(session, e.mic), e.group);
                   },
                   [&](const SetOffsets& e) { return "Start of files in " + takeName(session, e.take); },
                   [](const ArrangeKit&) { return std::string("Kit as kept"); },
                   [&](const SetRole& e) { return fmt::format("{} is {}", micName(session, e.mic), name(e.role)); },
                   [&](const MoveMic& e) { return "Move " + micName(session, e.from); },
                   [&](const SetMicLevel& e) {
                       return fmt::format("Level of {} {} dB", micName(session, e.mic), withMinus(e.level.value));
                   },
                   [&](const SetMute& e) { return (e.mute ? "Mute " : "Unmute ") + micName(session, e.mic); },
                   [&](const SetSolo& e) { return (e.solo ? "Solo " : "No solo of ") + micName(session, e.mic); },
                   [&](const MuteCompanion& e) {
                       const auto companion = e.companion < session.companions.size()
                                                  ? session.companions[e.companion].name
                                                  : std::string("a companion");
                       return (e.mute ? "Mute " : "Unmute ") + companion;
                   }},
        edit);
}

} // namespace lampo
