#include "deliver/printed_files.h"

#include "base/text.h"
#include "deliver/print_names.h"
#include "session/pieces.h"
#include "session/recording_files.h"

#include <algorithm>
#include <chrono>
#include <ctime>
#include <fmt/chrono.h>
#include <fmt/core.h>
#include <set>

namespace lampo {
namespace {

namespace fs = std::filesystem;

Expected<void> checkFolder(const Session& session, const fs::path& folder) {
    const auto holdsSource = [&](const SourceFile& source) {
        std::error_code ignored;
        return !source.empty() && fs::equivalent(source.file.parent_path(), folder, ignored);
    };
    for (const Take& take : session.takes)
        if (std::any_of(take.files.begin(), take.files.end(), holdsSource))
            return fail(
                ErrorKind::unwritable,
                fmt::format(
                    "The folder {} holds the recording itself, which is never written to; choose another one",
                    quotedName(folder)));
    return {};
}

/// Of a mic whose name is none of a file's nothing can be called.
Expected<std::vector<MicIndex>> micsOf(const Session& session, const PrintSettings& settings) {
    std::vector<MicIndex> mics;
    for (MicIndex mic; mic < session.mics.size(); ++mic)
        if ((settings.mics & onlyMic(mic)) != 0) {
            if (!isFileName(session.mics[mic].stem))
                return fail(ErrorKind::badValue,
                            fmt::format("The mic \"{}\" cannot be printed: its name is not that of a file",
                                        visible(session.mics[mic].stem)));
            mics.push_back(mic);
        }
    return mics;
}

bool anyIsThere(const PrintList& list) {
    const auto isThere = [](const fs::path& file) {
        std::error_code ignored;
        return !file.empty() && fs::exists(fs::symlink_status(file, ignored));
    };
    return isThere(list.about) || std::any_of(list.sounds.begin(), list.sounds.end(),
                                              [&](const PrintedFile& sound) { return isThere(sound.file); });
}

class Naming {
public:
    Naming(const Session& session, const PrintSettings& settings) : settings_(settings) {
        const CalendarTime at = settings.at ? *settings.at : calendarNow();
        values_ = {session.title, "", takesIn(session, printedRange(session, settings)),
                   settings.version.empty() ? "present" : settings.version, at.date};
    }

    Expected<void> add(PrintedFile file, const std::string& mic) {
        values_[static_cast<std::size_t>(NamePart::mic)] = mic;
        auto name = nameFrom(settings_.names, values_);
        if (!name)
            return tl::unexpected(name.error());
        names_.push_back(std::move(*name));
        list_.sounds.push_back(std::move(file));
        return {};
    }

    /// The smallest number that is free for all of them, where that is wanted and one is taken.
    PrintList named() && {
        nameAll("");
        constexpr int most = 100000;
        if (settings_.earlier == Earlier::number)
            for (int number = 2; number < most && anyIsThere(list_); ++number)
                nameAll(fmt::format(" {}", number));
        return std::move(list_);
    }

private:
    void nameAll(const std::string& behind) {
        for (std::size_t i = 0; i < names_.size(); ++i)
            list_.sounds[i].file =
                settings_.folder / (names_[i] + behind + std::string(extension(settings_.format)));
        if (settings_.about)
            list_.about = settings_.about->file.parent_path() / (settings_.about->file.stem().string() + behind +
                                                                 settings_.about->file.extension().string());
    }

    const PrintSettings& settings_;
    NameValues values_;
    PrintList list_;
    std::vector<std::string> names_;
};

/// Every file of the print may be written, and none of them twice.
Expected<void> checkFiles(const Session& session, const PrintSettings& settings, const PrintList& list) {
    ProtectedFiles printed;
    const ProtectedFiles recording = recordingFiles(session);
    const auto check = [&](const fs::path& file) -> Expected<void> {
        return recording.mayWrite(file)
            .and_then([&] { return settings.protectedFiles.mayWrite(file); })
            .and_then([&] { return printed.mayWrite(file); })
            .map([&] { printed.add(file, "another file of this print"); });
    };
    for (const PrintedFile& file : list.sounds)
        if (auto checked = check(file.file); !checked)
            return checked;
    for (const PrintedText& text : settings.texts)
        if (auto checked = check(text.file); !checked)
            return checked;
    return list.about.empty() ? Expected<void>{} : check(list.about);
}

} // namespace

CalendarTime calendarNow() {
    const std::time_t now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    const std::tm local = fmt::localtime(now);
    return {fmt::format("{:%Y-%m-%d}", local), fmt::format("{:%H:%M:%S}", local)};
}

Range<ResultFrame> printedRange(const Session& session, const PrintSettings& settings) {
    const Range<ResultFrame> song{ResultFrame{0}, ResultFrame{session.length().frames}};
    return settings.range ? settings.range->intersected(song) : song;
}

std::string takesIn(const Session& session, Range<ResultFrame> range) {
    std::set<TakeIndex> takes;
    for (const Piece& piece : piecesOf(session))
        if (piece.take && !piece.range.intersected({asSong(range.begin), asSong(range.end)}).empty())
            takes.insert(*piece.take);
    return takes.size() == 1 ? session.takes[*takes.begin()].letter.text() : "comp";
}

SampleFormat formatOf(const PrintedFile& file, const PrintSettings& settings) {
    SampleFormat format = settings.format;
    const std::string ending = file.file.extension().string();
    if (ending != extension(format))
        format.container = containerOf(ending).value_or(format.container);
    return format;
}

bool replacesEarlier(const Session& session, const PrintSettings& settings) {
    PrintSettings replacing = settings;
    replacing.earlier = Earlier::replace;
    const auto list = printedFiles(session, replacing);
    return list && anyIsThere(*list);
}

Expected<PrintList> printedFiles(const Session& session, const PrintSettings& settings) {
    if (auto fit = checkFolder(session, settings.folder); !fit)
        return tl::unexpected(fit.error());
    const auto mics = micsOf(session, settings);
    if (!mics)
        return tl::unexpected(mics.error());
    using Holds = PrintedFile::Holds;
    Naming naming(session, settings);
    Expected<void> added;
    const auto add = [&](PrintedFile file, const std::string& mic) {
        if (added)
            added = naming.add(std::move(file), mic);
    };
    if (settings.polyphonic && !mics->empty())
        add({Holds::mics, *mics}, "kit");
    else
        for (const MicIndex mic : *mics)
            add({Holds::mics, {mic}}, session.mics[mic].stem);
    for (std::size_t companion = 0; companion < session.companions.size() && settings.companions; ++companion)
        add({Holds::companion, {}, companion}, session.companions[companion].name);
    if (settings.click)
        add({Holds::click}, "click");
    for (std::size_t sample = 0; sample < settings.samples.size(); ++sample)
        add({Holds::sample, {}, sample}, settings.samples[sample].name);
    if (!added)
        return tl::unexpected(added.error());
    PrintList list = std::move(naming).named();
    if (!settings.mix.empty())
        list.sounds.push_back({Holds::mix, {}, 0, settings.mix});
    if (!settings.mix.empty() && !containerOf(settings.mix.extension().string()))
        return fail(ErrorKind::badValue,
                    fmt::format("The mix {} would be no file that is known here: let its name end in "
                                ".wav, .aiff or .flac",
                                quotedName(settings.mix)));
    if (list.sounds.empty())
        return fail(ErrorKind::badValue, "Nothing is chosen to be printed");
    if (printedRange(session, settings).empty())
        return fail(ErrorKind::badValue, "What is to be printed lies outside the song");
    return checkFiles(session, settings, list).map([&] { return std::move(list); });
}

} // namespace lampo
