#include "support/planted_faults.h"

#include "proof/kit_sound.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

namespace lampo::test {
namespace {

/// Places faults into one print, far enough from one another that each is heard by itself.
class Planter {
public:
    Planter(KitPrint& print, const Session& session, const std::vector<KnownStroke>& strokes, Dice& dice)
        : print_(print), clean_(print), session_(session), strokes_(strokes), dice_(dice),
          length_(static_cast<std::int64_t>(print.front().size())) {}

    std::vector<PlantedFault> run(ProofKind kind) {
        std::vector<PlantedFault> all;
        for (std::int64_t at = frames(1000); at < length_ - frames(4500);) {
            const auto fault = plantNear(kind, at + frames(dice_.between(0, 600)));
            if (fault)
                all.push_back(*fault);
            at = fault ? fault->where.end.frame + frames(dice_.between(800, 1400)) : at + frames(250);
        }
        return all;
    }

private:
    std::int64_t frames(double ms) const { return std::llround(ms * session_.rate.hz / 1000); }
    double level(std::size_t mic, std::int64_t from, std::int64_t to) const {
        double sum = 0;
        for (std::int64_t i = from; i < to; ++i)
            sum += std::pow(double{clean_[mic][static_cast<std::size_t>(i)]}, 2);
        return 10 * std::log10(std::max(sum / static_cast<double>(std::max<std::int64_t>(1, to - from)), 1e-20));
    }
    bool isCymbal(std::size_t mic) const {
        const Role role = session_.mics[mic].role;
        return role == Role::overhead || role == Role::hat || role == Role::cymbal;
    }
    std::size_t someMic() { return static_cast<std::size_t>(dice_.upTo(static_cast<int>(print_.size()) - 1)); }
    std::optional<std::size_t> cymbalMic() {
        for (int tries = 0; tries < 30; ++tries)
            if (const std::size_t mic = someMic(); isCymbal(mic))
                return mic;
        return std::nullopt;
    }
    const KnownStroke* strokeAfter(std::int64_t at) const {
        const auto next = std::find_if(strokes_.begin(), strokes_.end(),
                                       [&](const KnownStroke& stroke) { return stroke.main && stroke.at >= at; });
        return next == strokes_.end() || next->at > at + frames(1500) ? nullptr : &*next;
    }
    bool anyStroke(std::int64_t from, std::int64_t to) const {
        return std::any_of(strokes_.begin(), strokes_.end(),
                           [&](const KnownStroke& stroke) { return stroke.at >= from && stroke.at < to; });
    }
    MicSet all() const {
        MicSet set = 0;
        for (MicIndex mic; mic < print_.size(); ++mic)
            set |= onlyMic(mic);
        return set;
    }
    /// Those that stand at the stroke's drum.
    MicSet ownMics(const KnownStroke& stroke) const {
        MicSet set = 0;
        const std::string& stem = session_.mics[stroke.mic].stem;
        for (MicIndex mic; mic < print_.size(); ++mic)
            if (session_.mics[mic].role == session_.mics[stroke.mic].role &&
                (session_.mics[mic].role != Role::tom || session_.mics[mic].stem == stem))
                set |= onlyMic(mic);
        return set;
    }

    /// In [from, to) the print becomes `change(mic, frame)`, over fades of so many ms.
    void become(MicSet mics, std::int64_t from, std::int64_t to, double fadeMs,
                const std::function<float(std::size_t mic, std::int64_t at)>& change) {
        const std::int64_t fade = std::max<std::int64_t>(1, frames(fadeMs));
        for (MicIndex mic; mic < print_.size(); ++mic)
            if (mics & onlyMic(mic))
                for (std::int64_t at = from; at < to; ++at) {
                    const double in = std::min(1.0, static_cast<double>(at - from + 1) / static_cast<double>(fade)),
                                 out = std::min(1.0, static_cast<double>(to - at) / static_cast<double>(fade));
                    const auto share = static_cast<float>(std::min(in, out));
                    float& sample = print_[mic][static_cast<std::size_t>(at)];
                    sample = (1 - share) * sample + share * change(mic, at);
                }
    }
    float cleanAt(std::size_t mic, std::int64_t at) const {
        return at < 0 || at >= length_ ? 0.0F : clean_[mic][static_cast<std::size_t>(at)];
    }
    void move(MicSet mics, std::int64_t from, std::int64_t to, std::int64_t by) {
        become(mics, from, to, 2, [&](std::size_t mic, std::int64_t at) { return cleanAt(mic, at - by); });
    }
    static PlantedFault fault(ProofKind kind, std::int64_t from, std::int64_t to, MicSet mics, double size) {
        return {kind, {ResultFrame{from}, ResultFrame{to}}, mics, size};
    }
    double sign() { return dice_.chance(0.5) ? 1 : -1; }

