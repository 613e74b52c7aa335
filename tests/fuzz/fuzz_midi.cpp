#include "edits/edit.h"
#include "map/musical_map.h"
#include "midi/midi_feel.h"
#include "midi/tempo_map.h"

#include <cstdint>
#include <cstdlib>

using namespace lampo;

/// MIDI files are refused, or give maps that a session takes and whose bars come one after the other, and feels
/// that are ones.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto file = midiFromBytes({reinterpret_cast<const char*>(data), size}, "it");
    if (!file)
        return 0;
    if (const auto feel = feelOfMidi(*file, "it", "it"); feel && !isFeel(*feel))
        std::abort();
    if (const auto read = tempoMapOf(*file, {48000}, "it")) {
        Session session;
        session.rate = {48000};
        if (!edited(session, SetMap{read->map, "it"}))
            std::abort();
        const MusicalMap map(read->map, session.rate);
        for (int bar = -2; bar < 40; ++bar)
            if (!(map.barStart(bar) < map.barStart(bar + 1)))
                std::abort();
    }
    return 0;
}
