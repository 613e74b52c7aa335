#pragma once

#include "base/position.h"
#include "base/units.h"
#include "map/map_data.h"
#include "session/role.h"

#include <optional>
#include <string>
#include <string_view>

namespace lampo::cli {

// Values as they are typed; nothing where the text is none.

std::optional<double> numberIn(std::string_view text);
/// 1.5s, 20ms or 4800smp.
std::optional<SongFrame> timeIn(std::string_view text, SampleRate rate);
/// 7/8. Whether there is such a meter is for the edit to say.
std::optional<Meter> meterIn(const std::string& text);
/// kick, snare …
std::optional<Voice> voiceIn(const std::string& text);

} // namespace lampo::cli
