#include "support/ears.h"

#include "edits/edit.h"
#include "import/folder_import.h"
#include "onsets/band_energies.h"
#include "seam_search/seam_search.h"
#include "support/aubio_onsets.h"
#include "support/built_kit.h"
#include "support/scoring.h"
#include "support/temp_folder.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace lampo::test {
namespace {

struct FoundStroke {
    std::int64_t at = 0;
    std::size_t drum = 0;
};

std::size_t drumOf(const RandomKit& kit, const std::string& stem) {
    const auto found = std::find_if(kit.drums.begin(), kit.drums.end(), [&](const std::string& drum) {
        return drum.substr(0, 5) == stem.substr(0, 5);
    });
    return static_cast<std::size_t>(found - kit.drums.begin());
}

std::vector<FoundStroke> strokesOf(const RandomKit& kit, const AnalysedKit& heard) {
    std::vector<FoundStroke> strokes;
    const AnalysedTake& take = *heard.outcome->takes.front();
    for (std::size_t mic = 0; mic < take.found.judged.size(); ++mic)
        for (std::size_t c = 0; c < take.found.judged[mic].size(); ++c)
            if (take.found.judged[mic][c].verdict == Verdict::hit)
                strokes.push_back(
                    {take.mics[mic]->candidates[c].at.frame, drumOf(kit, heard.session.mics[mic].stem)});
    return strokes;
}

/// The nearest found stroke of the drum within 10 ms, as its distance.
std::optional<std::int64_t> nearest(const std::vector<FoundStroke>& found, const TrueStroke& stroke, int rate) {
    std::optional<std::int64_t> best;
    for (const FoundStroke& one : found) {
        const std::int64_t off = one.at - stroke.at;
        if (one.drum == stroke.drum && std::abs(off) <= rate / 100 && (!best || std::abs(off) < std::abs(*best)))
            best = off;
    }
    return best;
}

double percentile(std::vector<double> values, double share) {
    const auto at =
        values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

/// The drum's mic is silent there.
bool swallowed(const RandomKit& kit, const TrueStroke& stroke) {
    const auto mic = std::find(kit.stems.begin(), kit.stems.end(), kit.drums[stroke.drum]);
    if (mic == kit.stems.end() || !kit.what.ends_with("dropout"))
        return false;
    const auto middle = static_cast<std::int64_t>(kit.mics.front().size() / 2);
    return mic - kit.stems.begin() == static_cast<std::ptrdiff_t>(kit.stems.size()) - 3 &&
           stroke.at > middle - kit.rate / 50 && stroke.at < middle + kit.rate * 51 / 50;
}

class Figures {
public:
    Figures(const RandomKit& kit, const AnalysedKit& heard)
        : kit_(kit), analysed_(heard), found_(strokesOf(kit, heard)), dates_(kit.drums.size()),
          ghostDates_(kit.drums.size()) {}

    EarFigures take() {
        for (const TrueStroke& stroke : kit_.strokes)
            if (stroke.drum < kit_.landed && !stroke.grace && !swallowed(kit_, stroke))
                look(stroke);
        for (const FoundStroke& one : found_)
            if (one.drum < kit_.landed)
                figures_.precise.add(isTrue(one));
        for (const auto& drum : dates_)
            if (drum.size() >= 8)
                figures_.spread = std::max(figures_.spread, percentile(drum, 0.95) - percentile(drum, 0.05));
        for (const auto& drum : ghostDates_)
            if (drum.size() >= 8)
                figures_.ghostSpread =
                    std::max(figures_.ghostSpread, percentile(drum, 0.95) - percentile(drum, 0.05));
        for (const auto& [drum, off] : behindHat_)
            figures_.offBehindHat.add(std::abs(off - percentile(dates_[drum], 0.5)) > 3);
        return figures_;
    }

private:
    void look(const TrueStroke& stroke) {
        const auto off = nearest(found_, stroke, kit_.rate);
        (stroke.ghost ? figures_.ghosts : figures_.found).add(off.has_value());
        if (stroke.ghost && standsOut(stroke))
            figures_.audibleGhosts.add(off.has_value());
        if (off) {
            const double ms = 1000.0 * static_cast<double>(*off) / kit_.rate;
            (stroke.ghost ? ghostDates_ : dates_)[stroke.drum].push_back(ms);
            if (!stroke.ghost)
                figures_.late.add(stroke.at + *off > stroke.minus20);
            if (!stroke.ghost && stroke.hatAhead)
                behindHat_.emplace_back(stroke.drum, ms);
        }
        if (leads(kit_, stroke)) {
            const auto printed = printedAt(*analysed_.outcome->plan, stroke.at);
            (stroke.ghost ? figures_.landedGhosts : figures_.landed)
                .add(printed && std::abs(*printed - stroke.line) <= kit_.rate / 1000);
        }
    }

    /// In its mic some band rises by 3 dB within 12 ms: what does not is under the ring of the stroke before.
    bool standsOut(const TrueStroke& stroke) const {
        const auto mic = std::find(kit_.stems.begin(), kit_.stems.end(), kit_.drums[stroke.drum]);
        if (mic == kit_.stems.end())
            return false;
        const auto& sound = kit_.mics[static_cast<std::size_t>(mic - kit_.stems.begin())];
        BandMeter meter({kit_.rate});
        const std::int64_t hop = static_cast<std::int64_t>(meter.hop());
        const std::int64_t begin = std::max<std::int64_t>(0, stroke.at - 40 * hop);
        std::vector<BandEnergies> energies;
        meter.add(std::span(sound).subspan(static_cast<std::size_t>(begin), static_cast<std::size_t>(56 * hop)),
                  energies);
        for (std::size_t band = 0; band < bandCount; ++band) {
            float before = 0, after = 0;
            for (std::size_t h = 30; h < 39; ++h)
                before = std::max(before, energies[h][band]);
            for (std::size_t h = 40; h < 50; ++h)
                after = std::max(after, energies[h][band]);
            if (after > 2 * before)
                return true;
        }
        return false;
    }

    bool isTrue(const FoundStroke& one) const {
        return std::any_of(kit_.strokes.begin(), kit_.strokes.end(), [&](const TrueStroke& stroke) {
            return stroke.drum == one.drum && std::abs(stroke.at - one.at) <= kit_.rate / 100;
        });
    }

    const RandomKit& kit_;
    const AnalysedKit& analysed_;
    std::vector<FoundStroke> found_;
    std::vector<std::vector<double>> dates_, ghostDates_; ///< per drum, ms off
    std::vector<std::pair<std::size_t, double>> behindHat_;
    EarFigures figures_;
};

} // namespace

std::optional<std::int64_t> printedAt(const Plan& plan, std::int64_t source) {
    std::optional<std::int64_t> inFade;
    for (const Segment& segment : plan.segments) {
        const std::int64_t at = segment.placeOf(SourceFrame{source}).frame;
        if (at < segment.sounds.begin.frame || at >= segment.sounds.end.frame)
            continue;
        if (at >= segment.sounds.begin.frame + segment.fadeIn.frames &&
            at < segment.sounds.end.frame - segment.fadeOut.frames)
            return at;
        inFade = at;
    }
    return inFade;
}

bool leads(const RandomKit& kit, const TrueStroke& stroke) {
    return std::none_of(kit.strokes.begin(), kit.strokes.end(), [&](const TrueStroke& other) {
        return other.line == stroke.line && other.drum < stroke.drum && !other.grace;
    });
}

void writeKit(const RandomKit& kit, const std::filesystem::path& folder) {
    for (std::size_t mic = 0; mic < kit.stems.size(); ++mic)
        writeAudio(folder / (kit.stems[mic] + ".wav"), kit.mics[mic], SampleFormat::wav24, {kit.rate});
}

AnalysedKit analyseKit(const RandomKit& kit) {
    const TempFolder folder;
    writeKit(kit, folder.path());
    return analyseKit(kit, folder.path());
}

AnalysedKit analyseKit(const RandomKit& kit, const std::filesystem::path& folder) {
    auto session = importFolder(folder);
    if (!session)
        return {};
    session->map = kit.map;
    session->timing.grid = kit.grid;
    Analyses analyses;
    if (!analyseMissing(*session, analyses, Listen::toEveryMic, {}))
        return {};
    AnalysedKit heard{std::move(*session), std::move(analyses), nullptr};
    heard.outcome = outcomeOf(heard.session, heard.analyses);
    return heard;
}

void searchSeamsOf(AnalysedKit& heard) {
    SeamAnswers answers;
    if (searchSeams(heard.session, heard.outcome->plan->open, answers, {})) {
        heard.analyses.add(answers);
        heard.outcome = outcomeOf(heard.session, heard.analyses);
    }
}

EarFigures figuresOf(const RandomKit& kit, const AnalysedKit& heard) {
    return Figures(kit, heard).take();
}

AgainstAubio againstAubio(const RandomKit& kit, const AnalysedKit& heard) {
    const auto found = strokesOf(kit, heard);
    AgainstAubio both;
    std::size_t drums = 0;
    for (std::size_t drum = 0; drum < kit.landed; ++drum) {
        const auto mic = std::find(kit.stems.begin(), kit.stems.end(), kit.drums[drum]);
        if (mic == kit.stems.end() || kit.idle(drum))
            continue;
        std::vector<std::int64_t> truth, ours;
        for (const TrueStroke& stroke : kit.strokes)
            if (stroke.drum == drum && !stroke.grace && !swallowed(kit, stroke))
                truth.push_back(stroke.at);
        for (const FoundStroke& one : found)
            if (one.drum == drum)
                ours.push_back(one.at);
        const auto& samples = kit.mics[static_cast<std::size_t>(mic - kit.stems.begin())];
        double best = 0;
        for (const double threshold : {0.05, 0.2, 0.6, 1.0, 1.4, 2.0, 3.0, 5.0, 8.0})
            best = std::max(best, score(aubioOnsets(samples, kit.rate, threshold), truth, kit.rate / 100).f);
        both.ours += score(ours, truth, kit.rate / 100).f;
        both.aubio += best;
        ++drums;
    }
    both.ours /= static_cast<double>(std::max<std::size_t>(1, drums));
    both.aubio /= static_cast<double>(std::max<std::size_t>(1, drums));
    return both;
}

} // namespace lampo::test
