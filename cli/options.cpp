#include "options.h"

#include "audio/audio_reader.h"
#include "base/parallel.h"
#include "base/text.h"
#include "comp_option.h"
#include "deliver/report.h"
#include "import/import_plan.h"
#include "option_edits.h"
#include "option_values.h"
#include "pipeline/searched_seams.h"
#include "project/project_file.h"
#include "session/validate.h"

#include <algorithm>
#include <fmt/core.h>
#include <iostream>

namespace lampo::cli {
namespace {

CLI::Range rangeOf(const limits::Setting& setting) {
    return {setting.low, setting.high};
}

std::string checkTime(const std::string& text) {
    return timeIn(text, {48000}) ? "" : "TIME is a number with s, ms or smp, as 1.5s, 20ms or 4800smp";
}

std::string checkMeter(const std::string& text) {
    const auto meter = meterIn(text);
    return meter && edited(Session{}, SetMeter{*meter}) ? "" : "a meter is N/D, as 4/4 or 7/8";
}

std::string checkGrid(const std::string& text) {
    const auto value = noteValueNamed(text);
    return value && value->ofWhole() <= 0.375 && value->ofWhole() >= 1.0 / 96
               ? ""
               : "a grid is 1/4 to 1/64, with t for triplets (1/8t), d for dotted, q for quintuplets";
}

std::string checkTake(const std::string& text) {
    return takeOptionIn(text) ? "" : "a take is LETTER=DIR, as B=takes/second";
}

std::string checkComp(const std::string& text) {
    return compIn(text) ? "" : "a comp is LETTER:FROM-TO,… in bars, as A:1-8,B:9-12.3,A:12.3-32";
}

std::string checkThreshold(const std::string& text) {
    const auto split = text.rfind('=');
    const auto level =
        split == std::string::npos ? std::nullopt : numberIn(std::string_view(text).substr(split + 1));
    return level && limits::threshold.holds(*level)
               ? ""
               : fmt::format("a threshold is STEM=DB, from {} to {} dB", trimmedNumber(limits::threshold.low),
                             trimmedNumber(limits::threshold.high));
}

std::string checkVoice(const std::string& text) {
    return voiceIn(text) ? "" : "a drum is kick, snare, tom, hat, cymbal or other";
}

Expected<void> checkAllSamples(const Session& session, const Progress& progress) {
    std::vector<SourceFile> files;
    for (TakeIndex take; take < session.takes.size(); ++take)
        for (const SourceFile& file : session.takes[take].files)
            if (session.sounds(take) && !file.empty())
                files.push_back(file);
    return tryEachIndex(files.size(), [&](std::size_t i) -> Expected<void> {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Reading the files was stopped; nothing was written");
        return AudioReader::open(SourceFile(files[i].file, files[i].channel)).and_then([](AudioReader reader) {
            return checkSamples(reader);
        });
    });
}

/// INPUT with the takes beside it; what a take lacks is told on stderr.
Expected<Session> openAll(const Options& options) {
    std::optional<Session> session;
    if (!options.input.empty()) {
        auto opened = openMended(options.input, options.mend);
        if (!opened)
            return opened;
        session = std::move(*opened);
    }
    std::vector<TakeOption> takes;
    for (const std::string& text : options.takes)
        takes.push_back(*takeOptionIn(text));
    std::vector<std::string> missing;
    auto all = withTakes(std::move(session), takes, options.mend, missing);
    for (const std::string& sentence : missing)
        std::cerr << "lampo-cli: " << sentence << '\n';
    return all;
}

Expected<Session> applied(Session session, const std::vector<Edit>& edits) {
    for (const Edit& edit : edits) {
        auto next = edited(session, edit);
        if (!next)
            return next;
        session = std::move(*next);
    }
    return session;
}

void addRecordings(CLI::App& command, Options& options) {
    auto* sources = command.add_option_group("Recordings")->require_option(1, 0);
    sources->add_option("INPUT", options.input, "a .lampo project or a folder of mic files (one take)");
    sources
        ->add_option("--take", options.takes,
                     "LETTER=DIR: a take of the same mics; may be given several times, and instead of INPUT")
        ->allow_extra_args(false)
        ->check(checkTake);
    command
        .add_option("--comp", options.comp,
                    "which take sounds where, in bars: A:1-8,B:9-12.3,A:12.3-32 (12.3 is beat 3 of bar 12)")
        ->check(checkComp)
        ->group("Takes");
}

void addKit(CLI::App& command, Options& options) {
    addMend(command, options.mend);
    command.add_option("--kit", options.kit, "a kept kit: order, drums, guides and how each mic is listened to")
        ->group("Detection");
    command.add_option("--report", options.report, "write the edit as JSON");
}

void addDetection(CLI::App& command, Options& options) {
    command.add_option("--guide", options.guides, "mics to listen to: file names without ending")
        ->delimiter(',')
        ->allow_extra_args(false)
        ->group("Detection");
    command.add_option("--threshold", options.thresholds, "STEM=DB, relative to that mic's typical strong hit")
        ->allow_extra_args(false)
        ->check(checkThreshold)
        ->group("Detection");
    command.add_option("--one-hit", options.oneHit, "strokes of different drums this near are one hit, ms")
        ->check(rangeOf(limits::oneHit))
        ->group("Detection");
    command.add_option("--anchor", options.anchor, "which stroke of a hit lands: rank, loudest or middle")
        ->check(isOneOf(anchorNames))
        ->group("Detection");
    command.add_option("--min-gap", options.shortestGap, "shortest gap between hits of one mic, ms")
        ->check(rangeOf(limits::shortestGap))
        ->group("Detection");
}

void addMap(CLI::App& command, Options& options) {
    command
        .add_option("--tempo-map", options.tempoMap,
                    "tempos and meters of a Standard MIDI File; song time 0 is tick 0")
        ->group("Map");
    command.add_option("--tempo", options.tempo, "BPM")->check(rangeOf(limits::tempo))->group("Map");
    command.add_option("--meter", options.meter, "N/D")->check(checkMeter)->group("Map");
    command.add_option("--origin", options.origin, "where bar 1 beat 1 lies: 1.5s, 20ms or 4800smp")
        ->check(checkTime)
        ->group("Map");
}

void addTiming(CLI::App& command, Options& options) {
    command.add_option("--grid", options.grid, "1/4 to 1/64, with t for triplets, d for dotted, q for quintuplets")
        ->check(checkGrid)
        ->group("Timing");
    command.add_option("--strength", options.strength, "per cent")
        ->check(rangeOf(limits::strength))
        ->group("Timing");
    command.add_option("--swing", options.swing, "per cent of two steps, 50 (straight) to 75")
        ->check(rangeOf(limits::swing))
        ->group("Timing");
    command.add_option("--pocket", options.pocket, "ms around a line within which hits stay as played")
        ->check(rangeOf(limits::pocket))
        ->group("Timing");
    command.add_option("--pull", options.pull, "what a hit outside the pocket goes to: line or edge")
        ->check(isOneOf(pullNames))
        ->group("Timing");
    command.add_option("--reach", options.reach, "ms; what would move farther stays as played")
        ->check(rangeOf(limits::reach))
        ->group("Timing");
    command.add_option("--assign", options.assign, "which line a hit means: path (all hits at once) or nearest")
        ->check(isOneOf(assignNames))
        ->group("Timing");
    command
        .add_option("--land", options.land,
                    "drums that land: kick,snare,tom,hat,cymbal,other; the others ride along")
        ->delimiter(',')
        ->allow_extra_args(false)
        ->check(checkVoice)
        ->group("Timing");
    auto* feel =
        command
            .add_option("--feel", options.feel, "land on the feel of a file: one of ours or a MIDI file's notes")
            ->group("Timing");
    command.add_option("--feel-amount", options.feelAmount, "per cent of it")
        ->check(rangeOf(limits::feelAmount))
        ->needs(feel)
        ->group("Timing");
}

void addSeams(CLI::App& command, Options& options) {
    command.add_option("--lead-in", options.leadIn, "ms kept before each attack")
        ->check(rangeOf(limits::leadIn))
        ->group("Seams");
    command.add_option("--fade", options.fade, "ms")->check(rangeOf(limits::fade))->group("Seams");
    command.add_option("--fill", options.fill, "borrow, stretch or open")
        ->check(isOneOf(fillNames))
        ->group("Seams");
    command
        .add_option("--most-stretch", options.mostStretch,
                    "tails stretched to more times their length are warned about")
        ->check(rangeOf(limits::stretch))
        ->group("Seams");
    command.add_option("--curve", options.curve, "of fades: matched, equal-power, equal-gain or decibels")
        ->check(isOneOf(fadeCurveNames))
        ->group("Seams");
}

} // namespace

void addMend(CLI::App& command, bool& mend) {
    command.add_flag(
        "--mend", mend,
        "convert files of another rate, pad shorter ones, split stereo, take what lost its length with the "
        "power, leave out the unreadable");
}

Expected<Session> openMended(const std::filesystem::path& input, bool mend) {
    if (!mend || isProject(input))
        return openInput(input);
    return planImport({input}).and_then([](const ImportPlan& plan) {
        for (const ImportItem& item : plan.items)
            if (const std::string notice = plan.notice(item); !notice.empty())
                std::cerr << "lampo-cli: " << (item.error ? "" : quotedName(item.source.file) + ": ") << notice
                          << '\n';
        return sessionOf(plan);
    });
}

void addOptions(CLI::App& command, Options& options) {
    addRecordings(command, options);
    addSettings(command, options);
}

void addSettings(CLI::App& command, Options& options) {
    addKit(command, options);
    addDetection(command, options);
    addMap(command, options);
    addTiming(command, options);
    addSeams(command, options);
}

Expected<Prepared> prepare(const Options& options, const Progress& progress) {
    auto opened = openAll(options);
    if (!opened)
        return tl::unexpected(opened.error());
    if (opened->empty())
        return fail(ErrorKind::noAudio, fmt::format("The project {} holds no take", quotedName(options.input)));
    auto session = editsOf(options, *opened).and_then([&](const std::vector<Edit>& edits) {
        return applied(std::move(*opened), edits);
    });
    if (session && options.comp) // its bars are those of the map as it is now
        session = editsOf(*compIn(*options.comp), *session).and_then([&](const std::vector<Edit>& edits) {
            return applied(*session, edits);
        });
    if (!session)
        return tl::unexpected(session.error());
    Prepared prepared{std::move(*session), {}, {}};
    if (auto checked = checkAllSamples(prepared.session, progress); !checked)
        return tl::unexpected(checked.error());
    if (auto analysed = analyseMissing(prepared.session, prepared.analyses, Listen::toWitnesses, progress);
        !analysed)
        return tl::unexpected(analysed.error());
    auto joined = withSearchedSeams(prepared.session, prepared.analyses,
                                    outcomeOf(prepared.session, prepared.analyses), progress);
    if (!joined)
        return tl::unexpected(joined.error());
    prepared.outcome = std::move(*joined);
    return prepared;
}

PrintedText reportOf(const Options& options, const Prepared& prepared, const ProofSummary* proof) {
    return {options.report, reportText(prepared.session, prepared.analyses, *prepared.outcome, proof)};
}

ProtectedFiles inputFiles(const Options& options) {
    ProtectedFiles files;
    if (std::error_code code; std::filesystem::is_regular_file(options.input, code))
        files.add(options.input, "the project");
    files.add(options.tempoMap, "the tempo map");
    files.add(options.feel, "the feel");
    files.add(options.kit, "the kept kit");
    return files;
}

int finish(const Expected<void>& result) {
    if (result)
        return 0;
    std::cerr << "lampo-cli: " << result.error().sentence << '\n';
    return 1;
}

} // namespace lampo::cli
