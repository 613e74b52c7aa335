#include "app/window_rig.h"
#include "hits/song_hit.h"
#include "stops/proof/figures_page.h"
#include "stops/proof/proof_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

using namespace lampo;
using namespace lampo::test;

/// Going through the proof in the real window: by keys and buttons, heard, answered, mended, compared.
class TestProofWindow : public WindowRig {
    Q_OBJECT

    QListWidget& list() { return *control<QListWidget>("Places"); }
    const std::vector<ProofPlace>& places() { return document().proof().proof.places; }
    /// Until the edit as it is now was listened to, its seams placed.
    void listen() {
        QTRY_VERIFY_WITH_TIMEOUT(document().proofIsOfNow() && !document().proofWork().busy() &&
                                     !document().seamWork().busy() && document().outcome().plan->open.empty(),
                                 60000);
    }
    std::size_t openOnes(ProofKind kind) {
        return static_cast<std::size_t>(
            std::count_if(places().begin(), places().end(), [&](const ProofPlace& place) {
                return place.kind == kind && place.state == ProofState::open;
            }));
    }
    /// A hit in the middle that goes to the next line, and a correction without a hit.
    void spoil() {
        const auto& outcome = document().outcome();
        HitIndex hit{outcome.hits.size() / 2};
        const auto isFree = [&] { // the line behind it
            const auto &line = outcome.landings[hit].line, &next = outcome.landings[hit + 1].line;
            return line && next && next->frame - line->frame > scaled(line->step, 1.5);
        };
        while (!isFree())
            ++hit;
        Correction next = correctionOf(document().session(), outcome.hits[hit], Correction::Kind::line);
        next.moved = outcome.landings[hit].line->step + outcome.landings[hit].move();
        QVERIFY(document().perform(DetectionEdit{Correct{next}}));
        QVERIFY(document().perform(DetectionEdit{Correct{
            {Correction::Kind::remove, TakeLetter{'A'}, SourceFrame{48000 * 19 + 23456}, {}, Voice::kick}}}));
        listen();
    }
    int rowWith(const QString& words) {
        for (int row = 0; row < list().count(); ++row)
            if (list().item(row)->text().contains(words))
                return row;
        return -1;
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "overhead_left"}); }
    void init() {
        openWindow();
        window_->goTo(Stop::proof);
        listen();
    }
    void cleanup() { window_.reset(); }

    void whatIsOpenIsSaidEverywhere() {
        spoil();
        QVERIFY(openOnes(ProofKind::wrongLine) >= 1);
        QCOMPARE(openOnes(ProofKind::lostCorrection), std::size_t{1});
        QVERIFY(list().count() >= 2);
        const auto open = std::count_if(places().begin(), places().end(),
                                        [](const ProofPlace& place) { return place.state == ProofState::open; });
        QVERIFY(control<QLabel>("Proof tally")->text().startsWith(QStringLiteral("%1 open").arg(open)));
        QVERIFY(control<QLabel>("Open places")->text().startsWith(QString::number(open)));
    }

    void keysWalkAndTheViewFollows() {
        spoil();
        QTest::keyClick(window_.get(), Qt::Key_F8);
        QCOMPARE(list().currentRow(), 0);
        const auto first = *window_->findChild<ProofPanel*>()->places().chosenPlace();
        QCOMPARE(window_->player().cursor(),
                 std::max(ResultFrame{0}, first.begin - toFrames(Milliseconds{1000}, document().session().rate)));
        QVERIFY(state().axis.toX(static_cast<double>(first.begin.frame)) > 0);
        QVERIFY(state().axis.toX(static_cast<double>(first.begin.frame)) < state().axis.width());
        QTest::keyClick(window_.get(), Qt::Key_F8);
        QCOMPARE(list().currentRow(), 1);
        QTest::keyClick(window_.get(), Qt::Key_F8, Qt::ShiftModifier);
        QTest::keyClick(window_.get(), Qt::Key_F8, Qt::ShiftModifier);
        QCOMPARE(list().currentRow(), list().count() - 1);
    }

    void aPlaceIsHeardWithItsRunUp() {
        spoil();
        QTest::keyClick(window_.get(), Qt::Key_F8);
        QVERIFY(!window_->player().playing());
        QTest::keyClick(window_.get(), Qt::Key_F8, Qt::AltModifier);
        QVERIFY(window_->player().playing());
        window_->player().stop();
        control<QCheckBox>("Play places")->setChecked(true);
        QTest::keyClick(window_.get(), Qt::Key_F8);
        QVERIFY(window_->player().playing());
        window_->player().stop();
    }

    void fineStaysWhileNothingChanges() {
        spoil();
        const int row = rowWith("no longer finds");
        QVERIFY(row >= 0);
        list().setCurrentRow(row);
        const int rows = list().count();
        QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
        QCOMPARE(list().count(), rows - 1);
        QCOMPARE(rowWith("no longer finds"), -1);
        QCOMPARE(document().history().undoText(), QStringLiteral("Proof: lost correction fine"));
        document().perform(SetStrength{95}); // elsewhere
        listen();
        QCOMPARE(rowWith("no longer finds"), -1);
        control<QComboBox>("Places shown")->setCurrentIndex(2);
        QVERIFY(rowWith("fine") >= 0);
        document().history().undo();
        document().history().undo();
        listen();
        control<QComboBox>("Places shown")->setCurrentIndex(0);
        QVERIFY(rowWith("no longer finds") >= 0);
    }

    void laterKeepsANote() {
        spoil();
        list().setCurrentRow(rowWith("no longer finds"));
        QTest::keyClicks(control<QLineEdit>("Place note"), "ask the drummer");
        QTest::keyClick(control<QLineEdit>("Place note"), Qt::Key_Return);
        QCOMPARE(document().session().proofAnswers.size(), std::size_t{1});
        QCOMPARE(document().session().proofAnswers.front().note, std::string("ask the drummer"));
        control<QComboBox>("Places shown")->setCurrentIndex(1);
        QVERIFY(rowWith("ask the drummer") >= 0);
        // It is saved with the song.
        QVERIFY(document().save(folder_ / "answered.lampo").has_value());
        QVERIFY(window_->open(folder_ / "answered.lampo"));
        QCOMPARE(document().session().proofAnswers.size(), std::size_t{1});
    }

    void aButtonMends() {
        spoil();
        const int row = rowWith("another line");
        QVERIFY(row >= 0);
        list().setCurrentRow(row);
        auto* button = control<QPushButton>("Remedy 1");
        QCOMPARE(button->text(), QStringLiteral("Line before"));
        QTest::mouseClick(button, Qt::LeftButton);
        listen();
        QCOMPARE(rowWith("neighbours tell of another line"), -1);
        list().setCurrentRow(rowWith("no longer finds"));
        QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier);
        listen();
        QCOMPARE(rowWith("no longer finds"), -1);
    }

    void twoThingsAreComparedByEarAndEye() {
        control<QPushButton>("Compare page")->click();
        auto& player = window_->player();
        QTest::keyClick(window_.get(), Qt::Key_C);
        QCOMPARE(player.monitored().kind, Monitored::Kind::landed);
        QTest::keyClick(window_.get(), Qt::Key_C);
        QCOMPARE(player.monitored().kind, Monitored::Kind::played);
        QTest::keyClick(window_.get(), Qt::Key_C, Qt::ShiftModifier);
        QVERIFY(player.comparison() && player.comparison()->difference);
        auto* view = window_->findChild<DifferenceView*>();
        QTRY_VERIFY_WITH_TIMEOUT(!view->picture().mics.empty(), 30000);
        const auto loudest = [&] {
            float most = -200;
            for (const auto& mic : view->picture().mics)
                most = std::max(most, *std::max_element(mic.begin(), mic.end()));
            return most;
        };
        QVERIFY(loudest() > -30); // hits were moved
        // With itself nothing differs, to be seen or heard.
        auto* other = control<QComboBox>("Compare that");
        other->setCurrentIndex(0);
        emit other->activated(0);
        QTRY_VERIFY_WITH_TIMEOUT(!view->picture().mics.empty() && loudest() < -150, 30000);
        player.setCursor(ResultFrame{96000});
        player.toggle();
        const std::size_t before = device_->recorded().size();
        playFor(Milliseconds{200});
        for (std::size_t i = before; i < device_->recorded().size(); ++i)
            if (std::abs(device_->recorded()[i]) > 1e-6F)
                QFAIL("nothing differs, and something is heard");
        player.stop();
        window_->goTo(Stop::hits); // whoever goes elsewhere hears the edit again
        QCOMPARE(player.monitored().kind, Monitored::Kind::edit);
        QVERIFY(!player.comparison());
    }

    void figuresAreWritten() {
        control<QPushButton>("Figures page")->click();
        QVERIFY(control<QLabel>("Proof figures")->text().contains("snare, landed"));
        auto* figures = window_->findChild<FiguresPage*>();
        for (const auto& [file, has] : {std::pair{"p.html", "<table>"}, std::pair{"p.txt", "spread before"},
                                        std::pair{"p.json", "lampo-proof-1"}}) {
            figures->write(QString::fromStdString((folder_ / file).string()));
            QVERIFY(QString::fromStdString(readBytes(folder_ / file)).contains(QLatin1String(has)));
        }
    }

    void printingWithOpenPlacesAsksOnce() {
        spoil();
        window_->setAsking(true);
        const auto out = folder_.path() / "asked";
        control<QLineEdit>("Print folder")->setText(QString::fromStdString(out.string()));
        action("print")->trigger();
        QVERIFY(window_->notice().contains("open"));
        QVERIFY(!std::filesystem::exists(out));
        QVERIFY(control<QPushButton>("Look at places")->isVisible());
        action("print")->trigger();
        QTRY_VERIFY_WITH_TIMEOUT(std::filesystem::exists(out / "kick_in.wav"), 30000);
        QTRY_VERIFY_WITH_TIMEOUT(window_->findChild<QPushButton*>("Print button")->text() == "Print", 30000);
    }
};

QTEST_MAIN(TestProofWindow)
#include "tst_proof_window.moc"
