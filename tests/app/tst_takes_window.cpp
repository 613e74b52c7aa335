#include "app/window_rig.h"
#include "document/player_control.h"
#include "session/pieces.h"
#include "stops/print/print_panel.h"
#include "takes/take_strip.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>

using namespace lampo;
using namespace lampo::test;

/// Choosing among takes, with mouse and keys, in the real window. Three takes of the demo's kit, and a mic that
/// hears the same steady tone in all of them, so that a gap in the sound cannot hide.
class TestTakesWindow : public WindowRig {
    Q_OBJECT

    TakeStrip& strip() { return window_->takes(); }
    const TakesState& takes() { return window_->takes().state(); }
    MusicalMap map() { return {document().session().map, document().session().rate}; }
    int xOfBar(double bar) {
        const auto whole = static_cast<int>(bar);
        const auto at = map().at(whole, bar - whole);
        return static_cast<int>(std::lround(takes().toX(at)));
    }
    QPoint inRow(std::size_t take, double bar) { return {xOfBar(bar), takes().layout.rows[take].center().y()}; }
    QPoint inComp(double bar) { return {xOfBar(bar), takes().layout.comp.center().y()}; }
    /// The takes that sound in bars 1 to 8, by letter; small letters for grafts.
    std::string letters() {
        std::string text;
        for (int bar = 1; bar <= 8; ++bar) {
            const auto piece = pieceAt(document().session(), map().barStart(bar) + FrameCount{9000});
            if (!piece || !piece->take) {
                text += '-';
                continue;
            }
            const char letter = document().session().takes[*piece->take].letter.value;
            const bool own = ownShift(document().session(), *piece->take, piece->range.begin) == piece->shift;
            text += own ? letter : static_cast<char>(letter - 'A' + 'a');
        }
        return text;
    }
    /// Silent frames between the first and the last sound: 5 ms and more is a gap.
    std::size_t longestGap() {
        const auto& stereo = device_->recorded();
        std::size_t longest = 0, now = 0, first = 0;
        for (std::size_t i = 0; i < stereo.size(); i += 2)
            if (std::abs(stereo[i]) > 1e-3F) {
                longest = first > 0 ? std::max(longest, now) : longest;
                first = first > 0 ? first : i + 1;
                now = 0;
            } else {
                ++now;
            }
        return longest;
    }

private slots:
    void initTestCase() {
        for (const char letter : {'A', 'B', 'C'}) {
            const auto folder = folder_.path() / "takes" / std::string(1, letter);
            const auto built = buildTake(folder, letter, 20, {"kick_in", "snare_top", "tom_rack", "overhead_left"});
            writeAudio(folder / "room.wav", std::vector<float>(static_cast<std::size_t>(built.length), 0.25F));
        }
    }
    void init() {
        openWindow("takes");
        QCOMPARE(document().session().takes.size(), std::size_t{3});
        window_->goTo(Stop::takes);
        sheet().showAll();
        QTRY_VERIFY(takes().layout.rows.size() == 3 && takes().layout.rows[0].height() > 20);
        QCOMPARE(letters(), std::string("AAAAAAAA"));
    }
    void cleanup() { window_.reset(); }

