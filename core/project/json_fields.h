#pragma once

#include "base/indices.h"
#include "base/limits.h"

#include <nlohmann/json.hpp>
#include <fmt/core.h>

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Reading JSON that may be hostile: every value's presence, kind and range are checked.
namespace lampo::jsonfields {

using nlohmann::json;

inline constexpr std::size_t maxItems = 100000; ///< of any list; more is damage

/// Thrown and caught inside core/project only: a value that is missing, of the wrong kind or out of its range.
struct Damage {
    std::string what; ///< what is wrong, to be said after the file's name
};

/// The member "schema" says that the rest is what this program reads. Throws Damage.
void requireSchema(const json& object, std::string_view schema);
/// A member that must be there. Throws Damage, as all that follow do.
const json& member(const json& object, const char* key);
/// A finite number within a range.
double number(const json& object, const char* key, double low, double high);
/// A number within a setting's range.
double number(const json& object, const char* key, const limits::Setting& setting);
/// A whole number within a range.
std::int64_t whole(const json& object, const char* key, std::int64_t low, std::int64_t high);
/// One that may be left out.
std::int64_t wholeOr(const json& object, const char* key, std::int64_t otherwise, std::int64_t low,
                     std::int64_t high);
/// True or false.
bool truth(const json& object, const char* key);
/// At most limits::text bytes; as they were, also where they are no UTF-8 (see written()).
std::string text(const json& object, const char* key);
/// Of any length; `what` names it where it is none.
std::string anyText(const json& value, const char* what);
/// A to Z.
TakeLetter letter(const json& object, const char* key);

/// A list whose items `reader` reads one by one.
template <class Reader>
auto list(const json& object, const char* key, Reader&& reader) {
    const json& value = member(object, key);
    if (!value.is_array() || value.size() > maxItems)
        throw Damage{fmt::format("\"{}\" is not a list", key)};
    std::vector<decltype(reader(value))> items;
    items.reserve(value.size());
    for (const json& item : value)
        items.push_back(reader(item));
    return items;
}

/// A value that was known by its name.
template <class Value>
Value known(std::optional<Value> value, const char* key) {
    if (!value)
        throw Damage{fmt::format("\"{}\" is none of the known names", key)};
    return *value;
}

/// A list whose items `writer` writes one by one.
template <class List, class Writer>
json listJson(const List& items, Writer&& writer) {
    json out = json::array();
    for (const auto& item : items)
        out.push_back(writer(item));
    return out;
}

/// Throws Damage for what is no JSON or nested deeper than 16: the parser recurses by nesting.
json parseLimited(std::string_view source);
/// Text for a file, one line where `indent` is −1. Names that are not UTF-8 are written as asUtf8() does.
std::string written(json value, int indent = 1);

} // namespace lampo::jsonfields
