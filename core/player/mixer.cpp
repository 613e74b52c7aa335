#include "player/mixer.h"

#include "base/text.h"
#include "render/click.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace lampo {
namespace {

constexpr float headroom = 0.5F;         ///< eleven mics of one kit add up
constexpr Milliseconds companionFade{5}; ///< where bars were inserted, repeated or deleted

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
        companions_.push_back(nullptr);
        if (companion.mute || anySolo)
            continue;
        if (auto reader = AudioReader::open(companion.file, programme_->session.rate))
            companions_.back() = std::make_unique<WindowReader>(std::move(*reader));
        else
            trouble_ = reader.error().sentence;
    }
    buffers_.resize(mics.size());
    if (const auto& emphasis = programme_->emphasis) {
        BandEnergies weights{};
        std::transform(emphasis->weights.begin(), emphasis->weights.end(), weights.begin(),
                       [](double weight) { return static_cast<float>(weight); });
        emphasis_.emplace(programme_->session.rate, weights);
    }
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
    addKit(at, interleaved);
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

/// They go through the form as the takes do.
void Mixer::addCompanions(ResultFrame at, std::span<float> interleaved) {
    const auto& form = programme_->session.form;
    constexpr SongFrame always{std::numeric_limits<std::int64_t>::max()};
    for (std::size_t c = 0; c < companions_.size(); ++c)
        for (std::size_t part = 0; part < form.size() && companions_[c]; ++part)
            if (form[part].moved)
                addCompanion(c, form[part],
                             {form[part].begin, part + 1 < form.size() ? form[part + 1].begin : always}, at,
                             interleaved);
}

void Mixer::addCompanion(std::size_t companion, const FormPart& part, Range<SongFrame> within, ResultFrame at,
                         std::span<float> interleaved) {
    const SongFrame begin = asSong(at);
    const FrameCount frames{static_cast<std::int64_t>(interleaved.size() / 2)};
    const auto sounds = within.intersected({begin, begin + frames});
    if (sounds.empty())
        return;
    const auto count = static_cast<std::size_t>(sounds.length().frames);
    const auto sound = companions_[companion]->frames(sounds.begin - SourceToSong{*part.moved}, count);
    if (!sound) {
        trouble_ = sound.error().sentence;
        companions_[companion] = nullptr;
        return;
    }
    const auto gain = static_cast<float>(headroom * toGain(programme_->session.companions[companion].level));
    const auto fade = static_cast<float>(toFrames(companionFade, programme_->session.rate).frames);
    const bool fadesIn = within.begin.frame > 0;
    for (std::size_t i = 0; i < count; ++i) {
        const SongFrame now = sounds.begin + FrameCount{static_cast<std::int64_t>(i)};
        const float in = fadesIn ? static_cast<float>((now - within.begin).frames) / fade : 1;
        const float out = static_cast<float>((within.end - now).frames) / fade;
        const float sample = gain * std::clamp(std::min(in, out), 0.0F, 1.0F) * (*sound)[i];
        const auto place = static_cast<std::size_t>((now - begin).frames);
        interleaved[2 * place] += sample;
        interleaved[2 * place + 1] += sample;
    }
}

void Mixer::addClick(ResultFrame at, std::span<float> interleaved) {
    click_.assign(interleaved.size() / 2, 0.0F);
    lampo::addClick(map_, {}, at, click_);
    for (std::size_t i = 0; i < click_.size(); ++i) {
        interleaved[2 * i] += click_[i];
        interleaved[2 * i + 1] += click_[i];
    }
}

} // namespace lampo
