#include "deliver/proof_report.h"

#include "base/text.h"
#include "deliver/summary_json.h"
#include "map/musical_map.h"
#include "proof/entries.h"

#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

using nlohmann::json;

json micsJson(const Session& session, MicSet mics) {
    json stems = json::array();
    for (MicIndex mic; mic < session.mics.size(); ++mic)
        if (mics & onlyMic(mic))
            stems.push_back(session.mics[mic].stem);
    return stems;
}

std::string ms(Milliseconds time) {
    return withMinus(time.value, 1);
}

/// One drum's figures, as cells.
std::vector<std::string> cellsOf(const DrumFigures& drum) {
    const auto figures = [](const Tightness& t) {
        return std::vector{ms(t.spread), ms(t.worst), fmt::format("{:.0f} %", 100 * t.withinFive)};
    };
    std::vector cells{std::string(name(drum.voice)), std::to_string(drum.after.hits)};
    for (const Tightness& each : {drum.before, drum.after})
        for (std::string& cell : figures(each))
            cells.push_back(std::move(cell));
    return cells;
}

const std::vector<std::string> headings{"drum",
                                        "hits",
                                        "spread before, ms",
                                        "worst before, ms",
                                        "within 5 ms before",
                                        "spread after, ms",
                                        "worst after, ms",
                                        "within 5 ms after"};

std::string whatWasDone(const ProofSummary& summary) {
    std::string takes;
    for (const std::string& take : summary.takes)
        takes += (takes.empty() ? "" : ", ") + take;
    return fmt::format("{} of {} {}, {}, {}", counted(static_cast<std::int64_t>(summary.hits), "hit"),
                       summary.takes.size() == 1 ? "take" : "takes", takes,
                       counted(static_cast<std::int64_t>(summary.seams), "seam"),
                       counted(static_cast<std::int64_t>(summary.patches), "patch", "patches"));
}

struct OpenPlace {
    std::string gravity, text;
};

/// What nobody called fine, the worst first.
std::vector<OpenPlace> openPlaces(const Session& session, const Proof& proof) {
    std::vector<OpenPlace> lines;
    for (const ProofEntry& entry : entriesOf(proof.places, MusicalMap(session.map, session.rate))) {
        if (entry.state == ProofState::fine)
            continue;
        const std::string& note = proof.places[entry.places.front()].note;
        lines.push_back({trimmedNumber(entry.gravity, 1),
                         entry.text + (entry.state == ProofState::later ? " (for later)" : "") +
                             (note.empty() ? "" : fmt::format(" [{}]", note))});
    }
    return lines;
}

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text)
        out += c == '<' ? std::string("&lt;") : c == '&' ? "&amp;" : c == '>' ? "&gt;" : std::string(1, c);
    return out;
}

std::string titleOf(const Session& session) {
    return session.title.empty() ? std::string("A drum recording") : visible(session.title);
}

} // namespace

std::string proofReport(const Session& session, const Proof& proof) {
    json places = json::array();
    for (const ProofPlace& place : proof.places)
        places.push_back({{"at", place.where.begin.frame},
                          {"length", place.where.length().frames},
                          {"kind", proofKindNames.of(place.kind)},
                          {"gravity", std::round(place.gravity() * 100) / 100},
                          {"text", place.text},
                          {"mics", micsJson(session, place.mics)},
                          {"state", proofStateNames.of(place.state)}});
    const json report{{"schema", "lampo-proof-1"},
                      {"sample_rate", session.rate.hz},
                      {"length", session.length().frames},
                      {"places", places},
                      {"summary", summaryJson(proof.summary)}};
    return report.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string figuresText(const ProofSummary& summary) {
    std::string text = fmt::format("{}\n\n", whatWasDone(summary));
    const auto row = [&](const std::vector<std::string>& cells) {
        for (std::size_t cell = 0; cell < cells.size(); ++cell)
            text += fmt::format("{:>{}}", cells[cell], cell == 0 ? 8 : headings[cell].size() + 2);
        text += '\n';
    };
    row(headings);
    for (const DrumFigures& drum : summary.drums)
        row(cellsOf(drum));
    return text;
}

std::string summaryText(const Session& session, const Proof& proof) {
    std::string text = fmt::format("{}: the proof\n\n", titleOf(session)) + figuresText(proof.summary);
    const auto open = openPlaces(session, proof);
    text += open.empty() ? "\nNothing is open.\n" : "\nOpen, the worst first (0 to 10):\n";
    for (const OpenPlace& place : open)
        text += fmt::format("{:>5}  {}.\n", place.gravity, place.text);
    return text;
}

std::string summaryPage(const Session& session, const Proof& proof) {
    std::string rows;
    const auto row = [&](const std::vector<std::string>& cells, const char* tag) {
        rows += "<tr>";
        for (const std::string& cell : cells)
            rows += fmt::format("<{0}>{1}</{0}>", tag, escaped(cell));
        rows += "</tr>\n";
    };
    row(headings, "th");
    for (const DrumFigures& drum : proof.summary.drums)
        row(cellsOf(drum), "td");
    std::string list;
    for (const OpenPlace& place : openPlaces(session, proof))
        list += fmt::format("<li><b>{}</b> {}.</li>\n", place.gravity, escaped(place.text));
    const std::string title = escaped(titleOf(session));
    return fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>{0}: the proof</title>\n"
        "<style>body{{font-family:serif;max-width:60em;margin:2em auto;color:#222;background:#faf6ec}}"
        "td,th{{padding:.2em .8em;text-align:right}}td:first-child{{text-align:left}}"
        "th{{border-bottom:1px solid #222;font-weight:normal}}</style></head>\n<body><h1>{0}</h1>\n"
        "<p>{1}.</p>\n<table>\n{2}</table>\n<h2>{3}</h2>\n<ul>\n{4}</ul></body></html>\n",
        title, escaped(whatWasDone(proof.summary)), rows,
        list.empty() ? "Nothing is open" : "Open, the worst first (0 to 10)", list);
}

} // namespace lampo
