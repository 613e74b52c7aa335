#include "mix/mixer.h"

#include "base/text.h"
#include "render/click.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace lampo {
namespace {

constexpr float headroom = 0.5F; ///< eleven mics of one kit add up

/// Where a mic stands by its name: left, right, or the middle.
float panOf(const Mic& mic) {
    if (mic.role != Role::overhead && mic.role != Role::room)
        return 0;
    const std::string stem = lowered(mic.stem);
    if (stem.ends_with("left") || stem.ends_with("_l") || stem.ends_with(" l") || stem.ends_with("-l") ||
        stem.ends_with("ohl"))
        return -1;
    if (stem.ends_with("right") || stem.ends_with("_r") || stem.ends_with(" r") || stem.ends_with("-r") ||
        stem.ends_with("ohr"))
        return 1;
    return 0;
}

} // namespace

Mixer::Mixer(std::shared_ptr<const Programme> programme)
    : programme_(std::move(programme)),
      kit_(std::make_shared<KitReader>(programme_->session, KitReader::Unreadable::isSilent)),
      renderer_(programme_->plan, kit_), map_(programme_->session.map, programme_->session.rate) {
    const auto& mics = programme_->session.mics;
    const bool anySolo = std::any_of(mics.begin(), mics.end(), [](const Mic& mic) { return mic.solo; });
    for (const Mic& mic : mics) {
        const bool heard = !mic.mute && (!anySolo || mic.solo);
        const double gain = heard ? headroom * toGain(mic.level) : 0.0;
        const double angle = (panOf(mic) * 0.8 + 1) * std::numbers::pi / 4; // equal power pan
        gains_.push_back({static_cast<float>(gain * std::cos(angle)), static_cast<float>(gain * std::sin(angle))});
    }
    for (const Companion& companion : programme_->session.companions) {
        companions_.emplace_back();
        if (companion.mute || anySolo)
            continue;
        if (auto sound = CompanionSound::open(programme_->session, companion))
            companions_.back() = std::move(*sound);
        else
            trouble_ = sound.error().sentence;
    }
    buffers_.resize(mics.size());
    if (const auto& emphasis = programme_->emphasis) {
        BandEnergies weights{};
        std::transform(emphasis->weights.begin(), emphasis->weights.end(), weights.begin(),
                       [](double weight) { return static_cast<float>(weight); });
        emphasis_.emplace(programme_->session.rate, weights);
    }
    if (programme_->notes)
        notes_.emplace(programme_->notes);
    if (programme_->without)
        without_ = std::make_unique<Mixer>(programme_->without);
}

void Mixer::mix(ResultFrame at, std::span<float> interleaved) {
    mixOpen(at, interleaved);
    for (float& sample : interleaved)
        sample = std::clamp(sample, -1.0F, 1.0F);
}

void Mixer::mixOpen(ResultFrame at, std::span<float> interleaved) {
    std::fill(interleaved.begin(), interleaved.end(), 0.0F);
    if (programme_->mics)
        addKit(at, interleaved);
    if (notes_)
        addNotes(at, interleaved);
    addCompanions(at, interleaved);
    if (programme_->click)
        addClick(at, interleaved);
    const auto gain = static_cast<float>(programme_->gain);
    for (float& sample : interleaved)
        sample *= gain;
    if (!without_)
        return;
    taken_.resize(interleaved.size());
    without_->mixOpen(at, taken_);
    for (std::size_t i = 0; i < taken_.size(); ++i)
        interleaved[i] -= taken_[i];
    if (trouble_.empty())
        trouble_ = without_->trouble_;
}

std::optional<double> loudnessOf(const std::shared_ptr<const Programme>& programme, Range<ResultFrame> stretch) {
    Mixer mixer(programme);
    std::vector<float> block(1 << 14);
    double sum = 0;
    const auto half = static_cast<std::int64_t>(block.size() / 2);
    std::int64_t count = 0;
    for (ResultFrame at = stretch.begin; at < stretch.end; at = at + FrameCount{half}) {
        mixer.mix(at, block);
        for (const float sample : block)
            sum += double{sample} * sample;
        count += half;
    }
    constexpr double silent = 1e-10;
    const double mean = count == 0 ? 0 : sum / static_cast<double>(2 * count);
    return mixer.trouble().empty() && mean > silent ? std::optional(std::sqrt(mean)) : std::nullopt;
}

void Mixer::addKit(ResultFrame at, std::span<float> interleaved) {
    const std::size_t frames = interleaved.size() / 2;
    std::vector<std::span<float>> spans;
    for (auto& buffer : buffers_) {
        buffer.resize(frames);
        spans.emplace_back(buffer);
    }
    const auto rendered = renderer_.render(at, frames, spans);
    if (trouble_.empty())
        trouble_ = rendered ? kit_->trouble() : rendered.error().sentence;
    if (!rendered)
        return;
    if (emphasis_ && programme_->emphasis->mic < buffers_.size())
        emphasis_->process(buffers_[programme_->emphasis->mic]);
    for (MicIndex mic; mic < gains_.size(); ++mic) {
        if (gains_[mic].left == 0 && gains_[mic].right == 0)
            continue;
        for (std::size_t i = 0; i < frames; ++i) {
            interleaved[2 * i] += gains_[mic].left * buffers_[mic][i];
            interleaved[2 * i + 1] += gains_[mic].right * buffers_[mic][i];
        }
    }
}

void Mixer::addCompanions(ResultFrame at, std::span<float> interleaved) {
    for (std::size_t c = 0; c < companions_.size(); ++c) {
        if (!companions_[c])
            continue;
        mono_.assign(interleaved.size() / 2, 0.0F);
        if (auto added = companions_[c]->add(at, mono_); !added) {
            trouble_ = added.error().sentence;
            companions_[c].reset();
        }
        addToBoth(static_cast<float>(headroom * toGain(programme_->session.companions[c].level)), interleaved);
    }
}

void Mixer::addNotes(ResultFrame at, std::span<float> interleaved) {
    mono_.assign(interleaved.size() / 2, 0.0F);
    notes_->add(at, mono_);
    addToBoth(headroom, interleaved);
}

void Mixer::addClick(ResultFrame at, std::span<float> interleaved) {
    mono_.assign(interleaved.size() / 2, 0.0F);
    lampo::addClick(map_, {}, at, mono_);
    addToBoth(1, interleaved);
}

void Mixer::addToBoth(float gain, std::span<float> interleaved) const {
    for (std::size_t i = 0; i < mono_.size(); ++i) {
        interleaved[2 * i] += gain * mono_[i];
        interleaved[2 * i + 1] += gain * mono_[i];
    }
}

} // namespace lampo
