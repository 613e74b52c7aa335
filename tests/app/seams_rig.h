#pragma once

#include "app/window_rig.h"

namespace lampo::test {

/// The real window at the stop Seams, its seams searched.
class SeamsRig : public WindowRig {
protected:
    const std::vector<Seam>& seams() { return document().outcome().plan->seams; }
    const Seam& chosen() { return seams()[*state().seam]; }
    double ms(FrameCount count) { return toMilliseconds(count, document().session().rate).value; }
    /// Chooses the first seam behind this place that can be shaped and has room to move, and fits it.
    void chooseFrom(int bar) {
        const MusicalMap map(document().session().map, document().session().rate);
        for (SeamIndex seam; seam < seams().size(); ++seam)
            if (const Seam& one = seams()[seam]; one.between && asSong(one.range.begin) > map.barStart(bar) &&
                                                 one.room.length() > toFrames(Milliseconds{60}, {48000})) {
                sheet().chooseSeams({seam}, seam);
                sheet().fitChosen();
                return;
            }
        QFAIL("no seam");
    }
    void openSeams() {
        openWindow();
        settleSeams();
        window_->goTo(Stop::seams);
    }
};

} // namespace lampo::test
