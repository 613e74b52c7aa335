#include "kit/kit_check.h"

namespace lampo {

KitCheck checkKit(const Session& session, TakeIndex take, const Analyses& analyses, const Progress& progress) {
    const auto heard = analyses.of(session, session.takes[take]);
    std::vector<const MicAnalysis*> perMic;
    perMic.reserve(heard.size());
    for (const auto& analysis : heard)
        perMic.push_back(analysis.get());
    auto polarity = comparePolarity(session, session.takes[take], perMic, progress);
    return {take, falseStarts(session, perMic), polarity ? std::move(*polarity) : std::vector<PolarityPair>{}};
}

SetOffsets startTogetherEdit(const Session& session, const KitCheck& check) {
    SetOffsets edit{check.take, std::vector<std::optional<FrameCount>>(session.mics.size())};
    for (const FalseStart& start : check.starts)
        edit.offsets[start.mic] = session.takes[check.take].files[start.mic].offset - start.late;
    return edit;
}

} // namespace lampo
