#include "deliver/about_print.h"

#include "base/text.h"
#include "deliver/printed_files.h"
#include "deliver/proof_report.h"
#include "map/musical_map.h"

#include <fmt/core.h>

namespace lampo {
namespace {

std::string stretchOf(const Session& session, const PrintSettings& settings) {
    if (!settings.range)
        return "the whole song";
    const MusicalMap map(session.map, session.rate);
    const auto place = [&](ResultFrame at) {
        const BarBeat where = map.barBeat(asSong(at));
        return fmt::format("{}.{}", where.bar, trimmedNumber(where.beat, 2));
    };
    const Range<ResultFrame> range = printedRange(session, settings);
    return fmt::format("from bar {} to bar {}", place(range.begin), place(range.end));
}

std::string formatOf(const Session& session, const PrintSettings& settings) {
    const int bits = integerBits(settings.format);
    const Dither dither = settings.dither.value_or(usualDither(settings.format));
    return fmt::format("{}, {}, {} Hz{}", containerNames.of(settings.format.container),
                       bits == 0 ? std::string("32 bits, floating point") : fmt::format("{} bits", bits),
                       settings.rate.value_or(session.rate).hz,
                       bits > 0 && dither == Dither::tpdf ? ", dithered where it was not whole" : "");
}

std::string timingOf(const Session& session) {
    const TimingSettings& timing = session.timing;
    return fmt::format("grid {}, strength {} %, swing {} %, pocket {} ms, lead-in {} ms, fades {} ms, holes are {}",
                       name(timing.grid), trimmedNumber(timing.strength, 1), trimmedNumber(timing.swing, 1),
                       trimmedNumber(timing.pocket.value, 1), trimmedNumber(session.seams.leadIn.value, 1),
                       trimmedNumber(session.seams.fade.value, 1), whatBecomes(session.seams.fill));
}

} // namespace

std::string aboutPrint(const Session& session, const PrintSettings& settings, const ProofSummary& figures,
                       bool heard) {
    const CalendarTime at = settings.at ? *settings.at : calendarNow();
    std::string text =
        fmt::format("{}\n\nPrinted    {} {}, {}\nFormat     {}\nSettings   {}\n",
                    session.title.empty() ? "A drum recording" : visible(session.title), at.date, at.time,
                    stretchOf(session, settings), formatOf(session, settings), timingOf(session));
    for (const Take& take : session.takes)
        if (session.sounds(*session.takeLettered(take.letter)))
            text += fmt::format("Take {}     {}\n", take.letter.text(), visible(take.folder.string()));
    text += "\n" + figuresText(figures);
    text += heard ? "Figures are measured in the sound.\n"
                  : "Figures are by the marks of the hits; the sound was not measured.\n";
    return text + "\nFiles, each with its checksum (xxh128sum --check reads these lines):\n";
}

} // namespace lampo
