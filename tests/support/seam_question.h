#pragma once

#include "seams/seam_answers.h"

namespace lampo::test {

/// A seam of two slices of one take, 200 frames apart.
inline SeamQuestion aSeamQuestion() {
    return {{},
            {},
            SourceToResult{FrameCount{100}},
            SourceToResult{FrameCount{300}},
            {{ResultFrame{5000}, ResultFrame{9000}}},
            {ResultFrame{8000}, ResultFrame{8288}},
            FrameCount{48},
            FrameCount{288}};
}

} // namespace lampo::test
