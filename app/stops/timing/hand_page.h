#pragma once

#include "advice/hit_edits.h"
#include "sheet/sheet_widget.h"
#include "stops/panel.h"

class QComboBox;
class QDoubleSpinBox;
class QLineEdit;
class QPushButton;

namespace lampo {

/// What can be done by hand with the chosen hits: place, nudge, send, phrases, shove, slip.
class HandPage : public Panel {
    Q_OBJECT
public:
    HandPage(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);

    /// By the amount that is set, `direction` −1 or 1; repeated nudges of one selection are one step.
    void nudge(int direction);
    void send(int lines);
    void makePhrase();
    void clear();

signals:
    void notified(const QString& sentence);

private:
    void addPlace();
    void addNudges();
    void addPhrase();
    void addMoves();
    void selectionChanged();
    void show();
    void perform(const Expected<Edit>& edit, int gesture = 0);
    const std::vector<HitIndex>& chosen() const { return sheet_.state().selection; }
    void typePlace();
    void fitShove();
    /// By what the passage is moved now, ms.
    double movedMs(const std::vector<PassageMove>& moves) const;

    SheetWidget& sheet_;
    int gesture_ = 0;
    QLabel* who_ = nullptr;
    QLineEdit* place_ = nullptr;
    QDoubleSpinBox* amount_ = nullptr;
    QComboBox* unit_ = nullptr;
    double ease_ = 0; ///< of the next phrase
    QPushButton* deletePhrase_ = nullptr;
};

} // namespace lampo
