#pragma once

#include <cstddef>
#include <cstdint>

/// What there may be at most. Whatever can be made within these can be saved and opened again, and is computed in
/// reasonable time. Everything that reads, edits or imports asks here.
namespace lampo::limits {

inline constexpr std::size_t text = 4096;          ///< bytes of a name, a note, a path
inline constexpr std::int64_t frames = 0x7fffffff; ///< of a song, a file, an offset: 12 hours at 48 kHz
inline constexpr std::size_t changes = 10000;      ///< of tempo, of meter; sections; passages; pieces by hand
inline constexpr std::size_t mics = 64;            ///< of a kit: sets of them are bits of one number
inline constexpr std::size_t corrections = 100000; ///< corrections of a session
inline constexpr std::size_t versions = 1000;      ///< versions of a session
inline constexpr int bars = 1000000;               ///< the last bar
inline constexpr int lowestRate = 8000;            ///< Hz
inline constexpr int highestRate = 384000;         ///< Hz

/// A number that the user sets: edits, projects, the command line and every control take it from here.
struct Setting {
    const char* unit;    ///< as it is shown
    double low;          ///< the smallest value that is taken
    double high;         ///< the largest value that is taken
    double defaultValue; ///< where nobody said otherwise
    double step;         ///< of a control's arrow
    /// Not so for what is no number.
    constexpr bool holds(double value) const { return low <= value && value <= high; }
};

inline constexpr Setting threshold{"dB", -60, 0, -24, 0.5}; ///< relative to a mic's typical strong hit
inline constexpr Setting shortestGap{"ms", 10, 500, 40, 5}; ///< attacks of a guide nearer than this are one
inline constexpr Setting bandWeight{"", 0.05, 1, 1, 0.05};  ///< how much a band counts in detection, amplitude
inline constexpr Setting oneHit{"ms", 0, 100, 25, 1};       ///< wider, and strokes of a fast roll would be one
inline constexpr Setting nearFinest{"ms", 1, 500, 40, 1};   ///< how near to a line of the finest note a hit lies
inline constexpr Setting level{"dB", -60, 12, 0, 0.5};      ///< of playback
inline constexpr Setting tempo{"BPM", 10, 999, 120, 1};     ///< of the song, or from a place on
inline constexpr Setting beats{"beats", 1, 32, 4, 1};       ///< of a bar
inline constexpr Setting strength{"%", 0, 100, 100, 1};     ///< how much of the way to its line a hit moves
inline constexpr Setting swing{"%", 50, 75, 50, 1};         ///< where the second of two steps begins
inline constexpr Setting pocket{"ms", 0, 100, 0, 1};  ///< hits this near their lines stay where they were played
inline constexpr Setting reach{"ms", 0, 1000, 50, 5}; ///< hits farther from their lines stay
inline constexpr Setting reachInSteps{"steps", 0, 4, 1, 0.05}; ///< the same in steps of the grid
inline constexpr Setting feelAmount{"%", 0, 100, 100, 1};      ///< how much of a feel's bends is used
inline constexpr Setting companionNear{"ms", 1, 200, 40, 1};   ///< how near to a line a companion's attack draws it
inline constexpr Setting ease{"%", 0, 100, 0, 1};              ///< of a phrase
inline constexpr Setting passageMove{"ms", -10000, 10000, 0, 1}; ///< a shove, a slip
inline constexpr Setting smoothness{"%", 0, 100, 60, 5};         ///< of a map that follows the drummer
inline constexpr Setting leadIn{"ms", 0, 50, 10, 0.5};           ///< common practice, no source
inline constexpr Setting fade{"ms", 1, 50, 6, 0.5};              ///< common practice, no source
/// How many times its length a tail may become before it is marked; common practice, no source.
inline constexpr Setting stretch{"times", 1.01, 8, 1.25, 0.05};
inline constexpr Setting patchFade{"ms", 0.1, 500, 5, 0.5};     ///< of a patch; common practice, no source
inline constexpr Setting patchGain{"dB", -60, 24, 0, 0.5};      ///< of a patch
inline constexpr Setting strokeLevel{"dB", -40, 12, 0, 0.5};    ///< that strokes are brought to
inline constexpr Setting patchShift{"ms", -1000, 1000, 0, 0.1}; ///< of a patch, where it is typed
inline constexpr Setting patchBefore{"ms", -5e6, 5e6, 10, 1};   ///< how long before its hit a patch begins
inline constexpr Setting patchLength{"ms", 1, 5e6, 1000, 10};   ///< of a patch
inline constexpr Setting borrowBars{"bars", -999, 999, 0, 1};   ///< how far away a stretch is borrowed
/// How far against the other mics a stroke is shifted without a warning; common practice, no source.
inline constexpr Setting farShift{"ms", 0.5, 50, 5, 0.5};
inline constexpr Setting borderFade{"ms", 1, 500, 6, 0.5}; ///< of the crossfade at a border of two takes
// Places that are typed: what any rate's `frames` hold.
inline constexpr Setting barOne{"ms", -5e6, 5e6, 0, 1};      ///< where bar 1 lies against the begin of the click
inline constexpr Setting takeStart{"s", -5000, 5000, 0, 1};  ///< where a take begins on the click's time
inline constexpr Setting fileStart{"ms", -5e6, 5e6, 0, 1};   ///< where a file begins in its take
inline constexpr Setting runUp{"ms", 0, 10000, 1000, 100};   ///< before a seam that is listened to
inline constexpr Setting strongVelocity{"", 1, 127, 100, 1}; ///< of a note at a typical strong hit
inline constexpr Setting velocityBend{"", 0.5, 8, 2, 0.05};  ///< see VelocityCurve
inline constexpr Setting sampleLevel{"dB", -60, 24, 0, 0.5}; ///< of a stroke that a sample is played for
inline constexpr Setting sampleLater{"ms", -50, 50, 0, 0.1}; ///< of a sample, where it is typed
inline constexpr Setting midiKey{"", 0, 127, 36, 1};         ///< of a drum's notes
inline constexpr Setting nudge{"", 0.1, 9999, 100, 1};       ///< 100 samples: common practice, no source

} // namespace lampo::limits
