#include "base/text.h"
#include "base/whole_file.h"
#include "commands.h"
#include "deliver/summary_json.h"
#include "delivery.h"
#include "project/project_file.h"
#include "songs.h"

#include <fmt/core.h>
#include <iostream>
#include <set>

namespace lampo::cli {
namespace {

namespace fs = std::filesystem;

/// What became of one song.
struct Song {
    fs::path input;
    std::string name; ///< of its folder
    Expected<Delivered> done = fail(ErrorKind::cancelled, "It was not begun");
};

/// Named by their last part, each once.
std::vector<Song> namedSongs(const std::vector<fs::path>& inputs) {
    std::vector<Song> songs;
    std::set<std::string> taken;
    for (const fs::path& input : inputs) {
        const fs::path plain = fs::absolute(input).lexically_normal();
        const std::string last = (plain.has_filename() ? plain : plain.parent_path()).filename().string();
        const std::string name = asFileName(isProject(input) ? fs::path(last).stem().string() : last);
        std::string own = name;
        for (int number = 2; !taken.insert(own).second; ++number)
            own = fmt::format("{} {}", name, number);
        songs.push_back({input, own});
    }
    return songs;
}

/// Files that are named once for all songs lie in each song's own folder.
void bringInto(const fs::path& folder, Options& options, Delivery& delivery) {
    delivery.out = folder;
    for (fs::path* file : {&options.report, &delivery.mix, &delivery.midi, &delivery.interchange, &delivery.csv})
        if (!file->empty())
            *file = folder / file->filename();
}

std::string rowOf(const Song& song) {
    if (!song.done)
        return fmt::format("{}: failed: {}", visible(song.name), song.done.error().sentence);
    return fmt::format("{}: {}, {}, {}", visible(song.name),
                       counted(static_cast<std::int64_t>(song.done->hits), "hit"),
                       counted(static_cast<std::int64_t>(song.done->seams), "seam"),
                       counted(static_cast<std::int64_t>(song.done->files), "file"));
}

std::string batchJson(const std::vector<Song>& songs, std::int64_t failed) {
    nlohmann::json list = nlohmann::json::array();
    for (const Song& song : songs) {
        nlohmann::json each{{"input", asUtf8(song.input.string())}, {"folder", asUtf8(song.name)}};
        each["done"] = song.done.has_value();
        if (song.done) {
            each["hits"] = song.done->hits;
            each["seams"] = song.done->seams;
            each["files"] = song.done->files;
            if (song.done->proof)
                each["proof"] = summaryJson(*song.done->proof);
        } else {
            each["error"] = song.done.error().sentence;
        }
        list.push_back(std::move(each));
    }
    const nlohmann::json summary{
        {"schema", "lampo-batch-1"}, {"songs", list}, {"done", std::ssize(songs) - failed}, {"failed", failed}};
    return summary.dump(1, ' ', false, nlohmann::json::error_handler_t::replace) + "\n";
}

Expected<std::vector<Song>> allSongs(const std::vector<fs::path>& paths) {
    std::vector<fs::path> inputs;
    for (const fs::path& path : paths) {
        auto found = songsIn(path);
        if (!found)
            return tl::unexpected(found.error());
        inputs.insert(inputs.end(), found->begin(), found->end());
    }
    return namedSongs(inputs);
}

Expected<void> runBatch(const std::vector<fs::path>& paths, const Options& options, const Delivery& delivery,
                        const Progress& progress, std::int64_t& failed) {
    auto songs = allSongs(paths);
    if (!songs)
        return tl::unexpected(songs.error());
    std::string text;
    for (Song& song : *songs) {
        if (!progress.cancelled()) {
            Options own = options;
            Delivery to = delivery;
            own.input = song.input;
            bringInto(delivery.out / song.name, own, to);
            song.done = prepare(own, progress).and_then([&](const Prepared& prepared) {
                return deliver(own, prepared, to, progress);
            });
        }
        failed += song.done ? 0 : 1;
        text += rowOf(song) + '\n';
        std::cout << rowOf(song) << std::endl; // seen as it comes
    }
    const std::string last =
        fmt::format("{} of {} done", std::ssize(*songs) - failed, counted(std::ssize(*songs), "song"));
    std::cout << last << '\n';
    std::error_code exists;
    fs::create_directories(delivery.out, exists);
    return writeAtomically(delivery.out / "summary.txt", text + last + '\n').and_then([&] {
        return writeAtomically(delivery.out / "summary.json", batchJson(*songs, failed));
    });
}

} // namespace

void addBatch(CLI::App& app, const Progress& progress, int& exitCode) {
    auto* command = app.add_subcommand("batch", "edits many songs alike, each into a folder of its own");
    auto paths = std::make_shared<std::vector<fs::path>>();
    auto options = std::make_shared<Options>();
    auto delivery = std::make_shared<Delivery>();
    command
        ->add_option("SONGS", *paths,
                     "projects, folders of mic files, folders of such folders, or a text file that lists them")
        ->required();
    addSettings(*command, *options);
    addDelivery(*command, *delivery);
    command->callback([paths, options, delivery, &progress, &exitCode] {
        std::int64_t failed = 0;
        exitCode = finish(runBatch(*paths, *options, *delivery, progress, failed));
        if (failed > 0)
            exitCode = 1;
    });
}

} // namespace lampo::cli
