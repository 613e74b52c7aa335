#pragma once

#include "document/document.h"
#include "look/actions.h"
#include "player/audio_device.h"
#include "sheet/sheet_widget.h"
#include "shell/project_files.h"
#include "shell/stops.h"

#include <QMainWindow>
#include <QStackedWidget>

class QMenu;
class QUndoView;

namespace lampo {

class HitMenu;
class HitsPanel;
class KitPanel;
class TransportBar;
class MapPanel;
class MicHeads;
class Panel;
class PlayerControl;
class PrintPanel;
class SeamsPanel;
class ProofPanel;
class SongStrip;
class StopLine;
class TakesMenu;
class TakesPanel;
class TakeStrip;
class TimingPanel;
class VersionsPanel;

/// The one window: composition and wiring only.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(std::unique_ptr<AudioDevice> device, QWidget* parent = nullptr);
    ~MainWindow() override;

    Document& document() { return document_; }
    SheetWidget& sheet() { return *sheet_; }
    PlayerControl& player() { return *player_; }
    TakeStrip& takes() { return *takes_; }

    ProjectFiles& files() { return files_; }
    KitFiles& kitFiles() { return kitFiles_; }
    bool open(const std::filesystem::path& input) { return files_.open(input); }
    void goTo(Stop stop);
    /// Versions in place of the stop's settings.
    void showVersions();
    void setShow(Show show);
    void setNight(bool night);
    /// What went wrong last, as told in the window.
    QString notice() const { return notice_; }
    /// Closing, opening and printing do not ask about unsaved changes (screenshots, tests).
    void setAsking(bool asking);

protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void buildWindow();
    void buildFileMenu();
    void buildEditMenu();
    void buildHitMenu();
    void buildTakesMenu();
    void buildSeamMenu();
    void buildRepairMenu();
    void buildProofMenu();
    void playOnce(Range<ResultFrame> stretch);
    /// Over and over.
    void playOver(Range<ResultFrame> stretch);
    void buildViewMenu();
    void buildGoMenu();
    void buildListenMenu();
    void buildHelpMenu();
    void connectParts();
    void connectFiles();
    void connectTakes();
    void widenFor(bool table);
    void refreshStates();
    void retitle();
    void tell(const QString& sentence);
    void originFromSelection();
    void sectionFromLoop();
    void monitorTake();
    void restore();

    Document document_;
    KitFiles kitFiles_{document_, this};
    ProjectFiles files_{document_, kitFiles_, this};
    Actions actions_{*this};
    std::unique_ptr<PlayerControl> player_;
    SheetWidget* sheet_ = nullptr;
    MicHeads* heads_ = nullptr;
    SongStrip* strip_ = nullptr;
    TakeStrip* takes_ = nullptr;
    StopLine* stops_ = nullptr;
    TransportBar* bar_ = nullptr;
    QStackedWidget* panels_ = nullptr;
    std::vector<Panel*> perStop_;
    ProofPanel* proof_ = nullptr;
    PrintPanel* print_ = nullptr;
    SeamsPanel* seams_ = nullptr;
    KitPanel* kit_ = nullptr;
    MapPanel* map_ = nullptr;
    HitsPanel* hitsPanel_ = nullptr;
    TimingPanel* timing_ = nullptr;
    QMenu* viewMenu_ = nullptr;
    HitMenu* hits_ = nullptr;
    TakesMenu* takesMenu_ = nullptr;
    TakesPanel* takesPanel_ = nullptr;
    VersionsPanel* versions_ = nullptr;
    QAction* play_ = nullptr;
    QAction* loop_ = nullptr;
    QAction* click_ = nullptr;
    QAction* hearLanded_ = nullptr;
    QAction* night_ = nullptr;
    std::vector<QAction*> shows_;
    QString notice_;
};

} // namespace lampo
