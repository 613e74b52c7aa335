#pragma once

#include "audio/window_reader.h"
#include "render/renderer.h"

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// What is listened to: every mic of the result, on one time axis. One thread at a time.
class KitSound {
public:
    virtual ~KitSound() = default;
    /// Frames [at, at + frames) of every mic: out[mic] has `frames` samples; silence outside. Errors: those of
    /// AudioReader.
    virtual Expected<void> read(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out) = 0;
    /// The same of one mic.
    virtual Expected<void> readMic(MicIndex mic, ResultFrame at, std::span<float> out) = 0;
};

/// What a plan sounds like.
class RenderedSound : public KitSound {
public:
    /// Reads its sources through `kit`.
    RenderedSound(std::shared_ptr<const Plan> plan, std::shared_ptr<KitReader> kit)
        : renderer_(std::move(plan), std::move(kit)) {}
    Expected<void> read(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out) override;
    Expected<void> readMic(MicIndex mic, ResultFrame at, std::span<float> out) override;

private:
    Renderer renderer_;
};

/// Files that were printed, one for each mic, named after it; at another rate they are converted, and a mic without
/// a file is silent.
class PrintedSound : public KitSound {
public:
    /// Errors: notFound (no file of any mic in the folder), those of AudioReader.
    static Expected<std::unique_ptr<PrintedSound>> open(const Session& session,
                                                        const std::filesystem::path& folder);
    Expected<void> read(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out) override;
    Expected<void> readMic(MicIndex mic, ResultFrame at, std::span<float> out) override;

private:
    std::vector<std::optional<WindowReader>> files_; ///< one for each mic
};

/// Makes one for each thread that listens, which reads its sources through the kit given.
using KitSoundMaker = std::function<Expected<std::unique_ptr<KitSound>>(const std::shared_ptr<KitReader>& kit)>;

/// All mics of a stretch of a sound: mics x frames. Errors: those of AudioReader.
Expected<std::vector<std::vector<float>>> stretchOf(KitSound& sound, std::size_t mics, ResultFrame at,
                                                    std::size_t frames);

} // namespace lampo
