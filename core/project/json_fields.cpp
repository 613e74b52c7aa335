#include "project/json_fields.h"

#include "base/limits.h"
#include "base/text.h"

#include <cmath>
#include <fmt/core.h>

namespace lampo::jsonfields {
namespace {

constexpr int deepestNesting = 16;

/// Nothing is left that the JSON writer would have to refuse or replace.
void makeUtf8(json& value) {
    if (value.is_string())
        value = asUtf8(value.get_ref<const std::string&>());
    else if (value.is_structured())
        for (json& inner : value)
            makeUtf8(inner);
}

} // namespace

void requireSchema(const json& object, std::string_view schema) {
    if (text(object, "schema") != schema)
        throw Damage{"it was written by a newer or another program"};
}

const json& member(const json& object, const char* key) {
    if (!object.is_object() || !object.contains(key))
        throw Damage{fmt::format("\"{}\" is missing", key)};
    return object[key];
}

double number(const json& object, const char* key, double low, double high) {
    const json& value = member(object, key);
    const double result = value.is_number() ? value.get<double>() : std::nan("");
    if (!(low <= result && result <= high))
        throw Damage{fmt::format("\"{}\" is not a number in its range", key)};
    return result;
}

double number(const json& object, const char* key, const limits::Setting& setting) {
    return number(object, key, setting.low, setting.high);
}

std::int64_t whole(const json& object, const char* key, std::int64_t low, std::int64_t high) {
    const json& value = member(object, key);
    if (!value.is_number_integer())
        throw Damage{fmt::format("\"{}\" is not a whole number", key)};
    return static_cast<std::int64_t>(number(object, key, static_cast<double>(low), static_cast<double>(high)));
}

bool truth(const json& object, const char* key) {
    const json& value = member(object, key);
    if (!value.is_boolean())
        throw Damage{fmt::format("\"{}\" is neither true nor false", key)};
    return value.get<bool>();
}

std::string anyText(const json& value, const char* what) {
    auto bytes = value.is_string() ? bytesOfUtf8(value.get_ref<const std::string&>()) : std::nullopt;
    if (!bytes)
        throw Damage{fmt::format("\"{}\" is not a text", what)};
    return *bytes;
}

std::string text(const json& object, const char* key) {
    std::string value = anyText(member(object, key), key);
    if (value.size() > limits::text)
        throw Damage{fmt::format("\"{}\" is not a text", key)};
    return value;
}

TakeLetter letter(const json& object, const char* key) {
    const std::string value = text(object, key);
    const auto letter = value.size() == 1 ? TakeLetter::of(value.front()) : std::nullopt;
    if (!letter)
        throw Damage{fmt::format("\"{}\" is not a letter", key)};
    return *letter;
}

std::int64_t wholeOr(const json& object, const char* key, std::int64_t otherwise, std::int64_t low,
                     std::int64_t high) {
    return object.contains(key) ? whole(object, key, low, high) : otherwise;
}

json parseLimited(std::string_view source) {
    bool tooDeep = false;
    const json::parser_callback_t shallow = [&](int depth, json::parse_event_t, json&) {
        tooDeep = tooDeep || depth > deepestNesting;
        return !tooDeep;
    };
    json parsed = json::parse(source, shallow, false);
    if (parsed.is_discarded() || tooDeep)
        throw Damage{"it is not a complete project text"};
    return parsed;
}

std::string written(json value, int indent) {
    makeUtf8(value);
    return value.dump(indent) + "\n";
}

} // namespace lampo::jsonfields
