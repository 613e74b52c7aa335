#include "edits/seam_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "edits/spoken_of.h"

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
    Expected<void> operator()(const SetFadeCurve& e) {
        session.seams.curve = e.curve;
        return {};
    }
    Expected<void> operator()(const SetSectionLeadIn& e) {
        if (auto fits = inRange(e.time.value_or(session.seams.leadIn).value, limits::leadIn, "The lead-in"); !fits)
            return fits;
        return inSection(e.section, &Section::leadIn, e.time);
    }
    Expected<void> operator()(const SetSectionFill& e) { return inSection(e.section, &Section::fill, e.fill); }
    Expected<void> operator()(const SetMostStretch& e) {
        return inRange(e.times, limits::stretch, "The longest stretch").map([&] {
            session.seams.mostStretch = e.times;
        });
    }
    Expected<void> operator()(const SetFarShift& e) {
        return inRange(e.time.value, limits::farShift, "The farthest shift").map([&] {
            session.seams.farShift = e.time;
        });
    }
    template <class Value>
    Expected<void> inSection(std::size_t section, std::optional<Value> Section::*own,
                             const std::optional<Value>& value) {
        if (section >= session.sections.size())
            return noSuch("section");
        session.sections[section].*own = value;
        return {};
    }
    Expected<void> operator()(const ShapeSeams& e) {
        if (e.seams.empty())
            return refuse("Choose a seam first");
        for (const SeamByHand& seam : e.seams)
            if (auto fit = inRange(seam.fade.value_or(session.seams.fade).value, limits::fade, "A fade"); !fit)
                return fit;
        for (const SeamByHand& seam : e.seams)
            session.seamsByHand = withSeam(std::move(session.seamsByHand), seam);
        return {};
    }
};

} // namespace

Expected<void> apply(const SeamEdit& edit, Session& session) {
    return std::visit(SeamEditor{session}, edit);
}

std::string describe(const Session& session, const SeamEdit& edit) {
    return std::visit(
        Overloaded{[](const SetLeadIn& e) { return fmt::format("Lead-in {} ms", trimmedNumber(e.time.value, 1)); },
                   [](const SetFade& e) { return fmt::format("Fade {} ms", trimmedNumber(e.time.value, 1)); },
                   [](const SetFill& e) { return fmt::format("Holes are {}", whatBecomes(e.fill)); },
                   [](const SetFadeCurve& e) { return fmt::format("Curve of fades {}", name(e.curve)); },
                   [&](const SetSectionLeadIn& e) {
                       return e.time ? fmt::format("Lead-in {} ms in {}", trimmedNumber(e.time->value, 1),
                                                   sectionName(session, e.section))
                                     : fmt::format("Lead-in in {} as in the song", sectionName(session, e.section));
                   },
                   [&](const SetSectionFill& e) {
                       return e.fill ? fmt::format("Holes in {} are {}", sectionName(session, e.section),
                                                   whatBecomes(*e.fill))
                                     : fmt::format("Holes in {} as in the song", sectionName(session, e.section));
                   },
                   [](const SetMostStretch& e) {
                       return fmt::format("Mark tails stretched above {} times", trimmedNumber(e.times, 2));
                   },
                   [](const SetFarShift& e) {
                       return fmt::format("Warn of shifts above {} ms", trimmedNumber(e.time.value, 1));
                   },
                   [](const ShapeSeams& e) {
                       const bool reset = std::all_of(e.seams.begin(), e.seams.end(),
                                                      [](const SeamByHand& seam) { return seam.empty(); });
                       const auto count = std::ssize(e.seams);
                       return std::string(reset ? "Reset " : "Shape ") +
                              (count == 1 ? std::string("a seam") : counted(count, "seam"));
                   }},
        edit);
}

} // namespace lampo
