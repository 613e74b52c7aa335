#include "deliver/tables.h"

#include "deliver/report_json.h"

namespace lampo {
namespace {

using nlohmann::json;

/// In quotes where it holds what divides cells.
std::string cell(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos)
        return text;
    std::string quoted = "\"";
    for (const char c : text)
        quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + '"';
}

std::string textOf(const json& value) {
    if (value.is_null())
        return {};
    if (value.is_string())
        return value.get<std::string>();
    if (!value.is_array())
        return value.dump();
    std::string words; // of a list: apart by spaces
    for (const json& each : value)
        words += (words.empty() ? "" : " ") + textOf(each);
    return words;
}

std::string table(const json& rows, const std::vector<const char*>& columns) {
    std::string out;
    const auto line = [&](auto&& cellOf) {
        for (const char* column : columns)
            out += (column == columns.front() ? "" : ",") + cell(cellOf(column));
        out += "\r\n";
    };
    line([](const char* column) { return std::string(column); });
    for (const json& row : rows)
        line([&](const char* column) { return row.contains(column) ? textOf(row[column]) : std::string(); });
    return out;
}

/// One row for a drum, before and after side by side.
json figureRows(const json& drums) {
    json rows = json::array();
    for (const json& drum : drums) {
        json row{{"drum", drum["drum"]}, {"hits", drum["hits"]}};
        for (const char* when : {"before", "after"})
            for (const auto& [key, value] : drum[when].items())
                row[key + "_" + when] = value;
        rows.push_back(std::move(row));
    }
    return rows;
}

} // namespace

std::vector<PrintedText> tablesOf(const Session& session, const Analyses& analyses, const Outcome& outcome,
                                  const ProofSummary& figures, const std::filesystem::path& folder) {
    const json report = reportJson(session, analyses, outcome, &figures);
    return {{folder / "hits.csv", table(report["hits"], {"id", "take", "source", "landing", "voice", "mics",
                                                         "level_db", "bar", "beat", "state"})},
            {folder / "slices.csv",
             table(report["slices"], {"take", "source_start", "source_end", "result_start", "result_end"})},
            {folder / "seams.csv", table(report["seams"], {"start", "length", "kind", "by", "stretch", "again",
                                                           "dip_db", "ruled_dip_db", "ring_db"})},
            {folder / "figures.csv",
             table(figureRows(report["proof"]["drums"]),
                   {"drum", "hits", "mean_ms_before", "spread_ms_before", "worst_ms_before", "within_5_ms_before",
                    "mean_ms_after", "spread_ms_after", "worst_ms_after", "within_5_ms_after"})}};
}

} // namespace lampo
