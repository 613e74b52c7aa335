#pragma once

#include "audio/window_reader.h"
#include "base/position.h"
#include "session/session.h"

#include <memory>
#include <span>

namespace lampo {

/// One companion as it sounds in the result: it goes through the form as the takes do, faded where the recording
/// does not go on. One thread at a time.
class CompanionSound {
public:
    /// Errors: those of AudioReader::open.
    static Expected<CompanionSound> open(const Session& session, const Companion& companion);

    /// Adds it, without its level, to mono sound that begins at `at`. Errors: those of AudioReader.
    Expected<void> add(ResultFrame at, std::span<float> sound);

private:
    CompanionSound(SampleRate rate, Form form, std::unique_ptr<WindowReader> reader)
        : rate_(rate), form_(std::move(form)), reader_(std::move(reader)) {}
    Expected<void> addPart(FrameCount moved, Range<SongFrame> within, SongFrame begin, std::span<float> sound);

    SampleRate rate_;
    Form form_;
    std::unique_ptr<WindowReader> reader_;
};

} // namespace lampo
