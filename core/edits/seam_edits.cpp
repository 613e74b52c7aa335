#include "edits/seam_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "session/refusals.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

struct SeamEditor {
    Session& session;

    Expected<void> operator()(const SetLeadIn& e) {
        return inRange(e.time.value, limits::leadIn, "The lead-in").map([&] { session.seams.leadIn = e.time; });
    }
    Expected<void> operator()(const SetFade& e) {
        return inRange(e.time.value, limits::fade, "A fade").map([&] { session.seams.fade = e.time; });
    }
    Expected<void> operator()(const SetFill& e) {
        session.seams.fill = e.fill;
        return {};
    }
};

} // namespace

Expected<void> apply(const SeamEdit& edit, Session& session) {
    return std::visit(SeamEditor{session}, edit);
}

std::string describe(const Session&, const SeamEdit& edit) {
    return std::visit(
        Overloaded{[](const SetLeadIn& e) { return fmt::format("Lead-in {} ms", trimmedNumber(e.time.value, 1)); },
                   [](const SetFade& e) { return fmt::format("Fade {} ms", trimmedNumber(e.time.value, 1)); },
                   [](const SetFill& e) {
                       return std::string(e.fill == Fill::borrow ? "Borrow into holes" : "Leave holes open");
                   }},
        edit);
}

} // namespace lampo
