#pragma once

#include "stops/choice_table.h"
#include "stops/panel.h"
#include "stops/repairs/stroke_repairs.h"

class QCheckBox;
class QDoubleSpinBox;

namespace lampo {

/// The chosen strokes: donors that may stand for one of them, and their levels. While it is seen, the plot shows
/// levels.
class StrokesPage : public Panel {
    Q_OBJECT
public:
    StrokesPage(Document& document, SheetWidget& sheet, StrokeRepairs& repairs, MicChoice& mics,
                QWidget* parent = nullptr);

    /// The chosen stroke in its place.
    void hear();

signals:
    /// To be heard once.
    void stretchWanted(lampo::Range<lampo::ResultFrame> stretch);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void addMics(MicChoice& mics);
    void addDonors();
    void addDonorButtons();
    void addLevels();
    void findDonors();

    SheetWidget& sheet_;
    StrokeRepairs& repairs_;
    ChoiceTable* table_ = nullptr;
    QLabel* note_ = nullptr;
    QCheckBox* each_ = nullptr;
    QDoubleSpinBox* amount_ = nullptr;
    QDoubleSpinBox* target_ = nullptr;
    QCheckBox* toTarget_ = nullptr;
    std::vector<Donor> donors_;
    std::shared_ptr<const Outcome> donorsOf_; ///< that donors_ follow from
    std::optional<HitIndex> donorsFor_;
};

} // namespace lampo
