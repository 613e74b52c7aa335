#include "chain/kit_check.h"

namespace lampo {

KitCheck checkKit(const Session& session, const Analyses& analyses, const Progress& progress) {
    if (session.empty())
        return {};
    const auto heard = analyses.of(session, session.take());
    std::vector<const MicAnalysis*> perMic;
    for (const auto& analysis : heard)
        perMic.push_back(analysis.get());
    auto polarity = comparePolarity(session, session.take(), perMic, progress);
    return {falseStarts(session, perMic), polarity ? std::move(*polarity) : std::vector<PolarityPair>{}};
}

SetOffsets startingTogether(const Session& session, const KitCheck& check) {
    SetOffsets edit{session.sounding, std::vector<std::optional<FrameCount>>(session.mics.size())};
    for (const FalseStart& start : check.starts)
        edit.offsets[start.mic] = session.take().files[start.mic].offset - start.late;
    return edit;
}

} // namespace lampo
