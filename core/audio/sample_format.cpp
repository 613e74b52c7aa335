#include "audio/sample_format.h"

#include "base/enum_names.h"

namespace lampo {

namespace {

constexpr EnumNames<SampleFormat, SampleFormat::flac24> names{"wav16", "wav24", "wav32f", "flac16", "flac24"};

} // namespace

std::string_view name(SampleFormat format) {
    return names.of(format);
}

std::optional<SampleFormat> sampleFormatNamed(std::string_view text) {
    return names.named(text);
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
