#include "edits/patch_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "session/refusals.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

struct PatchEditor {
    Session& session;

    Expected<void> operator()(const AddPatches& e) {
        if (e.patches.empty())
            return refuse("Choose a hit or a stretch to patch first");
        for (const Patch& patch : e.patches)
            lay(patch);
        return {};
    }
    Expected<void> operator()(const ChangePatches& e) {
        std::vector<std::size_t> indices;
        for (const auto& [index, patch] : e.changed)
            indices.push_back(index);
        return areThere(indices).map([&] {
            for (const auto& [index, changed] : e.changed)
                session.patches.change(index, [&changed = changed](Patch& patch) { patch = changed; });
        });
    }
    Expected<void> operator()(const DeletePatches& e) {
        if (auto there = areThere(e.indices); !there)
            return there;
        SharedList<Patch> left;
        for (std::size_t index = 0; index < session.patches.size(); ++index)
            if (std::find(e.indices.begin(), e.indices.end(), index) == e.indices.end())
                left.push_back(session.patches[index]);
        session.patches = std::move(left);
        return {};
    }
    Expected<void> operator()(const SwitchPatches& e) {
        return onThose(e.indices, [&](Patch& patch) { patch.on = e.on; });
    }

private:
    void lay(const Patch& patch) {
        for (std::size_t index = 0; index < session.patches.size(); ++index)
            if (session.patches[index].hasSameTarget(patch))
                return session.patches.change(index, [&](Patch& other) { other = patch; });
        session.patches.push_back(patch);
    }
    Expected<void> areThere(const std::vector<std::size_t>& indices) const {
        if (indices.empty())
            return refuse("Choose a patch first");
        const bool all = std::all_of(indices.begin(), indices.end(),
                                     [&](std::size_t index) { return index < session.patches.size(); });
        return all ? Expected<void>{} : noSuch("patch");
    }
    template <class Change>
    Expected<void> onThose(const std::vector<std::size_t>& indices, Change&& change) {
        return areThere(indices).map([&] {
            for (const std::size_t index : indices)
                session.patches.change(index, change);
        });
    }
};

std::string counted(const std::vector<std::size_t>& indices) {
    return indices.size() == 1 ? std::string("a patch") : lampo::counted(std::ssize(indices), "patch", "patches");
}

/// "Replace a stroke", "Silence a stretch".
std::string nameOf(const Patch& patch) {
    constexpr EnumNames<PatchKind, PatchKind::seam> does{"Replace", "Shift", "Level", "Silence", "Borrow", "Join"};
    return fmt::format("{} {} of {}{}", does.of(patch.kind), patch.ofHit ? "a stroke" : "a stretch",
                       patch.mics.size() == 1 ? patch.mics.front() : lampo::counted(std::ssize(patch.mics), "mic"),
                       patch.kind == PatchKind::seam ? " elsewhere" : "");
}

} // namespace

Expected<void> apply(const PatchEdit& edit, Session& session) {
    return std::visit(PatchEditor{session}, edit);
}

std::string describe(const Session&, const PatchEdit& edit) {
    return std::visit(Overloaded{[](const AddPatches& e) {
                                     return e.patches.size() == 1 ? nameOf(e.patches.front())
                                                                  : fmt::format("Add {} patches", e.patches.size());
                                 },
                                 [](const ChangePatches& e) {
                                     return e.changed.size() == 1
                                                ? nameOf(e.changed.front().second)
                                                : fmt::format("Change {} patches", e.changed.size());
                                 },
                                 [](const DeletePatches& e) { return "Delete " + counted(e.indices); },
                                 [](const SwitchPatches& e) {
                                     return fmt::format("Switch {} {}", counted(e.indices), e.on ? "on" : "off");
                                 }},
                      edit);
}

} // namespace lampo
