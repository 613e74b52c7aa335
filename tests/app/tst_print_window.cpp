// Printing, notes and the edit itself, in the real window.
#include "app/window_rig.h"
#include "interchange/timeline_json.h"
#include "project/project_file.h"
#include "samples/sample_strokes.h"
#include "stops/print/print_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>

using namespace lampo;
using namespace lampo::test;

namespace fs = std::filesystem;

class TestPrintWindow : public WindowRig {
    Q_OBJECT

    PrintPanel& panel() { return *window_->findChild<PrintPanel*>(); }
    fs::path out(const char* name) { return folder_.path() / name; }
    void printTo(const fs::path& folder) {
        control<QLineEdit>("Print folder")->setText(QString::fromStdString(folder.string()));
        QTest::mouseClick(control<QPushButton>("Print button"), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(!panel().printing(), 60000);
    }
    QString names() { return control<QLabel>("Print names")->text(); }
    static std::vector<std::string> filesIn(const fs::path& folder) {
        std::vector<std::string> files;
        for (const auto& entry : fs::directory_iterator(folder))
            files.push_back(entry.path().filename().string());
        std::sort(files.begin(), files.end());
        return files;
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "overhead_left"}, 12); }
    void init() {
        openWindow();
        window_->goTo(Stop::print);
    }
    void cleanup() { window_.reset(); }

    void namesAreSeenBeforeTheyAreWritten() {
        QVERIFY2(names().contains("kick_in.wav"), qPrintable(names()));
        auto* pattern = control<QLineEdit>("Names");
        pattern->setFocus();
        pattern->selectAll();
        QTest::keyClicks(pattern, "{song} {mic} {take}");
        QVERIFY2(names().contains("take kick_in A.wav"), qPrintable(names()));
        QTest::keyClicks(pattern, " {x}");
        QVERIFY(names().contains("in braces stand"));
        control<QComboBox>("File")->setCurrentIndex(3); // FLAC
        pattern->setText("{mic}");
        QVERIFY(names().contains("kick_in.flac"));
        control<QCheckBox>("One file")->click();
        QVERIFY(names().contains("kit.flac"));
    }

    void aChoiceIsPrinted() {
        control<QComboBox>("Which mics")->setCurrentIndex(2);
        auto* list = control<QListWidget>("Printed mics");
        QVERIFY(list->isVisible());
        for (int row = 0; row < list->count(); ++row)
            list->item(row)->setCheckState(list->item(row)->text() == "snare_top" ? Qt::Checked : Qt::Unchecked);
        control<QComboBox>("Stretch")->setCurrentIndex(2);
        control<QSpinBox>("First bar")->setValue(2);
        control<QSpinBox>("Last bar")->setValue(3);
        control<QComboBox>("Bits")->setCurrentIndex(0);
        control<QCheckBox>("Click too")->click();
        control<QCheckBox>("Mix too")->click();
        printTo(out("choice"));
        QCOMPARE(filesIn(out("choice")),
                 (std::vector<std::string>{"click.wav", "snare_top.wav", "take mix.wav", "take print.txt"}));
        const auto bars = static_cast<double>(readAudio(out("choice") / "snare_top.wav").size());
        QVERIFY(std::abs(bars - 8 * 60.0 / 104 * 48000) <= 1);
        QVERIFY(control<QLabel>("Print done")->text().startsWith("3 files are in"));
        const QString about = QString::fromStdString(readBytes(out("choice") / "take print.txt"));
        QVERIFY2(about.contains("from bar 2.1 to bar 4.1") && about.contains("wav, 16 bits, 48000 Hz, dithered"),
                 qPrintable(about));
    }

    void whatCannotBePrintedIsSaid() {
        control<QComboBox>("Stretch")->setCurrentIndex(1); // the loop, of which there is none
        QVERIFY(names().contains("There is no loop"));
        QTest::mouseClick(control<QPushButton>("Print button"), Qt::LeftButton);
        QVERIFY(window_->notice().contains("There is no loop"));
        control<QComboBox>("Stretch")->setCurrentIndex(2);
        control<QSpinBox>("First bar")->setValue(9);
        control<QSpinBox>("Last bar")->setValue(3);
        QVERIFY(names().contains("lies before the first"));
        control<QComboBox>("Stretch")->setCurrentIndex(0);
        control<QComboBox>("File")->setCurrentIndex(3);
        control<QComboBox>("Bits")->setCurrentIndex(2);
        printTo(out("none"));
        QVERIFY(window_->notice().contains("FLAC holds no floating point"));
        QVERIFY(!fs::exists(out("none")));
    }

    void earlierFilesAreAskedAboutEachTime() {
        printTo(out("twice"));
        const std::string first = readBytes(out("twice") / "kick_in.wav");
        document().perform(SetStrength{20});
        window_->setAsking(true);
        QTest::mouseClick(control<QPushButton>("Print button"),
                          Qt::LeftButton); // open places are asked about first
        if (!control<QWidget>("Earlier files")->isVisible())
            QTest::mouseClick(control<QPushButton>("Print button"), Qt::LeftButton);
        QVERIFY(control<QWidget>("Earlier files")->isVisible());
        QVERIFY(!panel().printing());
        QTest::mouseClick(control<QPushButton>("Number new"), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(!panel().printing(), 60000);
        QVERIFY(!control<QWidget>("Earlier files")->isVisible());
        QCOMPARE(readBytes(out("twice") / "kick_in.wav"), first);
        QVERIFY(fs::exists(out("twice") / "kick_in 2.wav") && fs::exists(out("twice") / "take print 2.txt"));
        QTest::mouseClick(control<QPushButton>("Print button"), Qt::LeftButton);
        QVERIFY(control<QWidget>("Earlier files")->isVisible());
        QTest::mouseClick(control<QPushButton>("Replace earlier"), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(!panel().printing(), 60000);
        QVERIFY(readBytes(out("twice") / "kick_in.wav") != first);
    }

    void keysAreChangedInTheTable() {
        control<QPushButton>("Notes page")->click();
        auto* keys = control<QTableWidget>("Keys");
        QCOMPARE(keys->item(0, 0)->text(), QString("kick_in"));
        QCOMPARE(keys->item(0, 1)->text(), QString("36"));
        QVERIFY(keys->item(0, 2)->text().toInt() > 5);
        keys->item(0, 1)->setText("24");
        QCOMPARE(document().session().midi.keys.at("kick_in"), 24);
        keys->item(0, 1)->setText("200"); // refused, and shown as it is
        QCOMPARE(keys->item(0, 1)->text(), QString("24"));
        QVERIFY(window_->notice().contains("key"));
        keys->item(0, 1)->setText("");
        QCOMPARE(keys->item(0, 1)->text(), QString("36"));
        action("undo")->trigger();
        QCOMPARE(keys->item(0, 1)->text(), QString("24"));
        auto* notes = window_->findChild<NotesPage*>();
        notes->write(QString::fromStdString((folder_ / "h.mid").string()));
        QVERIFY(readBytes(folder_ / "h.mid").starts_with("MThd"));
        notes->write(QString::fromStdString((folder_.path() / "take" / "kick_in.wav").string()));
        QVERIFY(window_->notice().contains("kick_in.wav"));
    }

    void theCurveIsBentByHand() {
        control<QPushButton>("Notes page")->click();
        auto* view = control<QWidget>("Velocity curve");
        const VelocityCurve before = document().session().midi.curve;
        const int steps = document().history().count();
        const QPoint left(view->width() / 4, view->height() / 2);
        dragOn(*view, left, QPoint(left.x(), view->height() / 5)); // soft strokes up: bent more
        QVERIFY(document().session().midi.curve.bend > before.bend);
        QCOMPARE(document().session().midi.curve.strong, before.strong);
        QCOMPARE(document().history().count(), steps + 1);
        dragOn(*view, QPoint(view->width() - 8, view->height() / 2),
               QPoint(view->width() - 8, view->height() * 3 / 4));
        QVERIFY(document().session().midi.curve.strong < before.strong);
        action("undo")->trigger();
        action("undo")->trigger();
        QVERIFY(document().session().midi.curve == before);
    }

    void notesAreHeardInPlaceOfTheMics() {
        control<QPushButton>("Notes page")->click();
        control<QPushButton>("Hear notes")->click();
        QCOMPARE(window_->player().playedNotes(), std::optional(MidiAs::landed));
        control<QComboBox>("Notes as")->setCurrentIndex(0);
        QCOMPARE(window_->player().playedNotes(), std::optional(MidiAs::played));
        const ResultFrame first = asResult(document().outcome().landings[4].played);
        window_->player().setCursor(first - FrameCount{2400});
        window_->player().toggle();
        playFor(Milliseconds{300});
        window_->player().stop();
        const auto heard = device_->recorded();
        double loudest = 0;
        for (const float sample : heard)
            loudest = std::max(loudest, std::abs(double{sample}));
        QVERIFY(loudest > 0.05);
        control<QPushButton>("Hear notes")->click();
        QVERIFY(!window_->player().playedNotes());
    }

    void theEditIsWrittenForOthers() {
        control<QPushButton>("The edit page")->click();
        auto* page = window_->findChild<EditPage*>();
        page->writeInterchange(QString::fromStdString((folder_ / "e.otio").string()));
        const auto back = timelineFrom(readBytes(folder_ / "e.otio"), folder_.path(), "e");
        QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
        QVERIFY(*back == timelineOf(document().session(), *document().outcome().plan));
        fs::create_directories(folder_ / "tables");
        page->writeTables(QString::fromStdString((folder_ / "tables").string()));
        QCOMPARE(filesIn(folder_ / "tables"),
                 (std::vector<std::string>{"figures.csv", "hits.csv", "seams.csv", "slices.csv"}));
        page->writeReport(QString::fromStdString((folder_ / "r.json").string()));
        QVERIFY(readBytes(folder_ / "r.json").find("lampo-report-1") != std::string::npos);
        page->writeReport(QString::fromStdString((folder_.path() / "take" / "kick_in.wav").string()));
        QVERIFY(window_->notice().contains("kick_in.wav"));
    }

    /// A built-in one is added by the menu, fitted behind the window, heard, left out at a hit, printed, removed.
    void aSampleSoundsBesideItsDrum() {
        control<QPushButton>("Samples page")->click();
        window_->findChild<QAction*>("Built-in snare")->trigger();
        QCOMPARE(document().session().samples.size(), std::size_t{1});
        QTRY_VERIFY_WITH_TIMEOUT(document().session().samples[0].layers[0].files[0].offset != FrameCount{}, 30000);
        const DrumSample sample = document().session().samples[0];
        QCOMPARE(sample.mic, std::string("snare_top"));
        QCOMPARE(sample.layers.size(), std::size_t{2});
        QCOMPARE(control<QTableWidget>("Layers")->rowCount(), 2);
        control<QTableWidget>("Layers")->item(0, 0)->setText("-9.5");
        QCOMPARE(document().session().samples[0].layers[0].upTo.value, -9.5);
        control<QCheckBox>("Sample inverted")->click();
        QCOMPARE(document().session().samples[0].inverted, !sample.inverted);
        std::optional<HitIndex> snare;
        for (HitIndex hit; hit < document().outcome().hits.size(); ++hit)
            if (document().outcome().hits[hit].voice == Voice::snare)
                snare = hit;
        sheet().select(*snare);
        control<QPushButton>("Sample out")->click();
        QCOMPARE(document().session().samples[0].said.size(), std::size_t{1});
        QVERIFY(document().session().samples[0].said[0].out);
        control<QDoubleSpinBox>("Sample level")->setValue(-3);
        control<QPushButton>("Sample level here")->click();
        QCOMPARE(document().session().samples[0].said[0].level->value, -3.0);
        control<QPushButton>("Sample as played")->click();
        QVERIFY(document().session().samples[0].said.empty());
        // Of several chosen hits, only those that its drum has a part in.
        std::vector<HitIndex> all;
        std::size_t parts = 0;
        for (HitIndex hit; hit < document().outcome().hits.size(); ++hit) {
            all.push_back(hit);
            parts += sampleStroke(document().session(), document().outcome(), document().session().samples[0], hit)
                         ? 1
                         : 0;
        }
        sheet().selectMany(all, *snare);
        control<QPushButton>("Sample out")->click();
        QCOMPARE(document().session().samples[0].said.size(), parts);
        QVERIFY(parts > 0 && parts < all.size());
        document().history().undo();
        QVERIFY(document().session().samples[0].said.empty());
        sheet().select(*snare);
        // In the plot, in steps of half a decibel; hits of other drums are not there.
        sheet().reveal(document().outcome().landings[*snare].at);
        const double played = *sheet().state().strokeLevel(*snare, false);
        const QPoint head = sheet().state().plotPoint(*snare, true).toPoint();
        drag(head, head + QPoint(0, static_cast<int>(std::lround(6 / sheet().state().decibelsPerPixel()))));
        QCOMPARE(document().session().samples[0].said.size(), std::size_t{1});
        QVERIFY(std::abs(document().session().samples[0].said[0].level->value - (played - 6)) <= 0.5);
        for (HitIndex hit; hit < document().outcome().hits.size(); ++hit)
            if (document().outcome().hits[hit].detectedBy == onlyMic(MicIndex{0}))
                QVERIFY(!sheet().state().strokeLevel(hit, true));
        control<QPushButton>("Sound page")->click();
        QVERIFY(!sheet().state().showsLevels());
        QVERIFY2(names().contains("snare sample.wav") || names().contains("more"), qPrintable(names()));
        printTo(out("sampled"));
        const auto track = readAudio(out("sampled") / "snare sample.wav");
        QVERIFY(std::any_of(track.begin(), track.end(), [](float s) { return std::abs(s) > 0.05F; }));
        control<QPushButton>("Samples page")->click();
        control<QPushButton>("Delete sample")->click();
        QVERIFY(document().session().samples.empty());
        QVERIFY(!control<QTableWidget>("Layers")->isVisible());
        undoAll();
        QVERIFY(document().session().samples.empty());
    }

    void aSampleIsHeardWhilePlaying() {
        const auto heard = [&] {
            settle();
            settleSeams(); // or two playings differ by where a seam lies
            const auto before = static_cast<std::ptrdiff_t>(device_->recorded().size());
            window_->player().setCursor(ResultFrame{0});
            window_->player().toggle();
            playFor({3000});
            window_->player().stop();
            return std::vector<float>(device_->recorded().begin() + before, device_->recorded().end());
        };
        // Where playing begins, what was heard before fades out.
        const auto differ = [](const std::vector<float>& a, const std::vector<float>& b) {
            return !std::equal(a.begin() + 4096, a.end(), b.begin() + 4096, b.end());
        };
        control<QPushButton>("Samples page")->click();
        window_->findChild<QAction*>("Built-in snare")->trigger();
        auto* samples = window_->player().findChild<HeardSamples*>();
        QVERIFY(samples);
        QTRY_VERIFY_WITH_TIMEOUT(document().session().samples[0].layers[0].files[0].offset != FrameCount{}, 30000);
        const auto heardWith = [&](bool on) {
            control<QListWidget>("Samples")->item(0)->setCheckState(on ? Qt::Checked : Qt::Unchecked);
            [&] { QTRY_COMPARE_WITH_TIMEOUT(samples->notes() && !samples->notes()->empty(), on, 30000); }();
            return heard();
        };
        const auto with = heardWith(true), without = heardWith(false);
        QVERIFY(differ(with, without));
        QVERIFY(!differ(with, heardWith(true)));
        QVERIFY(!differ(without, heardWith(false)));
    }

    void allOfItIsGathered() {
        control<QPushButton>("The edit page")->click();
        auto* page = window_->findChild<EditPage*>();
        page->gatherInto(QString::fromStdString((folder_ / "sent").string()));
        QTRY_VERIFY_WITH_TIMEOUT(window_->notice().startsWith("All of it is in"), 30000);
        QVERIFY(loadProject(folder_.path() / "sent" / "take.lampo").has_value());
    }
};

QTEST_MAIN(TestPrintWindow)
#include "tst_print_window.moc"
