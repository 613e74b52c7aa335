#pragma once

#include "document/player_control.h"
#include "session/differences.h"
#include "stops/panel.h"

class QComboBox;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace lampo {

class DropList;

/// The three states kept apart: the takes as recorded, the edit with everything open, and prints; with named
/// versions of the edit, which are compared, listened to, restored and duplicated here.
class VersionsPanel : public Panel {
    Q_OBJECT
public:
    explicit VersionsPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

    void keep();
    /// From the edit to what was heard last instead of it, and back.
    void monitorOther();
    /// Follows the player.
    void showMonitored(const Monitored& what);

signals:
    void monitorWanted(const lampo::Monitored& what);
    /// Where the chosen version differs from the edit.
    void compared(const std::vector<lampo::Range<lampo::SongFrame>>& where);
    void placeChosen(lampo::ResultFrame at);

protected:
    void hideEvent(QHideEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    void addHearing();
    void addVersions();
    void addComparison();
    void showVersions();
    void showHearing();
    void compare();
    std::optional<std::size_t> chosen() const;

    QComboBox* hear_ = nullptr;
    std::vector<Monitored> choices_; ///< of the box
    Monitored now_;
    std::optional<Monitored> other_;
    QLineEdit* name_ = nullptr;
    DropList* list_ = nullptr;
    std::vector<QPushButton*> needVersion_;
    QLabel* against_ = nullptr;
    QListWidget* words_ = nullptr;
    std::vector<Difference> differences_;
};

} // namespace lampo
