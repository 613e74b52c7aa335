#pragma once

#include "edits/edit.h"
#include "session/bars.h"

#include <random>

namespace lampo::test {

/// Often one that is refused.
inline Patch randomPatch(std::mt19937& random) {
    const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
    const auto real = [&](double low, double high) { return std::uniform_real_distribution<>(low, high)(random); };
    Patch patch;
    patch.kind = static_cast<PatchKind>(whole(0, 5));
    patch.mics = whole(0, 4) ? std::vector<std::string>{"kick"} : std::vector<std::string>{"kick", "gong"};
    patch.at = {whole(0, 5) ? 'A' : 'Q', SourceFrame{whole(-99, 99999)}};
    patch.ofHit = whole(0, 1) == 1;
    patch.before = FrameCount{whole(-99, 999)};
    patch.length = FrameCount{whole(-1, 9999)};
    patch.fadeIn = {real(0.05, 60)};
    patch.gain = {real(-62, 25)};
    patch.shift = FrameCount{whole(-99, 99)};
    if (whole(0, 2) == 0)
        patch.from = TakePlace{'A', SourceFrame{whole(0, 999)}};
    patch.on = whole(0, 3) > 0;
    return patch;
}

/// Of a session of four mics; often one that is refused.
inline Edit randomEdit(std::mt19937& random) {
    const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
    const auto real = [&](double low, double high) { return std::uniform_real_distribution<>(low, high)(random); };
    const auto mic = static_cast<std::size_t>(whole(0, 4)); // 4 does not exist
    const auto range = [&] {
        const SongFrame begin{whole(-100, 480000)};
        return Range<SongFrame>{begin, begin + FrameCount{whole(0, 200000)}};
    };
    switch (whole(0, 55)) {
    case 55: {
        DrumSample sample{whole(0, 3) ? "thud" : "kick", whole(0, 5) ? "kick" : "gong", {}, {real(-70, 20)}};
        for (int layer = whole(0, 2); layer >= 0; --layer)
            sample.layers.push_back(
                {{real(-70, 30)}, {SourceFile("/one shots/thud.wav", 0, FrameCount{whole(-99, 99)})}});
        sample.inverted = whole(0, 1) == 1;
        sample.later = FrameCount{whole(-99, 99)};
        sample.on = whole(0, 2) > 0;
        return SampleEdit{PutSample{whole(0, 2) ? std::nullopt : std::optional<std::size_t>(whole(0, 2)), sample}};
    }
    case 54:
        return whole(0, 2) ? Edit{SampleEdit{SaySampleHits{
                                 static_cast<std::size_t>(whole(0, 1)),
                                 {{{'A', SourceFrame{whole(0, 9)}}, whole(0, 1) == 1, Decibels{real(-70, 30)}}}}}}
                           : Edit{SampleEdit{DeleteSample{static_cast<std::size_t>(whole(0, 2))}}};
    case 53:
        return MidiEdit{
            SetMidiKey{whole(0, 4) ? "kick" : "gong", whole(0, 3) ? std::optional(whole(-3, 140)) : std::nullopt}};
    case 52:
        return MidiEdit{SetVelocityCurve{{real(-2, 140), real(0.2, 9)}}};
    case 51:
        return ProofEdit{{{static_cast<ProofKind>(whole(0, 14)), static_cast<std::uint64_t>(whole(0, 3)),
                           static_cast<ProofState>(whole(0, 2)), whole(0, 1) ? "look again" : ""}}};
    case 50:
        return SetFarShift{{real(0, 60)}};
    case 44:
        return SetSectionLeadIn{static_cast<std::size_t>(whole(0, 2)),
                                whole(0, 1) ? std::optional(Milliseconds{real(-1, 60)}) : std::nullopt};
    case 45:
        return SetSectionFill{static_cast<std::size_t>(whole(0, 2)),
                              whole(0, 2) ? std::optional(static_cast<Fill>(whole(0, 2))) : std::nullopt};
    case 46:
        return SetMostStretch{real(0.9, 9)};
    case 47:
        return AddPatches{{randomPatch(random)}};
    case 48:
        return ChangePatches{{{static_cast<std::size_t>(whole(0, 3)), randomPatch(random)}}};
    case 49:
        return whole(0, 1)
                   ? Edit{PatchEdit{DeletePatches{{static_cast<std::size_t>(whole(0, 3))}}}}
                   : Edit{PatchEdit{SwitchPatches{{static_cast<std::size_t>(whole(0, 3))}, whole(0, 1) == 1}}};
    case 42:
        return SetFadeCurve{static_cast<FadeCurve>(whole(0, 3))};
    case 43: {
        SeamByHand seam{{'A', SourceFrame{whole(0, 3) * 1000}, SourceFrame{whole(4, 6) * 1000}}, {}, {}, {}, {}};
        if (whole(0, 1))
            seam.ahead = FrameCount{whole(-100, 3000)};
        if (whole(0, 2) == 0)
            seam.fade = Milliseconds{real(0, 60)};
        if (whole(0, 2) == 0)
            seam.curve = static_cast<FadeCurve>(whole(0, 3));
        if (whole(0, 2) == 0)
            seam.fill = Fill::open;
        return ShapeSeams{{seam}};
    }
    case 0:
        return SetTempo{{real(5, 1200)}};
    case 1:
        return SetMeter{{whole(0, 33), 1 << whole(0, 6)}};
    case 2:
        return SetOrigin{SongFrame{whole(-9999, 9999)}};
    case 3:
        return SetGrid{{1, whole(1, 48)}};
    case 4:
        return SetStrength{real(-10, 110)};
    case 5:
        return SetLeadIn{{real(-1, 60)}};
    case 6:
        return SetFade{{real(0, 60)}};
    case 7:
        return SetFill{static_cast<Fill>(whole(0, 2))};
    case 8:
        return SetGuide{mic, whole(0, 1) == 1};
    case 9:
        return SetThreshold{mic, {real(-70, 5)}};
    case 10:
        return MoveMic{mic, static_cast<std::size_t>(whole(0, 4))};
    case 11:
        return ChooseTake{static_cast<std::size_t>(whole(0, 2))};
    case 12:
        return SetRole{mic, allRoles[whole(0, 7)]};
    case 13:
        return SetSolo{mic, whole(0, 1) == 1};
    case 14:
        return DeleteCorrections{{{'A', SourceFrame{whole(0, 9999)}}}};
    case 15:
        return SetBleedJudging{mic, whole(0, 1) == 1};
    case 16:
        return SetEmphasis{mic, whole(0, 1) ? std::optional(BandWeights{real(0, 1), 0.5, 1, real(0.05, 1.2)})
                                            : std::nullopt};
    case 17:
        return SetSectionDetection{static_cast<std::size_t>(whole(0, 1)),
                                   {whole(0, 5) ? "kick" : "gong", Decibels{real(-70, 5)}, {}, whole(0, 1) == 1}};
    case 18:
        return SetFinest{whole(0, 1) ? std::optional<std::size_t>(whole(0, 1)) : std::nullopt,
                         Finest{{1, 8}, {real(0, 600)}}};
    case 19:
        return SetLabel{mic, whole(0, 1) ? "Boom" : ""};
    case 20:
        return SetGroup{mic, whole(0, 1) ? "pair" : "", whole(0, 1) == 1};
    case 21:
        return SetOffsets{static_cast<std::size_t>(whole(0, 2)), {FrameCount{whole(-99, 99)}, {}, {}, {}}};
    case 22:
        return ArrangeKit{kitOf({"tom 1", "gong", "kick"})};
    case 23:
    case 24:
    case 25:
        return Lay{range(),
                   whole(0, 3) ? std::optional(TakeIndex{static_cast<std::size_t>(whole(0, 2))}) : std::nullopt,
                   whole(0, 2) ? std::nullopt : std::optional(FrameCount{whole(-99999, 99999)})};
    case 26:
        return MoveBorder{static_cast<std::size_t>(whole(0, 5)), SongFrame{whole(0, 480000)}};
    case 27:
        return SetBorderFade{SongFrame{whole(0, 480000)}, Milliseconds{real(0, 600)}};
    case 28:
        return InsertBars{whole(0, 6), whole(0, 2)};
    case 29:
        return RepeatBars{whole(0, 6), whole(0, 2)};
    case 30:
        return DeleteBars{whole(0, 6), whole(0, 2)};
    case 31:
        return SetTakeStart{static_cast<std::size_t>(whole(0, 2)), FrameCount{whole(-9999, 9999)}};
    case 32:
        return Rate{whole(0, 1) ? 'A' : 'C', whole(-1, 9), whole(0, 3), whole(-1, 4)};
    case 33:
        return KeepTry{range()};
    case 34:
        return LayTry{static_cast<std::size_t>(whole(0, 3))};
    case 35:
        return DeleteTry{static_cast<std::size_t>(whole(0, 9))};
    case 36:
        return KeepVersion{whole(0, 3) ? "rough" : "", "", {}};
    case 37:
        return RestoreVersion{static_cast<std::size_t>(whole(0, 3))};
    case 38:
        return DeleteVersion{static_cast<std::size_t>(whole(0, 20))};
    case 39:
        return SetClusters{{{real(-10, 110)}, static_cast<Anchor>(whole(0, 2))}};
    default:
        return Correct{{static_cast<Correction::Kind>(whole(0, correctionKinds - 1)), 'A',
                        SourceFrame{whole(0, 99999)}, FrameCount{whole(0, 99999)}, Voice::snare}};
    }
}

} // namespace lampo::test
