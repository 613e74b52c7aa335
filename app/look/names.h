#pragma once

/// Names that are said in more than one place and never shown: a setting is written here and read there, an action
/// is made in a menu and triggered by a button. What only one place says stays there.
namespace lampo::names {

inline constexpr char recent[] = "recent";
inline constexpr char windowGeometry[] = "window/geometry";
inline constexpr char windowStop[] = "window/stop";
inline constexpr char windowNight[] = "window/night";
inline constexpr char nudgeAmount[] = "nudge/amount";
inline constexpr char nudgeUnit[] = "nudge/unit";
inline constexpr char seamRunUp[] = "seams/run-up";
inline constexpr char proofPlays[] = "proof/plays";
inline constexpr char proofLoops[] = "proof/loops";
inline constexpr char proofRunUp[] = "proof/run-up";
inline constexpr char printFormat[] = "print/format";
inline constexpr char printNames[] = "print/names";
inline constexpr char seamAfterChange[] = "seams/after-change";

inline constexpr char nextTake[] = "next-take";
inline constexpr char keepTry[] = "keep-try";
inline constexpr char layRated[] = "lay-rated";
inline constexpr char suggestComp[] = "suggest-comp";

inline constexpr char versionsList[] = "Versions";
inline constexpr char printFolder[] = "Print folder";
inline constexpr char guideBox[] = "Guide";

} // namespace lampo::names
