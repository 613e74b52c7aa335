#pragma once

#include "audio/window_reader.h"
#include "base/mic_set.h"
#include "session/session.h"

#include <memory>
#include <string>

namespace lampo {

/// The files of a session, opened when they are first asked for. Different mics may be read from different threads
/// at once; one mic from one thread at a time.
class KitReader {
public:
    /// What becomes of a file that cannot be read: an error of the call, or silence, for those who listen, and
    /// trouble() says why.
    enum class Unreadable { isAnError, isSilent };

    /// Opens no file yet.
    explicit KitReader(const Session& session, Unreadable unreadable = Unreadable::isAnError);

    /// The same files once more, read at places of their own: for those who read elsewhere at the same time. Made
    /// when it is first asked for, and kept.
    KitReader& beside();

    /// That everything is brought to.
    SampleRate rate() const { return rate_; }
    /// How many mics it reads.
    std::size_t mics() const { return mics_; }
    /// Reads what frames() would have to read for any of these mics of the take, several files at once: their waits
    /// for a disk or a network then add up to one. No other call at the same time. Errors: those of AudioReader.
    Expected<void> fetch(TakeIndex take, SourceFrame at, std::size_t count, MicSet mics = allMics);
    /// Frames of one mic of one take; silence outside the file and for a mic that the take lacks. Valid until the
    /// next call for the same take and mic. Errors: those of AudioReader.
    Expected<std::span<const float>> frames(TakeIndex take, MicIndex mic, SourceFrame at, std::size_t count);
    /// Of the first file, in the order of takes and mics, that is silent because it cannot be read; or empty.
    std::string trouble() const;

private:
    KitReader(SampleRate rate, Unreadable unreadable, std::size_t mics)
        : rate_(rate), unreadable_(unreadable), mics_(mics), silence_(mics) {}
    struct Source {
        SourceFile file;
        std::unique_ptr<WindowReader> reader;
        std::string trouble; ///< why it is silent
    };
    Expected<std::span<const float>> read(Source& source, SourceFrame at, std::size_t count) const;
    std::span<const float> silence(MicIndex mic, std::size_t count);

    SampleRate rate_;
    Unreadable unreadable_;
    std::size_t mics_;
    std::vector<Source> sources_; ///< take by take
    std::vector<std::vector<float>> silence_;
    std::unique_ptr<KitReader> beside_;
};

} // namespace lampo