    void aSweepOverARowSoundsThere() {
        const auto before = document().outcome().plan;
        dragOn(strip(), inRow(1, 3.05), inRow(1, 4.9));
        QCOMPARE(letters(), std::string("AABBAAAA"));
        QVERIFY(document().outcome().plan != before);
        QCOMPARE(takes().row, std::optional<std::size_t>(1));
        QCOMPARE(takes().range.begin, map().barStart(3));
        QCOMPARE(takes().range.end, map().barStart(5));
        dragOn(strip(), inRow(2, 4.1), inRow(2, 5.95));
        QCOMPARE(letters(), std::string("AABCCAAA"));
        action("undo")->trigger();
        action("undo")->trigger();
        QCOMPARE(letters(), std::string("AAAAAAAA"));
        QVERIFY(*document().outcome().plan == *before);
    }
    void aSweepCanBeDroppedAndFreed() {
        pressAndMove(strip(), inRow(1, 3), inRow(1, 5));
        QVERIFY(takes().sweep.has_value());
        QTest::keyClick(&strip(), Qt::Key_Escape);
        QVERIFY(!takes().sweep.has_value());
        QTest::mouseRelease(&strip(), Qt::LeftButton, {}, inRow(1, 5));
        QCOMPARE(letters(), std::string("AAAAAAAA"));
        dragOn(strip(), inRow(1, 3.3), inRow(1, 4.4), Qt::ControlModifier); // snaps to nothing
        const auto begin = document().session().comp.passages[1].begin;
        QVERIFY(std::abs(toSeconds(begin - map().at(3, 0.3), document().session().rate).value) < 0.1);
        QVERIFY(begin != map().barStart(3));
    }
    void bordersAreDraggedAndSnap() {
        document().perform(Lay{{map().barStart(3), map().barStart(6)}, TakeIndex{1}});
        QVERIFY(takes().borderUnder(inComp(3)).has_value());
        dragOn(strip(), inComp(3), inComp(4.1));
        QCOMPARE(letters(), std::string("AAABBAAA"));
        QCOMPARE(takes().border, std::optional<std::size_t>(1));
        QCOMPARE(document().session().comp.passages[1].begin, map().barStart(4));
        // To a hit's cut.
        control<QComboBox>("Snap")->setCurrentIndex(1);
        dragOn(strip(), inComp(4), inComp(4.27));
        const SongFrame cut = document().session().comp.passages[1].begin;
        const auto laid = ownLay(document().session(), document().outcome(), {1}, cut);
        QVERIFY(std::any_of(laid->landings.begin(), laid->landings.end(),
                            [&](const Landing& landing) { return landing.meant == cut; }));
        QVERIFY(cut != map().barStart(4));
        // Not beyond the next border.
        dragOn(strip(), {static_cast<int>(takes().toX(cut)), inComp(4).y()}, inComp(7.5), Qt::ControlModifier);
        QVERIFY(document().session().comp.passages[1].begin < map().barStart(6));
        QCOMPARE(document().session().comp.passages.size(), std::size_t{3});
    }
    void bordersByKeys() {
        document().perform(Lay{{map().barStart(3), map().barStart(6)}, TakeIndex{1}});
        QTest::keyClick(&strip(), Qt::Key_N);
        QCOMPARE(takes().border, std::optional<std::size_t>(1));
        QTest::keyClick(&strip(), Qt::Key_Right, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(letters(), std::string("AAABBAAA"));
        QTest::keyClick(&strip(), Qt::Key_N);
        QTest::keyClick(&strip(), Qt::Key_Left, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(letters(), std::string("AAABAAAA"));
        QTest::keyClick(&strip(), Qt::Key_N, Qt::ShiftModifier);
        QCOMPARE(takes().border, std::optional<std::size_t>(1));
        control<QDoubleSpinBox>("Border fade")->setValue(40);
        const auto& seams = document().outcome().plan->seams;
        QVERIFY(std::any_of(seams.begin(), seams.end(), [](const Seam& seam) {
            return seam.kind == SeamKind::border && seam.range.length().frames == 1920; // 40 ms
        }));
    }
    void takesAreSwappedByKeyWhileItLoopsWithoutAGap() {
        dragOn(strip(), inComp(3.05), inComp(4.9)); // over the comp a range is only chosen
        QCOMPARE(letters(), std::string("AAAAAAAA"));
        action("loop-chosen")->trigger();
        QVERIFY(action("loop")->isChecked());
        QTest::keyClick(&strip(), Qt::Key_Space);
        QTRY_VERIFY(window_->player().playing());
        playFor(Milliseconds{300});
        std::string seen;
        for (int swap = 0; swap < 7; ++swap) {
            QTest::keyClick(&strip(), Qt::Key_T);
            seen += letters()[2];
            playFor(Milliseconds{150});
        }
        QCOMPARE(seen, std::string("BCABCAB"));
        QTest::keyClick(&strip(), Qt::Key_T, Qt::ShiftModifier);
        QCOMPARE(letters(), std::string("AAAAAAAA"));
        for (const char* keys : {"hear-take", "hear-take"}) {
            action(keys)->trigger();
            playFor(Milliseconds{200});
        }
        playFor(Milliseconds{200});
        QTest::keyClick(&strip(), Qt::Key_Space);
        QTRY_VERIFY(!window_->player().playing());
        QVERIFY2(longestGap() < 240, qPrintable(QString::number(longestGap()))); // the steady tone never stops
    }
    void triesStandSideBySide() {
        dragOn(strip(), inComp(3.05), inComp(4.9));
        QTest::keyClick(&strip(), Qt::Key_Y);
        QTest::keyClick(&strip(), Qt::Key_T);
        QTest::keyClick(&strip(), Qt::Key_Y);
        auto* list = control<QListWidget>("Tries");
        QCOMPARE(list->count(), 2);
        QTest::keyClick(&strip(), Qt::Key_Y, Qt::ShiftModifier);
        QCOMPARE(letters(), std::string("AAAAAAAA"));
        QTest::keyClick(&strip(), Qt::Key_Y, Qt::ShiftModifier);
        QCOMPARE(letters(), std::string("AABBAAAA"));
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
        QCOMPARE(letters(), std::string("AAAAAAAA"));
        list->setFocus();
        list->setCurrentRow(0);
        QTest::keyClick(list, Qt::Key_Delete);
        QCOMPARE(document().session().tries.size(), std::size_t{1});
    }
    void barsAreRatedAndLaidTogether() {
        QTest::mouseClick(&strip(), Qt::LeftButton, {}, inRow(2, 4.5)); // a click chooses the bar in that row
        QCOMPARE(takes().row, std::optional<std::size_t>(2));
        QTest::keyClick(&strip(), Qt::Key_R);
        QTest::keyClick(&strip(), Qt::Key_3);
        QCOMPARE(document().session().marksOf({'C'}, 4), 3);
        QTest::mouseClick(&strip(), Qt::LeftButton, {}, inRow(1, 6.5));
        QTest::keyClick(&strip(), Qt::Key_R);
        QTest::keyClick(&strip(), Qt::Key_1);
        control<QPushButton>("lay-rated button")->click();
        QCOMPARE(letters(), std::string("AAACABAA"));
        QTest::keyClick(&strip(), Qt::Key_R);
        QTest::keyClick(&strip(), Qt::Key_0);
        QCOMPARE(document().session().ratings.size(), std::size_t{1});
    }
    void measuresAreShownAndACompIsSuggested() {
        QTest::mouseClick(&strip(), Qt::LeftButton, {}, inRow(0, 3.5));
        auto* table = control<QTableWidget>("Measures");
        QCOMPARE(table->rowCount(), 3);
        const BarMeasure* bar = takes().measures.of({1}, 3);
        QVERIFY(bar && bar->strokes > 4);
        QCOMPARE(table->item(1, 1)->text(), QString::number(bar->unsteady.value, 'f', 1));
        const int steps = document().history().count();
        control<QPushButton>("suggest-comp button")->click();
        QCOMPARE(document().history().count(), steps + 1);
        QVERIFY(document().history().undoText().contains("Suggested"));
    }
    void aGraftIsCarriedAndKnowsWhereItIsFrom() {
        QTest::mouseClick(&strip(), Qt::LeftButton, {}, inRow(1, 3.5));
        dragOn(strip(), inRow(1, 3.5), inRow(1, 7.5), Qt::AltModifier); // bar 3 to bar 7
        QCOMPARE(letters(), std::string("AAAAAAbA"));
        QSignalBlocker quiet(&sheet());
        QSignalSpy said(&strip(), &TakeStrip::pointedAt);
        QMouseEvent move(QEvent::MouseMove, QPointF(inComp(7.4)), strip().mapToGlobal(QPointF(inComp(7.4))),
                         Qt::NoButton, Qt::NoButton, {});
        QApplication::sendEvent(&strip(), &move);
        QVERIFY2(said.last()[0].toString().contains("take B, played in bar 3"),
                 qPrintable(said.last()[0].toString()));
        // To its source and back.
        const ResultFrame there{map().at(7, 0.3).frame};
        window_->player().setCursor(there);
        QTest::keyClick(&strip(), Qt::Key_O);
        QCOMPARE(map().barAt(SongFrame{window_->player().cursor().frame}), 3);
        QCOMPARE(takes().row, std::optional<std::size_t>(1));
        QTest::keyClick(&strip(), Qt::Key_O, Qt::ShiftModifier);
        QCOMPARE(window_->player().cursor(), there);
        action("undo")->trigger();
        QCOMPARE(letters(), std::string("AAAAAAAA"));
    }
    void aGraftByKeys() {
        QTest::mouseClick(&strip(), Qt::LeftButton, {}, inRow(2, 4.5));
        QTest::keyClick(&strip(), Qt::Key_G);
        QTest::mouseClick(&strip(), Qt::LeftButton, {}, inComp(6.5));
        QTest::keyClick(&strip(), Qt::Key_G, Qt::ShiftModifier);
        QCOMPARE(letters(), std::string("AAAAAcAA"));
    }
    void barsAreRepeatedInsertedAndDeleted() {
        dragOn(strip(), inRow(1, 3.05), inRow(1, 3.9));
        const auto length = document().session().length();
        action("repeat-bars")->trigger();
        QCOMPARE(letters(), std::string("AABBAAAA"));
        QVERIFY(document().session().length() > length);
        action("delete-bars")->trigger();
        QCOMPARE(letters(), std::string("AABAAAAA"));
        // A bar is no whole number of frames here: which one was deleted makes a frame's difference.
        QVERIFY(std::abs((document().session().length() - length).frames) <= 1);
        action("insert-bars")->trigger();
        QCOMPARE(letters(), std::string("AA-BAAAA"));
        for (int step = 0; step < 3; ++step)
            action("undo")->trigger();
        QCOMPARE(letters(), std::string("AABAAAAA"));
    }
    void takesAreNotedTintedAndLinedUp() {
        auto* note = control<QLineEdit>("Note of take B");
        note->setFocus();
        QTest::keyClicks(note, "loud");
        QTest::keyClick(note, Qt::Key_Return);
        QCOMPARE(document().session().takes[1].note, std::string("loud"));
        control<QDoubleSpinBox>("Start of take B")->setValue(1.5);
        QCOMPARE(document().session().takes[1].start.frames, std::int64_t{72000});
        dragOn(strip(), inRow(1, 3), inRow(1, 4), Qt::ShiftModifier); // a whole take along the song
        QVERIFY(document().session().takes[1].start.frames > 150000);
        control<QPushButton>("Line up take B")->click();
        QVERIFY(std::abs(document().session().takes[1].start.frames) < 48 * 30);
        const QImage before = strip().grab().toImage();
        document().perform(SetTakeTint{0, 7});
        QVERIFY(strip().grab().toImage() != before);
    }
    void versionsAreComparedHeardAndRestored() {
        window_->showVersions();
        auto* name = control<QLineEdit>("Version name");
        name->setFocus();
        QTest::keyClicks(name, "Rough");
        QTest::keyClick(name, Qt::Key_Return);
        dragOn(strip(), inRow(1, 3.05), inRow(1, 4.9));
        document().perform(SetStrength{40});
        auto* list = control<QListWidget>("Versions");
        QCOMPARE(list->count(), 1);
        list->setCurrentRow(0);
        auto* words = control<QListWidget>("Differences");
        QStringList said;
        for (int row = 0; row < words->count(); ++row)
            said << words->item(row)->text();
        QVERIFY2(said.contains("Bars 3 to 4: take B, was take A"), qPrintable(said.join("; ")));
        QVERIFY(said.contains("Strength: 40 %, was 100 %"));
        // Listened to and fro, while it plays.
        QTest::keyClick(&strip(), Qt::Key_Space);
        playFor(Milliseconds{250});
        control<QPushButton>("Hear version")->click();
        QCOMPARE(window_->player().monitored().kind, Monitored::Kind::version);
        playFor(Milliseconds{250});
        QTest::keyClick(&strip(), Qt::Key_V, Qt::ShiftModifier);
        QCOMPARE(window_->player().monitored().kind, Monitored::Kind::edit);
        playFor(Milliseconds{250});
        QTest::keyClick(&strip(), Qt::Key_V, Qt::ShiftModifier);
        QCOMPARE(window_->player().monitored().kind, Monitored::Kind::version);
        playFor(Milliseconds{250});
        QTest::keyClick(&strip(), Qt::Key_Space);
        QTRY_VERIFY(!window_->player().playing());
        QVERIFY2(longestGap() < 240, qPrintable(QString::number(longestGap())));
        window_->player().monitor({});
        control<QPushButton>("Restore version")->click();
        QCOMPARE(document().session().timing.strength, 100.0);
        QCOMPARE(letters(), std::string("AAAAAAAA"));
        action("undo")->trigger();
        QCOMPARE(letters(), std::string("AABBAAAA"));
        control<QPushButton>("Duplicate version")->click();
        QCOMPARE(list->count(), 2);
        control<QPushButton>("Delete version")->click();
        QCOMPARE(document().session().versions.size(), std::size_t{1});
    }
    void aPrintIsKeptAsAVersionAndCanBeHeard() {
        auto* panel = window_->findChild<PrintPanel*>();
        panel->setFolder(QString::fromStdString((folder_ / "printed").string()));
        panel->start();
        QTRY_VERIFY_WITH_TIMEOUT(!panel->printing(), 30000);
        QCOMPARE(document().session().versions.size(), std::size_t{1});
        QCOMPARE(document().session().versions[0].print.string(), (folder_ / "printed").string());
        QVERIFY(window_->player().monitor({Monitored::Kind::print, 0}));
        QTest::keyClick(&strip(), Qt::Key_Space);
        playFor(Milliseconds{200});
        window_->player().monitor({});
        playFor(Milliseconds{200});
        QTest::keyClick(&strip(), Qt::Key_Space);
        QTRY_VERIFY(!window_->player().playing());
        QVERIFY(longestGap() < 240);
        std::filesystem::remove_all(folder_ / "printed");
        document().perform(KeepVersion{"gone", "", folder_ / "nowhere"});
        QVERIFY(!window_->player().monitor({Monitored::Kind::print, 1}));
        QVERIFY(window_->notice().contains("nowhere"));
    }
    void savedAndOpenedAgain() {
        dragOn(strip(), inRow(1, 3.05), inRow(1, 4.9));
        document().perform(KeepVersion{"Rough", "", {}});
        const Session before = document().session();
        QVERIFY(document().save(folder_ / "song.lampo").has_value());
        QVERIFY(window_->open(folder_ / "song.lampo"));
        settle();
        QVERIFY(document().session() == before);
        QCOMPARE(letters(), std::string("AABBAAAA"));
    }
};

QTEST_MAIN(TestTakesWindow)
#include "tst_takes_window.moc"
