#pragma once

#include <compare>
#include <concepts>
#include <cstddef>
#include <optional>
#include <string>

namespace lampo {

/// A place in one particular list, from 0. It counts and finds its element like a number, but no number becomes one
/// unsaid (`TakeIndex{3}`), and no place in another list does.
template <class Of>
struct Index {
    std::size_t value = 0; ///< from 0

    auto operator<=>(const Index&) const = default;
    /// As a number, for counting and finding.
    constexpr operator std::size_t() const { return value; } // NOLINT(google-explicit-constructor): it is to count
    /// The next place.
    constexpr Index& operator++() {
        ++value;
        return *this;
    }
};

/// Places in different lists do not compare.
template <class A, class B>
requires(!std::same_as<A, B>) bool operator==(Index<A>, Index<B>) = delete;
template <class A, class B>
requires(!std::same_as<A, B>) auto operator<=>(Index<A>, Index<B>) = delete;

struct Mic;
struct Take;
struct SongHit;

/// Among Session::mics, and in every list that is kept per mic.
using MicIndex = Index<Mic>;
/// Among Session::takes, and in every list that is kept per take.
using TakeIndex = Index<Take>;
/// Among the hits that sound in the song (Outcome::hits, Outcome::landings).
using HitIndex = Index<SongHit>;

/// What a take is called, 'A' to 'Z'.
struct TakeLetter {
    static constexpr char first = 'A'; ///< of all that takes can be called
    static constexpr char last = 'Z';  ///< and the last

    char value = first; ///< `first` to `last`

    auto operator<=>(const TakeLetter&) const = default;
    /// As it is shown.
    std::string text() const { return {value}; }
    /// None when it is no take's letter.
    static constexpr std::optional<TakeLetter> of(char letter) {
        return first <= letter && letter <= last ? std::optional(TakeLetter{letter}) : std::nullopt;
    }
};

} // namespace lampo
