#include "audio/audio_reader.h"
#include "fuzz/in_memory.h"

#include <vector>

using namespace lampo;

/// Audio files are refused, or read: as they are, at another rate, from the begin and from beyond the end.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const test::InMemory file(data, size);
    if (!probeAudio(file.path()))
        return 0;
    std::vector<float> block(4096);
    for (const std::optional<SampleRate> rate : {std::optional<SampleRate>{}, std::optional(SampleRate{44100})}) {
        auto reader = AudioReader::open(file.path(), rate);
        if (!reader)
            continue;
        for (const std::int64_t at : {-100L, 0L, 3000L, 1L << 40})
            if (!reader->read(SourceFrame{at}, block))
                break;
    }
    return 0;
}
