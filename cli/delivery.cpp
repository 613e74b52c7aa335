#include "delivery.h"

#include "base/text.h"
#include "deliver/about_print.h"
#include "deliver/report.h"
#include "deliver/tables.h"
#include "interchange/timeline_json.h"
#include "proof/proof.h"

#include <algorithm>
#include <charconv>
#include <fmt/core.h>

namespace lampo::cli {
namespace {

namespace fs = std::filesystem;

/// As the names of formats end; "32" is floating point as well, since no other 32 bits are written.
std::optional<Encoding> bitsIn(const std::string& text) {
    return text == "32" ? Encoding::float32 : encodingNames.named(text);
}

std::string checkBits(const std::string& text) {
    return bitsIn(text) ? "" : "bits are 16, 24 or 32f";
}

/// "wav24", or a container alone: of 24 bits, unless others are asked for.
std::optional<SampleFormat> formatIn(const std::string& text) {
    const auto container = containerNames.named(text);
    return container ? std::optional(SampleFormat{*container, Encoding::int24}) : formatNamed(text);
}

/// "9-16" or "9": bars, from the first to the last.
std::optional<std::pair<int, int>> barsIn(std::string_view text) {
    const auto whole = [](std::string_view digits) -> std::optional<int> {
        int bar = 0;
        const auto read = std::from_chars(digits.data(), digits.data() + digits.size(), bar);
        const bool fits =
            read.ec == std::errc{} && read.ptr == digits.data() + digits.size() && bar <= limits::bars;
        return fits && bar >= -limits::bars ? std::optional(bar) : std::nullopt;
    };
    const auto dash = text.find('-', 1);
    const auto first = whole(text.substr(0, dash));
    const auto last = dash == std::string_view::npos ? first : whole(text.substr(dash + 1));
    return first && last && *first <= *last ? std::optional(std::pair(*first, *last)) : std::nullopt;
}

std::string checkBars(const std::string& text) {
    return barsIn(text) ? "" : "bars are FIRST-LAST, as 9-16";
}

std::vector<std::string> formatWords() {
    std::vector<std::string> words;
    for (const SampleFormat format : allSampleFormats)
        words.push_back(name(format));
    words.insert(words.end(), containerNames.words.begin(), containerNames.words.end());
    return words;
}

void addSound(CLI::App& command, Delivery& delivery) {
    command.add_option("--format", delivery.format, "what the files are written as")
        ->check(CLI::IsMember(formatWords()))
        ->capture_default_str()
        ->group("Print");
    command.add_option("--bits", delivery.bits, "of a sample, in place of the format's; 32 is floating point")
        ->check(checkBits)
        ->group("Print");
    command.add_option("--rate", delivery.rate, "Hz; otherwise the recording's")
        ->check(CLI::Range(limits::lowestRate, limits::highestRate))
        ->group("Print");
    command
        .add_option("--dither", delivery.dither,
                    "none or tpdf, for what whole numbers cannot hold; otherwise tpdf at 16 bits")
        ->check(isOneOf(ditherNames))
        ->group("Print");
}

void addChoice(CLI::App& command, Delivery& delivery) {
    command
        .add_option("--names", delivery.names,
                    "what files are called, with {song}, {mic}, {take}, {version} and {date}")
        ->capture_default_str()
        ->group("Print");
    command.add_option("--bars", delivery.bars, "FIRST-LAST: print only these")->check(checkBars)->group("Print");
    command.add_option("--mics", delivery.mics, "print only these: file names without ending")
        ->delimiter(',')
        ->allow_extra_args(false)
        ->group("Print");
    command.add_flag("--one-file", delivery.oneFile, "all mics as channels of one file")->group("Print");
    command.add_flag("--companions", delivery.companions, "print what is beside the kit as well")->group("Print");
    command.add_flag("--click", delivery.click, "print the click as well")->group("Print");
    command.add_flag("--markers", delivery.markers, "sections as named places in WAV and AIFF files")
        ->group("Print");
    command.add_flag("--about", delivery.about, "a text beside the files: settings, figures, checksums")
        ->group("Print");
    command.add_option("--existing", delivery.existing, "files of these names: replace or number")
        ->check(isOneOf(earlierNames))
        ->capture_default_str()
        ->group("Print");
}

void addOthers(CLI::App& command, Delivery& delivery) {
    command.add_option("--mix", delivery.mix, "a stereo mix to listen to, as playback has it")->group("Besides");
    command.add_option("--midi", delivery.midi, "the hits as notes, with the tempo map: a MIDI file")
        ->group("Besides");
    command.add_option("--midi-as", delivery.midiAs, "where the notes lie: played or landed")
        ->check(isOneOf(midiAsNames))
        ->capture_default_str()
        ->group("Besides");
    command
        .add_option("--interchange", delivery.interchange,
                    "the edit before it is rendered, every cut and fade, as OpenTimelineIO's JSON")
        ->group("Besides");
    command.add_option("--csv", delivery.csv, "folder for hits, slices, seams and figures as tables")
        ->group("Besides");
}

Expected<Range<ResultFrame>> rangeOf(const Session& session, const std::string& bars) {
    const auto [first, last] = *barsIn(bars);
    const MusicalMap map(session.map, session.rate);
    const Range<ResultFrame> range{asResult(map.barStart(first)), asResult(map.barStart(last + 1))};
    if (range.intersected({ResultFrame{0}, ResultFrame{0} + session.length()}).empty())
        return fail(ErrorKind::badValue, fmt::format("Bars {} lie outside the song", bars));
    return range;
}

Expected<MicSet> micsOf(const Session& session, const std::vector<std::string>& stems) {
    MicSet mics = stems.empty() ? allMics : 0;
    for (const std::string& stem : stems) {
        const auto mic = session.micNamed(stem);
        if (!mic)
            return fail(ErrorKind::badValue, fmt::format("There is no mic {} to print", stem));
        mics |= onlyMic(*mic);
    }
    return mics;
}

Expected<PrintSettings> settingsOf(const Session& session, const Options& options, const Delivery& delivery) {
    PrintSettings settings{delivery.out, *formatIn(delivery.format), {}, inputFiles(options)};
    if (delivery.bits)
        settings.format.encoding = *bitsIn(*delivery.bits);
    if (delivery.rate)
        settings.rate = SampleRate{*delivery.rate};
    if (delivery.dither)
        settings.dither = ditherNames.named(*delivery.dither);
    settings.names = delivery.names;
    settings.polyphonic = delivery.oneFile;
    settings.companions = delivery.companions;
    settings.click = delivery.click;
    settings.markers = delivery.markers;
    settings.earlier = *earlierNames.named(delivery.existing);
    settings.mix = delivery.mix;
    settings.at = calendarNow();
    auto mics = micsOf(session, delivery.mics);
    if (!mics)
        return tl::unexpected(mics.error());
    settings.mics = *mics;
    if (delivery.bars) {
        auto range = rangeOf(session, *delivery.bars);
        if (!range)
            return tl::unexpected(range.error());
        settings.range = *range;
    }
    return settings;
}

/// A folder that is gone again when nothing was written into it.
class MadeFolder {
public:
    explicit MadeFolder(fs::path folder) : folder_(std::move(folder)) {
        std::error_code code;
        made_ = !folder_.empty() && fs::create_directories(folder_, code);
    }
    MadeFolder(const MadeFolder&) = delete;
    MadeFolder& operator=(const MadeFolder&) = delete;
    ~MadeFolder() {
        std::error_code notEmpty;
        if (made_)
            fs::remove(folder_, notEmpty);
    }

private:
    fs::path folder_;
    bool made_ = false;
};

void addTexts(const Options& options, const Prepared& prepared, const Delivery& delivery, const ProofSummary* proof,
              PrintSettings& settings) {
    const Session& session = prepared.session;
    const Outcome& outcome = *prepared.outcome;
    if (!options.report.empty())
        settings.texts.push_back(reportOf(options, prepared, proof));
    if (!delivery.midi.empty()) {
        const MidiAs as = *midiAsNames.named(delivery.midiAs);
        settings.texts.push_back({delivery.midi, midiBytes(hitsMidi(session, outcome, session.midi, as))});
    }
    if (!delivery.interchange.empty())
        settings.texts.push_back(
            {delivery.interchange,
             timelineText(timelineOf(session, *outcome.plan), fs::absolute(delivery.interchange).parent_path())});
    const ProofSummary figures = proof ? *proof : summaryOf(session, outcome, {});
    if (!delivery.csv.empty())
        for (PrintedText& table : tablesOf(session, prepared.analyses, outcome, figures, delivery.csv))
            settings.texts.push_back(std::move(table));
    if (delivery.about)
        settings.about = PrintedText{delivery.out / (asFileName(session.title + " print") + ".txt"),
                                     aboutPrint(session, settings, figures, proof != nullptr)};
}

} // namespace

void addDelivery(CLI::App& command, Delivery& delivery) {
    command.add_option("--out", delivery.out, "folder for the printed files")->required();
    addSound(command, delivery);
    addChoice(command, delivery);
    addOthers(command, delivery);
}

Expected<Delivered> deliver(const Options& options, const Prepared& prepared, const Delivery& delivery,
                            const Progress& progress) {
    auto settings = settingsOf(prepared.session, options, delivery);
    if (!settings)
        return tl::unexpected(settings.error());
    Delivered delivered{prepared.outcome->hits.size(), prepared.outcome->plan->seams.size(), 0};
    if (!options.report.empty()) {
        ProofMemory nothingHeard;
        auto proof = proofOf(prepared.session, *prepared.outcome, nothingHeard, progress);
        if (!proof)
            return tl::unexpected(proof.error());
        for (const ProofPlace& place : proof->places)
            delivered.openPlaces += place.state == ProofState::open ? 1 : 0;
        delivered.proof = std::move(proof->summary);
    }
    auto samples = sampleTracks(prepared.session, *prepared.outcome, progress);
    if (!samples)
        return tl::unexpected(samples.error());
    settings->samples = std::move(*samples);
    addTexts(options, prepared, delivery, delivered.proof ? &*delivered.proof : nullptr, *settings);
    const MadeFolder tables(delivery.csv);
    return print(prepared.session, prepared.outcome->plan, *settings, progress).map([&](const PrintList& list) {
        delivered.files = list.sounds.size();
        return delivered;
    });
}

} // namespace lampo::cli
