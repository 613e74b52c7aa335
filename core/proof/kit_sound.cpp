#include "proof/kit_sound.h"

#include "audio/sample_format.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {

Expected<void> RenderedSound::read(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out) {
    return renderer_.render(at, frames, out);
}

Expected<void> RenderedSound::readMic(MicIndex mic, ResultFrame at, std::span<float> out) {
    return renderer_.prepare(at, out.size()).and_then([&] { return renderer_.renderMic(mic, at, out); });
}

Expected<std::unique_ptr<PrintedSound>> PrintedSound::open(const Session& session,
                                                           const std::filesystem::path& folder) {
    auto sound = std::make_unique<PrintedSound>();
    for (const Mic& mic : session.mics) {
        std::filesystem::path file;
        for (const char* ending : {".wav", ".flac", ".aif", ".aiff", ".rf64", ".w64"})
            if (std::error_code ignored;
                file.empty() && std::filesystem::exists(folder / (mic.stem + ending), ignored))
                file = folder / (mic.stem + ending);
        sound->files_.emplace_back();
        if (file.empty())
            continue;
        auto reader = AudioReader::open(SourceFile(file), session.rate);
        if (!reader)
            return tl::unexpected(reader.error());
        sound->files_.back().emplace(std::move(*reader));
    }
    if (std::none_of(sound->files_.begin(), sound->files_.end(), [](const auto& file) { return file.has_value(); }))
        return fail(ErrorKind::notFound,
                    fmt::format("The folder {} holds no print of this kit's mics: print the edit into it first",
                                quotedName(folder)));
    return sound;
}

Expected<void> PrintedSound::read(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out) {
    for (MicIndex mic; mic < files_.size(); ++mic)
        if (auto read = readMic(mic, at, out[mic].first(frames)); !read)
            return read;
    return {};
}

Expected<void> PrintedSound::readMic(MicIndex mic, ResultFrame at, std::span<float> out) {
    if (!files_[mic]) {
        std::fill(out.begin(), out.end(), 0.0F);
        return {};
    }
    return files_[mic]->frames(SourceFrame{at.frame}, out.size()).map([&](std::span<const float> frames) {
        std::copy(frames.begin(), frames.end(), out.begin());
    });
}

Expected<std::vector<std::vector<float>>> stretchOf(KitSound& sound, std::size_t mics, ResultFrame at,
                                                    std::size_t frames) {
    std::vector<std::vector<float>> all(mics, std::vector<float>(frames));
    const std::vector<std::span<float>> spans(all.begin(), all.end());
    return sound.read(at, frames, spans).map([&] { return std::move(all); });
}

} // namespace lampo
