#pragma once

#include "base/enum_names.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace lampo {

/// What a mic stands at. The order is that of a kit on paper: kick first, room last.
enum class Role { kick, snare, tom, hat, cymbal, overhead, room, other };

/// What a hit sounds like in the report: the drum a role stands for, or other.
enum class Voice { kick, snare, tom, hat, cymbal, other };

inline constexpr Role allRoles[] = {Role::kick,   Role::snare,    Role::tom,  Role::hat,
                                    Role::cymbal, Role::overhead, Role::room, Role::other};

/// As projects and reports have it.
inline constexpr EnumNames<Role, Role::other> roleNames{"kick",   "snare",    "tom",  "hat",
                                                        "cymbal", "overhead", "room", "other"};
std::string_view name(Role role);
/// As projects, reports and the command line have it.
inline constexpr EnumNames<Voice, Voice::other> voiceNames{"kick", "snare", "tom", "hat", "cymbal", "other"};
std::string_view name(Voice voice);
inline constexpr std::size_t voiceCount = voiceNames.count;
Voice voiceOf(Role role);

/// What a file name says about its mic.
struct RoleGuess {
    Role role = Role::other; ///< its drum, or what it hears
    /// Among mics of one drum the one that hears the attack best comes first: a trigger (−1) before every mic, kick
    /// inside before outside, snare top before bottom.
    int place = 0;
    /// Tells toms apart (rack 1, rack 2, floor …) and is 0 for all else.
    int number = 0;

    bool operator==(const RoleGuess&) const = default;
};

/// Guesses from names in common use ("Kick In", "sn_top", "rack-1", "OH L"); unknown names are Role::other.
RoleGuess guessRole(std::string_view stem);
/// The name is that of something beside the kit: a bass, a guitar, a loop, a click.
bool soundsBesideTheKit(std::string_view stem);

/// Near one drum: the mics that tell when it was struck.
bool isCloseMic(Role role);
/// Hats and cymbals.
bool isMetal(Role role);

} // namespace lampo
