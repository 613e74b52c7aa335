#pragma once

#include "stops/hits_table.h"
#include "stops/panel.h"
#include "stops/where_box.h"

class QComboBox;
class QPushButton;
class QToolButton;

namespace lampo {

/// How each guide is listened to, in the song or in one section of it; the hits as a table; and the corrections
/// that no longer find their hit.
class HitsPanel : public Panel {
    Q_OBJECT
public:
    explicit HitsPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;
    HitsTable& table() { return *table_; }

signals:
    /// The chosen guide is to be heard through its bands, or none.
    void bandsWanted(std::optional<MicIndex> mic);

private:
    void addWhere();
    void addDetection();
    void addEmphasis();
    void addFinest();
    void addClusters();
    void addLost();
    void showGuides();
    /// The chosen guide's; none where the kit has no guides.
    std::optional<MicIndex> mic() const;
    const Mic* guide() const;
    /// The chosen guide's for an edit, which refuses it where there is none.
    MicIndex micToSet() const;
    std::optional<std::size_t> section() const { return where_->section(); }
    /// The section's own settings for the guide, empty where it follows the song.
    SectionDetection own() const;
    QString tally() const;

    QComboBox* guides_ = nullptr;
    WhereBox* where_ = nullptr;
    QToolButton* follow_ = nullptr;
    QToolButton* hear_ = nullptr;
    HitsTable* table_ = nullptr;
    std::vector<std::string> shown_;
};

} // namespace lampo
