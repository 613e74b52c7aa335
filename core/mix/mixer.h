#pragma once

#include "map/musical_map.h"
#include "mix/companion_sound.h"
#include "mix/note_sound.h"
#include "onsets/band_energies.h"
#include "render/renderer.h"
#include "session/session.h"

#include <memory>
#include <optional>
#include <string>

namespace lampo {

/// What is to be heard. Immutable; made by the window's thread, played by the feeder.
struct Programme {
    Session session;                  ///< levels, mutes, solos, map, companions
    std::shared_ptr<const Plan> plan; ///< as landed, or the take as played
    bool click = false;               ///< whether a click is heard
    /// One mic through the bands that are listened for (it should be the only one heard).
    struct Emphasis {
        MicIndex mic;          ///< that is heard
        BandWeights weights{}; ///< of its bands, amplitudes
    };
    std::optional<Emphasis> emphasis{};        ///< none: all sounds as it is
    double gain = 1;                           ///< of all of it, amplitude: to compare at one loudness
    bool mics = true;                          ///< whether the mics are heard
    std::shared_ptr<const NoteSounds> notes{}; ///< beside the mics; null: none
    /// What is taken away from it, so that only the difference is heard; null: nothing.
    std::shared_ptr<const Programme> without{};
};

/// How loud a stretch of a programme is, as the root of its mean square: none where it is silent or cannot be read.
std::optional<double> loudnessOf(const std::shared_ptr<const Programme>& programme, Range<ResultFrame> stretch);

/// Mixes a programme to stereo, block by block. Belongs to the feeder's thread: it reads files.
class Mixer {
public:
    /// Opens files at their first sound.
    explicit Mixer(std::shared_ptr<const Programme> programme);

    /// How long the programme is.
    FrameCount length() const { return programme_->plan->length; }
    /// Fills `interleaved` (stereo) from `at` on. A mic or companion that cannot be read is silent, the others are
    /// heard, and trouble() says why.
    void mix(ResultFrame at, std::span<float> interleaved);
    /// The first error's sentence, or empty.
    const std::string& trouble() const { return trouble_; }

private:
    struct Gains {
        float left = 0;
        float right = 0;
    };

    /// Without the last clipping.
    void mixOpen(ResultFrame at, std::span<float> interleaved);
    void addKit(ResultFrame at, std::span<float> interleaved);
    void addCompanions(ResultFrame at, std::span<float> interleaved);
    void addNotes(ResultFrame at, std::span<float> interleaved);
    void addClick(ResultFrame at, std::span<float> interleaved);
    /// What is in mono_, on both sides.
    void addToBoth(float gain, std::span<float> interleaved) const;

    std::shared_ptr<const Programme> programme_;
    std::shared_ptr<KitReader> kit_;
    Renderer renderer_;
    MusicalMap map_;
    std::vector<Gains> gains_; ///< per mic
    std::vector<std::optional<CompanionSound>> companions_;
    std::vector<std::vector<float>> buffers_;
    std::vector<float> mono_;
    std::optional<NotePlayer> notes_;
    std::optional<BandEmphasis> emphasis_;
    std::unique_ptr<Mixer> without_; ///< of what is taken away
    std::vector<float> taken_;
    std::string trouble_;
};

} // namespace lampo
