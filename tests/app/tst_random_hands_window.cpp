#include "app/window_rig.h"
#include "project/project_json.h"
#include "session/validate.h"
#include "support/dice.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QPushButton>
#include <QTableView>

using namespace lampo;
using namespace lampo::test;

/// Hands that know nothing: actions, controls and drags drawn at random, on every stop that writes no file.
/// Whatever they do, the session can be saved and opened again, the plan fits it, and all of it can be taken back
/// and done again.
class TestRandomHandsWindow : public WindowRig {
    Q_OBJECT

    template <class Item>
    static Item& oneOf(std::vector<Item>& items, Dice& dice) {
        return items[static_cast<std::size_t>(dice.upTo(static_cast<int>(items.size()) - 1))];
    }
    /// What opens dialogs or writes files is left out.
    std::vector<QAction*> actions() {
        const QStringList without{
            "about",     "add-companion", "bring-in",     "export-map", "import-map", "keep-kit",    "use-kit",
            "history",   "keep-version",  "open-demo",    "print",      "quit",       "save",        "save-as",
            "shortcuts", "sources",       "versions",     "night",      "click",      "write-click", "open-folder",
            "undo",      "redo",          "open-project", "play",       "loop"};
        std::vector<QAction*> all;
        for (QAction* action : window_->findChildren<QAction*>())
            if (!action->objectName().isEmpty() && !without.contains(action->objectName()) &&
                !action->text().contains(QStringLiteral("…")))
                all.push_back(action);
        return all;
    }
    template <class Control>
    std::vector<Control*> shown() {
        std::vector<Control*> all;
        for (Control* control : window_->findChildren<Control*>())
            if (control->isVisible() && control->isEnabled())
                all.push_back(control);
        return all;
    }
    void press(Dice& dice) {
        std::vector<QAbstractButton*> buttons;
        const auto opensMenu = [](QAbstractButton* button) {
            const auto* push = qobject_cast<QPushButton*>(button);
            return push && push->menu();
        };
        for (QAbstractButton* button : shown<QAbstractButton>())
            if (!button->text().contains(QStringLiteral("…")) && !button->text().contains("Print") &&
                !button->inherits("QToolButton") && !opensMenu(button))
                buttons.push_back(button);
        if (!buttons.empty())
            oneOf(buttons, dice)->click();
    }
    void type(Dice& dice) {
        if (auto fields = shown<QDoubleSpinBox>(); !fields.empty()) {
            auto* field = oneOf(fields, dice);
            field->setValue(dice.chance(0.2) ? dice.between(field->minimum(), field->maximum())
                                             : field->value() + dice.around(0, 1, 20) * field->singleStep());
        }
    }
    void choose(Dice& dice) {
        if (auto boxes = shown<QComboBox>(); !boxes.empty() && dice.chance(0.5)) {
            auto* box = oneOf(boxes, dice);
            box->setCurrentIndex(dice.upTo(std::max(0, box->count() - 1)));
        } else if (auto tables = shown<QTableView>(); !tables.empty()) {
            auto* table = oneOf(tables, dice);
            if (const int rows = table->model()->rowCount(); rows > 0)
                table->selectionModel()->setCurrentIndex(table->model()->index(dice.upTo(rows - 1), 0),
                                                         QItemSelectionModel::ClearAndSelect |
                                                             QItemSelectionModel::Rows);
        }
    }
    void select(Dice& dice) {
        const int hits = static_cast<int>(document().outcome().hits.size());
        if (hits == 0)
            return;
        std::vector<HitIndex> some{{static_cast<std::size_t>(dice.upTo(hits - 1))}};
        while (dice.chance(0.5) && some.back() + 1 < document().outcome().hits.size())
            some.push_back({some.back() + 1});
        sheet().selectMany(some, some.front());
    }
    void dragSomewhere(Dice& dice) {
        const auto somewhere = [&] { return QPoint(dice.upTo(sheet().width()), dice.upTo(sheet().height())); };
        const std::vector<Qt::KeyboardModifiers> all{Qt::NoModifier, Qt::NoModifier, Qt::ShiftModifier,
                                                     Qt::ControlModifier};
        const QPoint from = somewhere();
        drag(from, dice.chance(0.5) ? from + QPoint(dice.upTo(60) - 30, dice.upTo(30) - 15) : somewhere(),
             all[static_cast<std::size_t>(dice.upTo(3))]);
    }
    void anything(Dice& dice) {
        switch (dice.upTo(9)) {
        case 0:
            return window_->goTo(static_cast<Stop>(dice.upTo(static_cast<int>(Stop::seams))));
        case 1:
        case 2:
            return select(dice);
        case 3:
            return dragSomewhere(dice);
        case 4:
            return press(dice);
        case 5:
            return type(dice);
        case 6:
            return choose(dice);
        default: {
            auto all = actions();
            return oneOf(all, dice)->trigger();
        }
        }
    }
    void holdsTogether() {
        const Session& session = document().session();
        const auto judged = validate(session);
        QVERIFY2(judged.has_value(), judged ? "" : judged.error().sentence.c_str());
        const Outcome& outcome = document().outcome();
        QCOMPARE(outcome.landings.size(), outcome.hits.size());
        const auto& segments = outcome.plan->segments;
        for (std::size_t i = 1; i < segments.size(); ++i)
            QVERIFY(segments[i - 1].sounds.begin <= segments[i].sounds.begin &&
                    segments[i - 1].sounds.end < segments[i].sounds.end);
        QVERIFY(segments.empty() || segments.front().sounds.begin.frame >= 0);
        for (const PlannedPatch& patch : outcome.plan->patches)
            QVERIFY(patch.patch < session.patches.size() && !patch.sounds.empty());
    }

private slots:
    void initTestCase() {
        makeTake({"kick_in", "snare_top", "snare_bottom", "tom_rack", "hihat", "overhead_left"});
    }
    void whateverTheyDo_data() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 1; seed <= 5; ++seed)
            QTest::addRow("seed %u", seed) << seed;
    }
    void whateverTheyDo() {
        QFETCH(unsigned, seed);
        openWindow();
        const Session begun = document().session();
        const int first = document().history().index();
        Dice dice(seed);
        for (int step = 0; step < 300; ++step) {
            anything(dice);
            QApplication::processEvents();
            holdsTogether();
            if (QTest::currentTestFailed())
                return;
            if (step % 50 != 0)
                continue;
            const auto again =
                sessionFromText(projectText(document().session(), folder_.path()), folder_.path(), "it");
            QVERIFY(again.has_value());
            QVERIFY(*again == document().session());
            sheet().grab();
        }
        window_->player().stop();
        settle();
        const Session ended = document().session();
        const int last = document().history().index();
        qInfo("%d steps, %zu patches, %zu hits", last - first, ended.patches.size(),
              document().outcome().hits.size());
        document().history().setIndex(first);
        QVERIFY(document().session() == begun);
        document().history().setIndex(last);
        QVERIFY(document().session() == ended);
        holdsTogether();
    }
    void cleanup() { window_.reset(); }
};

QTEST_MAIN(TestRandomHandsWindow)
#include "tst_random_hands_window.moc"
