#include "session/session.h"

#include <algorithm>

namespace lampo {

const SectionListening* Section::listeningOf(const std::string& mic) const {
    const auto found =
        std::find_if(listening.begin(), listening.end(), [&](const auto& l) { return l.mic == mic; });
    return found == listening.end() ? nullptr : &*found;
}

const Section* Session::sectionOf(int bar) const {
    const auto found = std::find_if(sections.begin(), sections.end(), [&](const auto& s) { return s.holds(bar); });
    return found == sections.end() ? nullptr : &*found;
}

NoteValue Session::gridOf(int bar) const {
    const Section* section = sectionOf(bar);
    return section && section->grid ? *section->grid : timing.grid;
}

double Session::strengthOf(int bar) const {
    const Section* section = sectionOf(bar);
    return section && section->strength ? *section->strength : timing.strength;
}

const Finest* Session::finestOf(int bar) const {
    const Section* section = sectionOf(bar);
    return section && section->finest ? &*section->finest : finest ? &*finest : nullptr;
}

std::size_t Session::micNamed(const std::string& stem) const {
    const auto found = std::find_if(mics.begin(), mics.end(), [&](const auto& mic) { return mic.stem == stem; });
    return static_cast<std::size_t>(found - mics.begin());
}

FrameCount Session::length() const {
    return empty() ? FrameCount{} : take().start + take().length;
}

} // namespace lampo
