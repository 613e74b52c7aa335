#include "support/takes_rig.h"

#include "import/folder_import.h"
#include "render/renderer.h"
#include "support/built_kit.h"
#include "support/given_candidates.h"

#include <cmath>
#include <numbers>

namespace lampo::test {
namespace {

constexpr std::int64_t length = (TakesRig::bars + 1) * TakesRig::bar;

float numberOf(std::size_t take) {
    return 0.125F * static_cast<float>(take + 1);
}

} // namespace

const TempFolder& TakesRig::files() {
    static const TempFolder folder;
    static const bool written = [] {
        addTracers(folder.path(), length);
        for (std::size_t take = 0; take < 3; ++take)
            writeAudio(folder / ("number" + std::to_string(take) + ".wav"),
                       std::vector<float>(static_cast<std::size_t>(length), numberOf(take)), SampleFormat::wav32f);
        return true;
    }();
    (void)written;
    return folder;
}

TakesRig::TakesRig(unsigned seed, double drift, double jitterMs) {
    std::mt19937 random(seed);
    session.rate = {48000};
    session.mics = kitOf({"kick", "snare", "room"});
    for (std::size_t t = 0; t < 3; ++t) {
        // The position is told by files that all takes share; which of them it is, by the third. An offset of its
        // own makes the keys of the analyses differ.
        Take take{static_cast<char>('A' + t), files().path(), {}, {}, FrameCount{length}};
        for (const char* name : {"tracer_up.wav", "tracer_down.wav"})
            take.files.emplace_back(files() / name, 0, FrameCount{}, FrameCount{length});
        take.files.emplace_back(files() / ("number" + std::to_string(t) + ".wav"), 0, FrameCount{},
                                FrameCount{length});
        take.start = FrameCount{0};
        session.takes.push_back(take);
    }
    // Three names for one file, so that each take has candidates of its own.
    for (std::size_t t = 0; t < 3; ++t)
        for (std::size_t mic = 0; mic < 2; ++mic) {
            session.takes[t].files.change(mic, [&](SourceFile& source) {
                for (std::size_t dots = 0; dots < t; ++dots)
                    source.file = source.file.parent_path() / "." / source.file.filename();
            });
        }
    const double phase = std::uniform_real_distribution<>(0, 6)(random);
    for (std::size_t t = 0; t < 3; ++t) {
        std::vector<Stroke> strokes;
        std::vector<Candidate> kicks, snares;
        for (std::int64_t line = 4; line < bars * 16; ++line) {
            const bool pattern = line % 4 == 0 || line % 8 == 3 || line % 16 == 14;
            const int chance = std::uniform_int_distribution<>(0, 99)(random);
            if (pattern ? chance < 4 : chance >= 12)
                continue; // a missed stroke, or none meant here
            const double lean =
                drift * sixteenth *
                std::sin(phase + 2 * static_cast<double>(t) + std::numbers::pi * static_cast<double>(line) / 64);
            const double jitter = std::normal_distribution<>(0, jitterMs * 48)(random);
            const std::int64_t at = line * sixteenth + std::llround(lean + jitter);
            strokes.push_back({line, at});
            (line % 8 == 4 ? snares : kicks).push_back({SourceFrame{at}, {0}, {20}, {}, {}});
        }
        played.push_back(strokes);
        analyses.add(analysisKey(session, session.takes[t], {0}), heardAs(kicks));
        analyses.add(analysisKey(session, session.takes[t], {1}), heardAs(snares));
    }
}

bool TakesRig::edit(const Edit& change) {
    auto next = edited(session, change);
    if (next)
        session = std::move(*next);
    return next.has_value();
}

std::vector<std::optional<TakesRig::Traced>> TakesRig::trace(const Plan& plan) const {
    Renderer renderer(std::make_shared<const Plan>(plan), std::make_shared<KitReader>(session));
    const auto frames = static_cast<std::size_t>(plan.length.frames);
    std::vector<std::vector<float>> mics(3, std::vector<float>(frames));
    const std::vector<std::span<float>> out(mics.begin(), mics.end());
    if (!renderer.render(ResultFrame{0}, frames, out))
        throw std::runtime_error("could not render");
    std::vector<std::optional<Traced>> traced(frames);
    for (std::size_t i = 0; i < frames; ++i) {
        const double position = std::ldexp(mics[0][i], 24);
        const float number = mics[2][i] * 8 - 1;
        if (position == std::floor(position) && mics[1][i] == 1.0F - mics[0][i] && number >= 0 && number <= 2 &&
            number == std::floor(number))
            traced[i] = Traced{static_cast<std::size_t>(number), static_cast<std::int64_t>(position)};
    }
    return traced;
}

} // namespace lampo::test
