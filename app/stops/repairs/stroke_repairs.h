#pragma once

#include "advice/donors.h"
#include "advice/patch_advice.h"
#include "sheet/sheet_widget.h"
#include "stops/repairs/mic_choice.h"

namespace lampo {

/// What mends the chosen strokes; menu and page both ask here.
class StrokeRepairs : public QObject {
    Q_OBJECT
public:
    /// All of them outlive it.
    StrokeRepairs(Document& document, SheetWidget& sheet, MicChoice& mics);

    /// For the chosen stroke, the best first. Errors: those of donorsFor().
    Expected<std::vector<Donor>> donors() const;
    /// Of those, the one that sounds in its place.
    std::optional<std::size_t> donorInUse(const std::vector<Donor>& donors) const;
    DonorLevel donorLevel() const { return donorLevel_; }
    /// What the other mics keep of the chosen stroke, in words; empty: none is chosen.
    QString kept() const;
    /// The place of the chosen stroke and what is around it.
    std::optional<Range<ResultFrame>> around() const;
    /// Whether edits are done to some mics only.
    bool only() const { return !document_.editedOnly().empty(); }

public slots:
    /// One step with the one before for the same stroke, unless `alone`.
    void replaceBy(const lampo::Donor& donor, bool alone = false);
    /// By the best donor; where the stroke is replaced already, by the one that comes next.
    void replaceByNext();
    void setDonorLevel(lampo::DonorLevel level);
    void bringTogether();
    void level(double percent, std::optional<lampo::Decibels> target);
    void makeLouder(double decibels);
    /// What is replaced or shifted on the chosen strokes sounds so much later.
    void shiftBy(lampo::FrameCount later);
    /// Edits of hits and seams are done to the chosen mics only, until another hit or seam is chosen.
    void setOnly(bool on);
    void switchPatches();
    void deletePatches();

signals:
    void notified(const QString& sentence);
    void onlyChanged(bool on);

private:
    void perform(const Expected<AddPatches>& edit, const QString& done, int gesture = 0);
    HitIndex current() const;
    /// Indices in Session::patches of those on the chosen hits.
    std::vector<std::size_t> ofChosen() const;
    void endOnly();
    QString shiftWords(FrameCount shift) const;
    void tellShift();

    Document& document_;
    SheetWidget& sheet_;
    MicChoice& mics_;
    DonorLevel donorLevel_ = DonorLevel::neighbours;
    int gesture_ = 0;
    FrameCount toldShift_{};
    std::vector<HitIndex> onlyHits_; ///< that were chosen when editing on some mics began
    std::vector<SeamIndex> onlySeams_;
};

} // namespace lampo
