#include "advice/seam_shapes.h"

#include "base/limits.h"

#include <algorithm>

namespace lampo {
namespace {

Milliseconds fadeOf(FrameCount length, SampleRate rate) {
    return {std::clamp(toMilliseconds(length, rate).value, limits::fade.low, limits::fade.high)};
}

} // namespace

ShapeSeams shaped(const Session& session, std::span<const Seam> seams,
                  const std::function<void(const Seam& seam, SeamByHand& said)>& change) {
    ShapeSeams edit;
    for (const Seam& seam : seams) {
        if (!canBeShaped(seam))
            continue;
        const SeamByHand* said = saidAbout(session.seamsByHand, *seam.between, correctionTolerance(session.rate));
        SeamByHand next = said ? *said : SeamByHand{*seam.between, {}, {}, {}, {}};
        change(seam, next);
        edit.seams.push_back(next);
    }
    return edit;
}

ShapeSeams movedSeams(const Session& session, std::span<const Seam> seams, FrameCount later) {
    return shaped(session, seams, [&](const Seam& seam, SeamByHand& said) {
        said.ahead = seam.ahead - later;
        said.fade = fadeOf(seam.range.length(), session.rate);
    });
}

ShapeSeams begunLater(const Session& session, std::span<const Seam> seams, FrameCount later) {
    return shaped(session, seams, [&](const Seam& seam, SeamByHand& said) {
        said.ahead = seam.ahead;
        said.fade = fadeOf(seam.range.length() - later, session.rate);
    });
}

ShapeSeams endedLater(const Session& session, std::span<const Seam> seams, FrameCount later) {
    return shaped(session, seams, [&](const Seam& seam, SeamByHand& said) {
        said.fade = fadeOf(seam.range.length() + later, session.rate);
        said.ahead = seam.ahead - later;
    });
}

ShapeSeams resetSeams(const Session& session, std::span<const Seam> seams) {
    return shaped(session, seams, [](const Seam&, SeamByHand& said) { said = {said.between, {}, {}, {}, {}}; });
}

} // namespace lampo
