#include "audio/sample_format.h"

namespace lampo {

std::string_view name(SampleFormat format) {
    return sampleFormatNames.of(format);
}

std::string_view extension(SampleFormat format) {
    return format == SampleFormat::flac16 || format == SampleFormat::flac24 ? ".flac" : ".wav";
}

int integerBits(SampleFormat format) {
    switch (format) {
    case SampleFormat::wav16:
    case SampleFormat::flac16:
        return 16;
    case SampleFormat::wav24:
    case SampleFormat::flac24:
        return 24;
    case SampleFormat::wav32f:
        return 0;
    }
    return 0;
}

} // namespace lampo
