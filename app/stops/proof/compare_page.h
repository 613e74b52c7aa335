#pragma once

#include "stops/hearable.h"
#include "stops/panel.h"
#include "stops/proof/difference_view.h"

class QCheckBox;
class QComboBox;
class QPushButton;

namespace lampo {

/// Two things that can be heard, in turn at the same place, and what they differ by, heard and seen.
class ComparePage : public Panel {
    Q_OBJECT
public:
    explicit ComparePage(Document& document, QWidget* parent = nullptr);

    /// What is to be heard; the second: what it is compared with.
    struct Wish {
        Monitored heard;
        std::optional<PlayerControl::Comparison> comparison;
    };

public slots:
    /// The other one of the two.
    void hearOther();
    /// What they differ by, or one of them again.
    void hearDifference();
    /// No longer: the edit is heard as the window's switches have it.
    void leave();

signals:
    void wished(const lampo::ComparePage::Wish& wish);
    void placeChosen(lampo::ResultFrame at);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void offer();
    void wish();
    const Monitored& choice(QComboBox* box) const;

    QComboBox* first_;
    QComboBox* second_;
    QCheckBox* atOneLoudness_;
    QPushButton* hearFirst_;
    QPushButton* hearSecond_;
    QPushButton* hearDifference_;
    DifferenceView* view_;
    std::vector<Hearable> choices_;
    bool hearsSecond_ = false;     ///< the second one is heard
    bool hearsDifference_ = false; ///< only what they differ by
    bool hearing_ = false;         ///< either of them, instead of what the switches say
};

} // namespace lampo
