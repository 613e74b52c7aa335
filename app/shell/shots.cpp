#include "shell/shots.h"

#include "advice/hit_edits.h"
#include "advice/map_advice.h"
#include "advice/patch_advice.h"
#include "advice/take_advice.h"
#include "import/import_plan.h"
#include "look/names.h"
#include "player/simulated_device.h"
#include "shell/import_page.h"
#include "shell/main_window.h"
#include "stops/map/map_check_page.h"
#include "stops/print/samples_page.h"
#include "stops/proof/difference_view.h"
#include "stops/timing/timing_panel.h"
#include "takes/take_strip.h"

#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QListWidget>
#include <QPixmap>

#include <algorithm>
#include <array>

namespace lampo {
namespace {

void settle(MainWindow& window) {
    QElapsedTimer since;
    since.start();
    do
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    while (window.document().work().busy() || since.elapsed() < 150);
}

/// Seams lie where they sound best once they were searched.
void awaitSeams(MainWindow& window) {
    while (window.document().seamWork().busy())
        QApplication::processEvents(QEventLoop::AllEvents, 20);
}

void shoot(MainWindow& window, const std::filesystem::path& folder, const char* name) {
    awaitSeams(window);
    settle(window);
    window.grab().save(QString::fromStdString((folder / (std::string(name) + ".png")).string()));
}

void showBars(MainWindow& window, int first, int last) {
    const Session& session = window.document().session();
    const MusicalMap map(session.map, session.rate);
    window.sheet().showRange(static_cast<double>(map.barStart(first).frame),
                             static_cast<double>(map.barStart(last).frame));
}

/// A hole over a sounding cymbal that was borrowed into: its seam, lead-in and landing fill the picture.
void showOneSeam(MainWindow& window) {
    awaitSeams(window);
    const auto& seams = window.document().outcome().plan->seams;
    const Session& session = window.document().session();
    const SongFrame harbour = MusicalMap(session.map, session.rate).barStart(18);
    const auto found = std::find_if(seams.begin(), seams.end(), [&](const Seam& seam) {
        return asSong(seam.range.begin) > harbour && seam.kind == SeamKind::borrowed &&
               seam.ahead < toFrames(Milliseconds{30}, session.rate);
    });
    if (found == seams.end())
        return;
    const SeamIndex index{static_cast<std::size_t>(found - seams.begin())};
    window.sheet().chooseSeams({index}, index, true);
    window.sheet().fitChosen();
    window.sheet().heightenWaves(4);
}

void press(MainWindow& window, const char* button) {
    if (auto* found = window.findChild<QPushButton*>(QLatin1String(button)))
        found->click();
}

void trigger(MainWindow& window, const char* action) {
    if (auto* found = window.findChild<QAction*>(QLatin1String(action)))
        found->trigger();
}

/// Snare strokes levelled, one of them replaced by another, and toms silent outside their strokes.
void showRepairs(MainWindow& window) {
    showBars(window, 14, 17);
    press(window, "Strokes page");
    const auto& hits = window.document().outcome().hits;
    const auto [first, last] = window.sheet().state().visibleHits();
    std::vector<HitIndex> snares;
    for (HitIndex i = first; i < last; ++i)
        if (hits[i].voice == Voice::snare && hits[i].mic && hits[i].level.value > -8)
            snares.push_back(i);
    if (snares.empty())
        return;
    trigger(window, "silence-toms");
    window.sheet().selectMany(snares, snares.front());
    trigger(window, "level-strokes");
    window.sheet().select(snares[snares.size() / 2]);
    trigger(window, "replace-stroke");
}

/// A soft snare stroke in the bars that are shown.
std::optional<HitIndex> firstGhost(MainWindow& window) {
    const auto& hits = window.document().outcome().hits;
    const auto [first, last] = window.sheet().state().visibleHits();
    for (HitIndex i = first; i < last; ++i)
        if (hits[i].voice == Voice::snare && hits[i].level.value < -10)
            return i;
    return std::nullopt;
}

/// A map without its short bar, and what the hits say about it.
void showMap(MainWindow& window, const std::filesystem::path& folder) {
    Document& document = window.document();
    MapData plain = document.session().map;
    plain.meters.resize(1);
    document.perform(TimingEdit{SetMap{plain, "One meter"}});
    window.goTo(Stop::map);
    window.setShow(Show::both);
    showBars(window, 8, 14);
    auto* check = window.findChild<MapCheckPage*>();
    check->check();
    while (check->busy())
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    shoot(window, folder, "map");
    while (document.history().canUndo())
        document.history().undo();
}

/// Played against landed with a phrase, a shoved passage and doubted hits; then with a feel.
void showTiming(MainWindow& window, const std::filesystem::path& folder) {
    Document& document = window.document();
    window.goTo(Stop::timing);
    window.setShow(Show::both);
    showBars(window, 11, 15);
    const auto& sections = document.session().sections;
    for (std::size_t i = 0; i < sections.size(); ++i) // triplets against sixteenths: some of them are doubted
        if (sections[i].name == "Squall turn")
            document.perform(SetSectionGrid{i, NoteValue{1, 16}});
    std::vector<HitIndex> run;
    for (HitIndex hit; hit < document.outcome().landings.size(); ++hit)
        if (const auto& line = document.outcome().landings[hit].line; line && line->place.bar == 14)
            run.push_back(hit);
    if (!run.empty()) { // not every project has this bar
        if (const auto phrase = phraseEdit(document.session(), document.outcome(), run, 0))
            document.perform(*phrase);
        window.sheet().selectMany(run, run.front());
    }
    auto* panel = window.findChild<TimingPanel*>();
    panel->turnTo(TimingPanel::Page::byHand);
    shoot(window, folder, "timing");
    window.sheet().select(std::nullopt);
    const MusicalMap map(document.session().map, document.session().rate);
    if (auto feel =
            feelOfPassage(document.session(), document.outcome(), {map.barStart(2), map.barStart(8)}, "Boat out")) {
        document.perform(FeelEdit{KeepFeel{*feel}});
        document.perform(FeelEdit{UseFeel{{}, FeelUse{feel->name, 80}}});
    }
    panel->turnTo(TimingPanel::Page::feel);
    shoot(window, folder, "feel");
    panel->turnTo(TimingPanel::Page::grid);
    while (document.history().canUndo())
        document.history().undo();
}

/// A comp with the better fill from another take and a graft, a chosen border, tries and marks; then two versions.
void showTakes(MainWindow& window, const std::filesystem::path& folder) {
    Document& document = window.document();
    const MusicalMap map(document.session().map, document.session().rate);
    const auto bars = [&](int first, int end) { return Range<SongFrame>{map.barStart(first), map.barStart(end)}; };
    document.perform(KeepVersion{"First comp", "2026-11-20 18:05", {}});
    document.perform(SetTakeNote{0, "first, a bit tired"});
    document.perform(SetTakeNote{1, "the loud one"});
    document.perform(Lay{bars(9, 11), TakeIndex{2}});
    document.perform(Lay{bars(12, 13), TakeIndex{1}});
    document.perform(KeepTry{bars(12, 14)});
    if (const auto graft = graftEdit(document.session(), document.outcome(), {{1}, bars(4, 5)}, bars(16, 17).begin))
        document.perform(*graft);
    document.perform(Rate{'B', 12, 1, 3});
    document.perform(Rate{'C', 9, 2, 2});
    window.goTo(Stop::takes);
    window.setShow(Show::asLanded);
    showBars(window, 7, 19);
    window.takes().choose(TakeIndex{1}, bars(12, 13));
    shoot(window, folder, "takes");
    window.takes().chooseBorder(3);
    showBars(window, 11, 15);
    shoot(window, folder, "takes_border");
    document.perform(SetStrength{85});
    window.showVersions();
    window.sheet().showAll();
    if (auto* list = window.findChild<QListWidget*>(QLatin1String(names::versionsList)))
        list->setCurrentRow(0);
    shoot(window, folder, "versions");
    while (document.history().canUndo())
        document.history().undo();
}

/// The worst place fills the picture; then what landing changed.
void showProof(MainWindow& window, const std::filesystem::path& folder) {
    awaitSeams(window);
    while (!window.document().proofIsOfNow() || window.document().proofWork().busy())
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    window.goTo(Stop::proof);
    trigger(window, "next-place");
    shoot(window, folder, "proof");
    press(window, "Compare page");
    trigger(window, "hear-difference");
    window.sheet().showAll();
    const auto* view = window.findChild<DifferenceView*>();
    while (view && view->picture().mics.empty())
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    shoot(window, folder, "compare");
    trigger(window, "end-comparing");
    press(window, "Places page");
    showBars(window, 12, 15);
}

/// A built-in sample beside the snare, a few of its hits at levels of their own and left out.
void showSample(MainWindow& window) {
    press(window, "Samples page");
    trigger(window, "Built-in snare");
    const auto* page = window.findChild<SamplesPage*>();
    while (page->fitting())
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    const auto& samples = window.document().session().samples;
    if (samples.empty())
        return;
    SaySampleHits said{samples.size() - 1, {}};
    const auto [first, last] = window.sheet().state().visibleHits();
    const auto& hits = window.document().outcome().hits;
    for (HitIndex i = first; i < last; ++i)
        if (hits[i].voice == Voice::snare && hits[i].level.value < -10)
            said.said.push_back({placeOf(window.document().session(), hits[i]), said.said.size() % 2 == 1, {{-4}}});
    window.document().perform(SampleEdit{said});
}

} // namespace

void takeShots(MainWindow& window, const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    window.setAsking(false);
    window.resize(1280, 800);
    window.show();
    settle(window);
    window.goTo(Stop::timing);
    window.setShow(Show::asLanded);
    showBars(window, 13, 17);
    shoot(window, folder, "as_landed");
    window.setShow(Show::both);
    window.goTo(Stop::seams);
    showOneSeam(window);
    shoot(window, folder, "one_seam");
    window.sheet().resetWaves();
    press(window, "In general page");
    window.sheet().chooseSeams({}, std::nullopt);
    showRepairs(window);
    shoot(window, folder, "repairs");
    press(window, "One by one page");
    while (window.document().history().canUndo())
        window.document().history().undo();
    window.setNight(true);
    window.goTo(Stop::hits);
    showBars(window, 7, 11);
    shoot(window, folder, "night");
    window.setNight(false);

    window.setShow(Show::both);
    showBars(window, 12, 15);
    showProof(window, folder);
    window.goTo(Stop::print);
    if (auto* target = window.findChild<QLineEdit*>(QLatin1String(names::printFolder)))
        target->setText(QStringLiteral("Lighthouse Relay/tight")); // not where the throwaway demo lies
    shoot(window, folder, "print");
    press(window, "Notes page");
    shoot(window, folder, "notes");
    showSample(window);
    shoot(window, folder, "samples");
    while (window.document().history().canUndo())
        window.document().history().undo();
    press(window, "Sound page");
    showMap(window, folder);
    showTiming(window, folder);
    showTakes(window, folder);
    window.goTo(Stop::kit);
    shoot(window, folder, "kit");
    window.setShow(Show::asPlayed);
    showBars(window, 15, 17);
    window.goTo(Stop::hits);
    if (auto* guide = window.findChild<QComboBox*>(QLatin1String(names::guideBox)))
        guide->setCurrentText(QStringLiteral("snare_top"));
    window.sheet().select(firstGhost(window));
    shoot(window, folder, "hits");
    if (auto plan = planImport({window.document().session().take().folder.parent_path()})) {
        ImportPage page(std::move(*plan), &window);
        page.show();
        QApplication::processEvents();
        page.grab().save(QString::fromStdString((folder / "bring_in.png").string()));
    }
    MainWindow empty(std::make_unique<SimulatedDevice>());
    empty.resize(1280, 800);
    empty.goTo(Stop::kit);
    empty.show();
    shoot(empty, folder, "empty");
}

} // namespace lampo
