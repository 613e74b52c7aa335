#include "document/note_sounds.h"

#include "demo_kit/voices.h"

#include <map>

namespace lampo {
namespace {

using Sound = std::shared_ptr<const std::vector<float>>;

/// By General MIDI's percussion keys; what is none of a kit's is a stick.
demo::Drum drumOf(int key) {
    switch (key) {
    case 35:
    case 36:
        return demo::Drum::kick;
    case 38:
    case 40:
        return demo::Drum::snare;
    case 41:
    case 43:
        return demo::Drum::tomFloor;
    case 45:
    case 47:
    case 48:
    case 50:
        return demo::Drum::tomRack;
    case 42:
    case 44:
    case 46:
        return demo::Drum::hat;
    case 51:
    case 53:
    case 59:
        return demo::Drum::ride;
    case 49:
    case 57:
        return demo::Drum::crash;
    default:
        return demo::Drum::sticks;
    }
}

/// Made once for each rate.
Sound soundOf(demo::Drum drum, SampleRate rate) {
    static std::map<std::pair<demo::Drum, int>, Sound> made; // the window's thread alone
    Sound& sound = made[{drum, rate.hz}];
    if (!sound) {
        demo::Random random(1);
        sound = std::make_shared<const std::vector<float>>(demo::strike(drum, 0.9, rate.hz, random));
    }
    return sound;
}

} // namespace

std::shared_ptr<const NoteSounds> noteSoundsOf(const Session& session, const Outcome& outcome, MidiAs as) {
    NoteSounds sounds;
    for (const DrumNote& note : notesOf(session, outcome, session.midi, as)) {
        const auto velocity = static_cast<float>(note.velocity) / 127;
        sounds.push_back({note.at, velocity * velocity, soundOf(drumOf(note.key), session.rate)});
    }
    return std::make_shared<const NoteSounds>(std::move(sounds));
}

} // namespace lampo
