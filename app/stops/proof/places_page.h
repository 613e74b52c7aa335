#pragma once

#include "proof/entries.h"
#include "proof/remedies.h"
#include "stops/panel.h"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QGridLayout;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace lampo {

/// The places that want an ear, worst first, neighbours of one kind as one entry that can be opened; each is
/// answered, mended, or left for later.
class PlacesPage : public Panel {
    Q_OBJECT
public:
    explicit PlacesPage(Document& document, QWidget* parent = nullptr);

    Milliseconds runUp() const;
    /// Whether a place is played as soon as it is chosen, and whether again and again.
    bool playsChosen() const;
    bool loopsChosen() const;
    /// The place of the chosen row.
    std::optional<Range<ResultFrame>> chosenPlace() const;

public slots:
    /// Goes to the next row (step 1) or the one before (−1).
    void go(int step);
    /// Says it of all chosen rows, and goes on to what comes behind.
    void answer(lampo::ProofState state);
    /// Does what the first button would.
    void mend();
    /// Shows each place of the chosen entry by itself, or all as one again.
    void openEntry();

signals:
    void placeChosen(lampo::Range<lampo::ResultFrame> where);

protected:
    void showEvent(QShowEvent* event) override;

private:
    /// A row: an entry, or one of its places.
    struct Row {
        std::size_t entry;
        std::optional<std::size_t> place;
    };

    void addList();
    void addAnswers();
    void addListening();
    void showPlaces();
    void showRemedies();
    void addRow(const Row& row);
    void rowChosen(int row);
    /// In the list of places.
    std::vector<std::size_t> placesOf(const Row& row) const;
    std::vector<std::size_t> chosenPlaces() const;
    bool shows(ProofState state) const;
    QString tally() const;

    QComboBox* filter_ = nullptr;
    QListWidget* list_ = nullptr;
    QGridLayout* remedyGrid_ = nullptr;
    std::vector<QPushButton*> remedyButtons_;
    std::vector<QPushButton*> answers_;
    QLineEdit* note_ = nullptr;
    QCheckBox* play_ = nullptr;
    QCheckBox* loop_ = nullptr;
    QDoubleSpinBox* runUp_ = nullptr;
    std::vector<ProofEntry> entries_;
    std::vector<Row> rows_;
    std::optional<std::uint64_t> opened_;  ///< content of the first place of the entry that is shown open
    std::optional<std::uint64_t> current_; ///< content of the place that is chosen
    std::vector<Remedy> remedies_;
};

} // namespace lampo
