#include "strokes/plausible_paths.h"

#include "strokes/statistics.h"

namespace lampo {
namespace {

// From the kits in bench/ears.cpp. dB are against the loudest events of the mic that listens.
constexpr double suspicious = -15;  ///< louder bleed has to prove itself
constexpr std::size_t enough = 8;   ///< strokes to tell by whether they are steady
constexpr double fewExplain = -7;   ///< as loud as fewer strokes may explain
constexpr double steady = 0.33;     ///< share of strokes; two hands are within 0.6 ms in about a fifth
constexpr double always = 0.7;      ///< share of strokes: bleed as loud as a stroke is heard nearly each time
constexpr double early = -1;        ///< ms: bleed comes behind its stroke, but for what dates scatter
constexpr double alwaysEarly = 0.8; ///< share of strokes, of a path that seems to arrive that early
constexpr double oftenAhead = 0.1;  ///< share of strokes before which it is heard: bleed never is;
constexpr std::size_t sure = 100;   ///< of so many, since beside few of them something else may be struck
constexpr double maxTilt = 8;       ///< dB by which a path may favour one band over another
constexpr double profileReach = 15; ///< dB under its loudest band that a drum's band still counts
constexpr double maxGain = 5;       ///< dB that a drum may be louder in another mic than in its own
constexpr double leastLoss = -12;   ///< dB from one drum to the other's mic and back
constexpr double loudestBleed = -8; ///< dB against the mic's own drum: louder bleed no room has
constexpr double asLoud = 4;        ///< dB by which what is alike may be softer
constexpr double asFull = 5;        ///< the same in single bands

class Doubter {
public:
    Doubter(Paths& paths, std::span<const Witness> witnesses, std::span<const DrumModel> drums,
            std::span<const WitnessLevel> levels, std::span<const HeardAlone> alone)
        : paths_(paths), witnesses_(witnesses), drums_(drums), levels_(levels), alone_(alone) {}

    void run() {
        for (std::size_t one = 0; one < witnesses_.size(); ++one)
            for (std::size_t other = 0; other < one; ++other) {
                const double there = gain(one, other), back = gain(other, one);
                doubt(one, other);
                doubt(other, one);
                if (witnesses_[one].place != witnesses_[other].place)
                    continue; // what overheads tell of stands anywhere
                if (there > maxGain || (there + back > leastLoss && there > back))
                    paths_.at(one, other) = {};
                if (back > maxGain || (there + back > leastLoss && there <= back))
                    paths_.at(other, one) = {};
            }
    }

private:
    double bleed(std::size_t drum, std::size_t witness) const {
        return bleedOf(paths_.at(drum, witness), drums_[drum], witnesses_[witness].weights).value;
    }
    double gain(std::size_t drum, std::size_t witness) const {
        return bleed(drum, witness) - drums_[drum].strong.value + levels_[witness].trim - levels_[drum].trim;
    }

    void doubt(std::size_t drum, std::size_t witness) {
        DrumPath& path = paths_.at(drum, witness);
        const double against = bleed(drum, witness) - levels_[witness].loudest;
        const bool toClose = witnesses_[witness].place == Witness::Place::drum;
        const bool fromAbove = toClose && witnesses_[drum].place == Witness::Place::overhead;
        const double least = toClose && path.late.value < early ? alwaysEarly : always;
        const bool unsteady = path.steadiness < steady || path.share < least ||
                              tilt(path, drums_[drum]) > maxTilt || isRatherOwn(witness, path, against);
        const double most = fromAbove               ? -overheadLoss
                            : path.strokes < enough ? fewExplain
                            : unsteady              ? suspicious
                                                    : against;
        if (against > most)
            weaken(path, most - against);
        const HeardAlone& own = alone_[drum * witnesses_.size() + witness];
        if (isLikeOwn(drum, witness, own))
            weaken(path, own.strong + loudestBleed - bleed(drum, witness));
    }

    /// What the mic hears is rather its own drum's, of which few takes are without: it is as loud, and often ahead
    /// of the strokes that are said to cause it.
    bool isRatherOwn(std::size_t witness, const DrumPath& path, double against) const {
        return witnesses_[witness].isExpected() && against > loudestBleed && path.strokes >= sure &&
               path.ahead > oftenAhead;
    }

    /// The path would make of the drum's strokes what the mic hears from its own as well.
    bool isLikeOwn(std::size_t drum, std::size_t witness, const HeardAlone& own) const {
        const double sentLevel = bleed(drum, witness);
        if (own.events < std::max(enough, paths_.at(drum, witness).strokes / 2) ||
            own.strong < sentLevel - asLoud || sentLevel < levels_[witness].loudest + loudestBleed)
            return false;
        const double loudest = decibelsOfPower(*std::max_element(own.bands.begin(), own.bands.end()));
        for (std::size_t band = 0; band < bandCount; ++band) {
            const double heard = decibelsOfPower(own.bands[band]);
            const double sent = decibelsOfPower(paths_.at(drum, witness).gain[band] * drums_[drum].profile[band]) +
                                drums_[drum].strong.value;
            if (heard > loudest - profileReach && sent < heard - asFull)
                return false;
        }
        return true;
    }

    /// dB by which the path favours one of the drum's strong bands over another: bleed is duller than its drum at
    /// most.
    static double tilt(const DrumPath& path, const DrumModel& drum) {
        double least = 200, most = -200;
        for (std::size_t band = 0; band < bandCount; ++band)
            if (decibelsOfPower(drum.profile[band]) > -profileReach && path.gain[band] > 0) {
                least = std::min(least, decibelsOfPower(path.gain[band]));
                most = std::max(most, decibelsOfPower(path.gain[band]));
            }
        return most - least;
    }

    static void weaken(DrumPath& path, double decibels) {
        for (BandEnergies* bands : {&path.gain, &path.shape})
            for (float& gain : *bands)
                gain *= static_cast<float>(powerOfDecibels(decibels));
    }

    Paths& paths_;
    std::span<const Witness> witnesses_;
    std::span<const DrumModel> drums_;
    std::span<const WitnessLevel> levels_;
    std::span<const HeardAlone> alone_;
};

} // namespace

void keepPlausible(Paths& paths, std::span<const Witness> witnesses, std::span<const DrumModel> drums,
                   std::span<const WitnessLevel> levels, std::span<const HeardAlone> alone) {
    Doubter(paths, witnesses, drums, levels, alone).run();
}

} // namespace lampo
