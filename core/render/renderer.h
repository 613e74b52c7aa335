#pragma once

#include "render/patcher.h"

#include <map>
#include <memory>
#include <span>
#include <vector>

namespace lampo {

/// Turns a plan into sound, block by block, the same for playback, print and proof. The result does not depend on
/// how it is divided into blocks. Crossfades are matched to how alike the two sides are, measured over all mics
/// together, so every mic fades by the same curve. Memory does not grow with the song. One thread at a time; large
/// blocks are rendered on all cores.
class Renderer {
public:
    /// Of a plan and what reads its sources; several renderers may share a reader.
    Renderer(std::shared_ptr<const Plan> plan, std::shared_ptr<KitReader> kit);

    /// That is rendered.
    const Plan& plan() const { return *plan_; }

    /// Renders [at, at + frames) of every mic: out[mic] has `frames` samples. Silence outside the plan.
    /// Errors: those of AudioReader.
    Expected<void> render(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out);

    /// The same in two steps, for those who do something with each mic at once: after prepare(), renderMic() may be
    /// called for different mics from different threads, inside the prepared block.
    Expected<void> prepare(ResultFrame at, std::size_t frames);
    /// One mic alone, after prepare(); several at once, each by a thread of its own.
    Expected<void> renderMic(MicIndex mic, ResultFrame at, std::span<float> out);

private:
    Expected<void> fetch(ResultFrame at, std::size_t frames);
    /// What one segment needs to sound, for all mics.
    struct Ready {
        std::vector<float> in;                     ///< gains of its fade, frame by frame
        std::vector<float> out;                    ///< and of that at its end
        std::shared_ptr<const StretchedMics> tail; ///< null: it sounds as it was recorded
    };

    std::size_t firstSegmentEndingAfter(ResultFrame at) const;
    Expected<double> likenessBefore(std::size_t segment);
    Expected<double> likeness(const Segment& earlier, const Segment& later);
    Expected<Ready> madeReady(std::size_t segment);
    Expected<std::span<const float>> source(std::size_t segment, MicIndex mic, ResultFrame at, std::size_t count);
    void addFaded(std::size_t segment, ResultFrame at, std::span<const float> source, std::span<float> out) const;

    std::shared_ptr<const Plan> plan_;
    std::shared_ptr<KitReader> kit_;
    StretchedTails tails_;
    Patcher patcher_;
    std::vector<float> likeness_;        ///< of each segment with the one before it; negative: not yet measured
    std::map<std::size_t, Ready> ready_; ///< the segments in the prepared block
};

} // namespace lampo
