#include "session/session.h"

#include <algorithm>
#include <limits>

namespace lampo {

Decibels defaultThreshold(const std::vector<Mic>& mics, Role role) {
    const bool metalIsHeard = std::any_of(
        mics.begin(), mics.end(), [](const Mic& mic) { return isMetal(mic.role) || mic.role == Role::overhead; });
    if (role == Role::snare && metalIsHeard)
        return {-30};
    return role == Role::tom ? Decibels{-21} : Mic{}.threshold;
}

const SectionDetection* Section::detectionOf(const std::string& mic) const {
    const auto found =
        std::find_if(detection.begin(), detection.end(), [&](const auto& l) { return l.mic == mic; });
    return found == detection.end() ? nullptr : &*found;
}

bool comesBefore(const Section& a, const Section& b) {
    const auto place = [](const Section& s) { return std::pair(s.firstBar, s.beats ? s.beats->first : 0); };
    return place(a) < place(b);
}

bool overlap(const Section& a, const Section& b) {
    if (a.beats.has_value() != b.beats.has_value())
        return false;
    if (a.beats)
        return a.firstBar == b.firstBar && a.beats->first < b.beats->first + b.beats->count &&
               b.beats->first < a.beats->first + a.beats->count;
    return a.firstBar < b.firstBar + b.bars && b.firstBar < a.firstBar + a.bars;
}

std::vector<Section> withBorderMoved(std::vector<Section> sections, int from, int to) {
    int low = std::numeric_limits<int>::min(), high = std::numeric_limits<int>::max();
    for (const Section& section : sections) {
        if (section.beats)
            continue;
        const int end = section.firstBar + section.bars;
        if (end == from)
            low = std::max(low, section.firstBar + 1);
        else if (end < from)
            low = std::max(low, end);
        if (section.firstBar == from)
            high = std::min(high, end - 1);
        else if (section.firstBar > from)
            high = std::min(high, section.firstBar);
    }
    to = std::clamp(to, low, high);
    for (Section& section : sections) {
        if (section.beats)
            continue;
        const int end = section.firstBar + section.bars;
        if (section.firstBar == from) {
            section.firstBar = to;
            section.bars = end - to;
        } else if (end == from) {
            section.bars = to - section.firstBar;
        }
    }
    return sections;
}

std::vector<Section> withSplit(std::vector<Section> sections, int bar) {
    for (std::size_t i = 0; i < sections.size(); ++i) {
        Section& first = sections[i];
        if (first.beats || bar <= first.firstBar || bar >= first.firstBar + first.bars)
            continue;
        Section second = first;
        second.name += " 2";
        second.firstBar = bar;
        second.bars = first.firstBar + first.bars - bar;
        first.bars = bar - first.firstBar;
        sections.push_back(std::move(second));
        break;
    }
    std::stable_sort(sections.begin(), sections.end(), comesBefore);
    return sections;
}

Range<SongFrame> rangeOf(const Section& section, const MusicalMap& map) {
    if (!section.beats)
        return {map.barStart(section.firstBar), map.barStart(section.firstBar + section.bars)};
    const auto beat = [&](int number) {
        const bool beyond = number > map.meterOf(section.firstBar).beats;
        return beyond ? map.barStart(section.firstBar + 1)
                      : map.at(BarBeat{section.firstBar, static_cast<double>(number)});
    };
    return {beat(section.beats->first), beat(section.beats->first + section.beats->count)};
}

std::vector<Section> withSection(const std::vector<Section>& sections, const Section& added) {
    const int end = added.firstBar + added.bars;
    std::vector<Section> all{added};
    for (const Section& section : sections) {
        if (!overlap(section, added)) {
            all.push_back(section);
            continue;
        }
        if (added.beats)
            continue;
        const int sectionEnd = section.firstBar + section.bars;
        if (section.firstBar < added.firstBar) {
            all.push_back(section);
            all.back().bars = added.firstBar - section.firstBar;
        }
        if (sectionEnd > end) {
            all.push_back(section);
            all.back().firstBar = end;
            all.back().bars = sectionEnd - end;
        }
    }
    std::stable_sort(all.begin(), all.end(), comesBefore);
    return all;
}

const Section* Session::sectionOf(int bar) const {
    const auto found =
        std::find_if(sections.begin(), sections.end(), [&](const auto& s) { return !s.beats && s.holds(bar); });
    return found == sections.end() ? nullptr : &*found;
}

namespace {

TimingSettings overlaid(TimingSettings ruling, const Section* section) {
    if (!section)
        return ruling;
    ruling.grid = section->grid.value_or(ruling.grid);
    ruling.strength = section->strength.value_or(ruling.strength);
    ruling.swing = section->swing.value_or(ruling.swing);
    ruling.pocket = section->pocket.value_or(ruling.pocket);
    ruling.pull = section->pull.value_or(ruling.pull);
    ruling.reach = section->reach ? section->reach : ruling.reach;
    ruling.drumTimings = section->drumTimings.value_or(ruling.drumTimings);
    if (section->feel)
        ruling.feel = *section->feel;
    return ruling;
}

} // namespace

TimingSettings Session::timingOf(int bar) const {
    return overlaid(timing, sectionOf(bar));
}

TimingSettings Session::timingAt(BarBeat place) const {
    const auto beats = std::find_if(sections.begin(), sections.end(),
                                    [&](const auto& s) { return s.beats && s.holds(place.bar, place.beat); });
    return overlaid(timingOf(place.bar), beats == sections.end() ? nullptr : &*beats);
}

TimingSettings Session::timingIn(const Section& section) const {
    return overlaid(timingOf(section.firstBar), &section);
}

SeamSettings Session::seamsIn(const Section& section) const {
    SeamSettings ruling = seams;
    const auto lay = [&](const Section& over) {
        ruling.leadIn = over.leadIn.value_or(ruling.leadIn);
        ruling.fill = over.fill.value_or(ruling.fill);
    };
    if (const Section* around = section.beats ? sectionOf(section.firstBar) : nullptr)
        lay(*around);
    lay(section);
    return ruling;
}

const Finest* Session::finestOf(int bar) const {
    const Section* section = sectionOf(bar);
    return section && section->finest ? &*section->finest : finest ? &*finest : nullptr;
}

const Feel* Session::feelNamed(const std::string& name) const {
    const auto found =
        std::find_if(feels.begin(), feels.end(), [&](const Feel& kept) { return kept.name == name; });
    return found == feels.end() ? nullptr : &*found;
}

bool Session::usesFeel() const {
    return !timing.feel.straight() || std::any_of(sections.begin(), sections.end(), [](const Section& section) {
        return section.feel && !section.feel->straight();
    });
}

std::optional<MicIndex> Session::micNamed(const std::string& stem) const {
    for (MicIndex mic; mic < mics.size(); ++mic)
        if (mics[mic].stem == stem)
            return mic;
    return std::nullopt;
}

TakeIndex Session::lead() const {
    for (const Passage& passage : comp.passages)
        if (passage.take)
            return *passage.take;
    return {};
}

std::optional<TakeIndex> Session::takeLettered(TakeLetter letter) const {
    for (TakeIndex take; take < takes.size(); ++take)
        if (takes[take].letter == letter)
            return take;
    return std::nullopt;
}

bool Session::sounds(TakeIndex take) const {
    return std::any_of(comp.passages.begin(), comp.passages.end(),
                       [&](const Passage& passage) { return passage.take == take; });
}

int Session::marksOf(TakeLetter take, int bar) const {
    const auto found = std::find_if(ratings.begin(), ratings.end(),
                                    [&](const Rating& r) { return r.take == take && r.bar == bar; });
    return found == ratings.end() ? 0 : found->marks;
}

FrameCount Session::length() const {
    if (empty())
        return {};
    const Passage& last = comp.passages.back();
    const FrameCount begin = last.begin - SongFrame{0};
    if (!last.take)
        return begin;
    const FrameCount moved = last.graft ? *last.graft : form.back().moved.value_or(FrameCount{});
    return std::max(begin, takes[*last.take].start + takes[*last.take].length + moved);
}

FrameCount Session::extent() const {
    FrameCount longest = length();
    for (const Take& each : takes)
        longest = std::max(longest, each.start + each.length + form.back().moved.value_or(FrameCount{}));
    return longest;
}

bool Version::operator==(const Version& other) const {
    return name == other.name && kept == other.kept && print == other.print &&
           (session == other.session || *session == *other.session);
}

} // namespace lampo
