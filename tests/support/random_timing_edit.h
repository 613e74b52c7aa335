#pragma once

#include "edits/edit.h"

#include <random>

namespace lampo::test {

/// Any edit of map, sections, timing, feel or by hand, often one that is refused. Places lie in ten seconds at 48
/// kHz.
inline Edit randomTimingEdit(std::mt19937& random) {
    const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
    const auto real = [&](double low, double high) { return std::uniform_real_distribution<>(low, high)(random); };
    const auto section =
        whole(0, 1) ? std::optional<std::size_t>(static_cast<std::size_t>(whole(0, 2))) : std::nullopt;
    const char take = static_cast<char>('A' + whole(0, 2));
    const SourceFrame begin{whole(0, 400000)};
    const Range<SourceFrame> range{begin, begin + FrameCount{whole(-10, 100000)}};
    const std::string name = whole(0, 1) ? "lean" : "drag";
    switch (whole(0, 19)) {
    case 0:
        return SetSwing{section, real(45, 80)};
    case 1:
        return SetPocket{section, Milliseconds{real(-5, 110)}};
    case 2:
        return SetPull{section, whole(0, 1) ? Pull::toEdge : Pull::toLine};
    case 3:
        return SetReach{section, Reach{real(-1, 5), whole(0, 1) == 1}};
    case 4:
        return SetDrumTiming{section, static_cast<Voice>(whole(0, 5)), static_cast<DrumTiming>(whole(0, 2))};
    case 5:
        return SetAssign{whole(0, 1) ? Assign::path : Assign::nearest};
    case 6:
        return SetMap{{SongFrame{whole(-9999, 9999)},
                       {{1, {whole(0, 16), 4}}, {whole(1, 4), {whole(1, 7), 8}}},
                       {{1, {real(5, 300)}, whole(0, 1) == 1},
                        {whole(1, 6), {real(60, 200)}, whole(0, 1) == 1, whole(0, 1) ? 1.0 : real(0, 6)}}},
                      "map"};
    case 7: {
        Section one{"Mole", whole(1, 4), whole(0, 3), NoteValue{1, 12}, {}};
        if (whole(0, 2) == 0)
            one.beats = BeatRange{whole(0, 4), whole(0, 2)};
        return SetSections{{one, {"Quay", whole(4, 6), 2, {}, 50.0}}, "sections"};
    }
    case 8:
        return SetSectionStrength{static_cast<std::size_t>(whole(0, 2)), real(-10, 110)};
    case 9:
        return MakePhrase{{take, range.begin, range.end, real(-10, 110)}};
    case 10:
        return DeletePhrase{static_cast<std::size_t>(whole(0, 1))};
    case 11:
        return Shove{{take, range, FrameCount{whole(-20000, 20000)}}};
    case 12:
        return Slip{{take, range, FrameCount{whole(-2000, 2000)}}};
    case 13:
        return ClearByHand{take, range};
    case 14:
        return KeepFeel{feelOf(name, 4, std::vector<FeltHit>{{0, real(-0.2, 0.2), {}}, {2, real(-0.2, 0.2), {}}})};
    case 15:
        return RenameFeel{name, whole(0, 1) ? "lean" : ""};
    case 16:
        return DeleteFeel{name};
    case 17:
        return UseFeel{section, whole(0, 2) ? std::optional(FeelUse{name, real(-10, 110)}) : std::nullopt};
    case 18:
        return FollowCompanion{whole(0, 2) ? std::optional(CompanionLines{"bass", {real(0, 210)}, {-24}})
                                           : std::nullopt};
    default: {
        Correction line{Correction::Kind::line, take, begin};
        line.moved = FrameCount{whole(-9000, 9000)};
        return Correct{line};
    }
    }
}

} // namespace lampo::test