    std::optional<PlantedFault> plantNear(ProofKind kind, std::int64_t at) {
        const std::size_t mic = someMic();
        const MicSet only = onlyMic(MicIndex{mic});
        switch (kind) {
        case ProofKind::click: {
            if (level(mic, at - frames(5), at + frames(5)) < -60)
                return std::nullopt;
            float slope = 0;
            for (std::int64_t i = at - frames(5); i < at + frames(5); ++i)
                slope = std::max(slope, std::abs(cleanAt(mic, i) - cleanAt(mic, i - 1)));
            const double size = dice_.between(1, 10);
            const auto jump = static_cast<float>(sign() * size * double{slope});
            if (dice_.chance(0.5)) {
                print_[mic][static_cast<std::size_t>(at)] += jump;
                return fault(kind, at, at + 1, only, size);
            }
            for (std::int64_t i = 0; i < frames(5); ++i)
                print_[mic][static_cast<std::size_t>(at + i)] +=
                    jump *
                    static_cast<float>(std::exp(-5.0 * static_cast<double>(i) / static_cast<double>(frames(5))));
            return fault(kind, at, at + frames(5), only, size);
        }
        case ProofKind::dip: {
            const std::int64_t length = frames(dice_.between(12, 50));
            if (level(mic, at, at + length) < -55 || anyStroke(at - frames(40), at + length + frames(5)))
                return std::nullopt;
            const double size = dice_.between(4.5, 20);
            become(only, at, at + length, 3, [&](std::size_t m, std::int64_t i) {
                return cleanAt(m, i) * static_cast<float>(std::pow(10, -size / 20));
            });
            return fault(kind, at, at + length, only, size);
        }
        case ProofKind::lostAttack: {
            const KnownStroke* stroke = strokeAfter(at);
            if (!stroke)
                return std::nullopt;
            const double size = dice_.between(2, 15);
            const MicSet own = ownMics(*stroke);
            become(own, stroke->at, stroke->at + frames(size), 0.3, [](std::size_t, std::int64_t) { return 0.0F; });
            return fault(kind, stroke->at, stroke->at + frames(size), onlyMic(MicIndex{stroke->mic}), size);
        }
        case ProofKind::doubledAttack: {
            const KnownStroke* stroke = strokeAfter(at);
            const std::int64_t by = frames(dice_.between(25, 120)), length = frames(40);
            if (!stroke || anyStroke(stroke->at + 1, stroke->at + by + length))
                return std::nullopt;
            const double size = dice_.between(-12, 0);
            const MicSet mics = dice_.chance(0.5) ? all() : ownMics(*stroke);
            const std::int64_t from = stroke->at + by - frames(2), to = stroke->at + by + length;
            become(mics, from, to, 2, [&](std::size_t m, std::int64_t i) {
                return cleanAt(m, i) + cleanAt(m, i - by) * static_cast<float>(std::pow(10, size / 20));
            });
            return fault(kind, from, to, mics, size);
        }
        case ProofKind::stutter: {
            const auto ringing = cymbalMic();
            const std::int64_t by = frames(dice_.between(20, 120));
            if (!ringing || level(*ringing, at, at + by) < -60 ||
                anyStroke(at - by - frames(40), at + by + frames(5)))
                return std::nullopt;
            const MicSet mics = dice_.chance(0.5) ? all() : onlyMic(MicIndex{*ringing});
            move(mics, at, at + by, by);
            return fault(kind, at, at + by, onlyMic(MicIndex{*ringing}),
                         1000.0 * static_cast<double>(by) / session_.rate.hz);
        }
        case ProofKind::swallowedRing: {
            const auto ringing = cymbalMic();
            const std::int64_t length = frames(dice_.between(80, 400));
            if (!ringing || level(*ringing, at, at + length) < -55)
                return std::nullopt;
            become(onlyMic(MicIndex{*ringing}), at, at + length, 5,
                   [&](std::size_t m, std::int64_t i) { return 0.01F * cleanAt(m, i); });
            return fault(kind, at, at + length, onlyMic(MicIndex{*ringing}),
                         1000.0 * static_cast<double>(length) / session_.rate.hz);
        }
        case ProofKind::flam: {
            const KnownStroke* stroke = strokeAfter(at);
            if (!stroke)
                return std::nullopt;
            const double size = dice_.between(4, 25);
            const auto by = static_cast<std::int64_t>(sign()) * frames(size);
            const MicSet mics = ownMics(*stroke);
            const std::int64_t from = stroke->at - frames(5) - std::abs(by),
                               to = stroke->at + frames(120) + std::abs(by);
            move(mics, from, to, by);
            return fault(kind, from, to, mics, size);
        }
        case ProofKind::wrongLine:
        case ProofKind::loose: {
            const KnownStroke* stroke = strokeAfter(at);
            if (!stroke)
                return std::nullopt;
            const double size = kind == ProofKind::loose ? dice_.between(12, 35) : dice_.between(60, 250);
            const auto by = static_cast<std::int64_t>(sign()) * frames(size);
            const std::int64_t from = stroke->at - frames(5) - (by < 0 ? -by : 0),
                               to = stroke->at + frames(100) + (by > 0 ? by : 0);
            if (from < 0)
                return std::nullopt;
            move(all(), from, to, by);
            return fault(kind, from, to, all(), size);
        }
        case ProofKind::phase: {
            const std::int64_t length = frames(dice_.between(300, 2000));
            if (level(mic, at, at + length) < -60)
                return std::nullopt;
            const double size = dice_.between(0.2, 3);
            move(only, at, at + length, static_cast<std::int64_t>(sign()) * frames(size));
            return fault(kind, at, at + length, only, size);
        }
        case ProofKind::level: {
            const std::int64_t length = frames(dice_.between(500, 2500));
            if (level(mic, at, at + length) < -65)
                return std::nullopt;
            const double size = dice_.between(2.5, 12), db = sign() * size;
            become(only, at, at + length, 2, [&](std::size_t m, std::int64_t i) {
                return cleanAt(m, i) * static_cast<float>(std::pow(10, db / 20));
            });
            return fault(kind, at, at + length, only, size);
        }
        case ProofKind::silent: {
            const std::int64_t length = frames(isCymbal(mic) ? dice_.between(700, 2000) : dice_.between(100, 2000));
            if (level(mic, at, at + length) < -65)
                return std::nullopt;
            become(only, at, at + length, 1, [](std::size_t, std::int64_t) { return 0.0F; });
            return fault(kind, at, at + length, only, 1000.0 * static_cast<double>(length) / session_.rate.hz);
        }
        default:
            return std::nullopt;
        }
    }

    KitPrint& print_;
    const KitPrint clean_;
    const Session& session_;
    const std::vector<KnownStroke>& strokes_;
    Dice& dice_;
    std::int64_t length_;
};

} // namespace

const char* plantedUnit(ProofKind kind) {
    switch (kind) {
    case ProofKind::click:
        return "times the local slope";
    case ProofKind::dip:
    case ProofKind::level:
        return "dB";
    case ProofKind::doubledAttack:
        return "dB against the stroke";
    default:
        return "ms";
    }
}

KitPrint printOf(const Session& session, const Outcome& outcome) {
    RenderedSound sound(outcome.plan, std::make_shared<KitReader>(session));
    return stretchOf(sound, session.mics.size(), ResultFrame{0}, static_cast<std::size_t>(session.length().frames))
        .value_or(KitPrint{});
}

std::vector<PlantedFault> plant(KitPrint& print, ProofKind kind, const Session& session,
                                const std::vector<KnownStroke>& strokes, Dice& dice) {
    return Planter(print, session, strokes, dice).run(kind);
}

bool tellsOf(const ProofPlace& place, const PlantedFault& fault, SampleRate rate) {
    const FrameCount near = toFrames(Milliseconds{30}, rate);
    return place.kind == fault.kind && (place.mics & fault.mics) != 0 &&
           !place.where.intersected({fault.where.begin - near, fault.where.end + near}).empty();
}

} // namespace lampo::test
