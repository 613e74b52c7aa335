#pragma once

#include "document/document.h"
#include "player/audio_device.h"
#include "render/click.h"
#include "sheet/sheet_widget.h"
#include "shell/actions.h"

#include <QMainWindow>
#include <QStackedWidget>

class QMenu;
class QUndoView;

namespace lampo {

class HitMenu;
class HitsPanel;
class KitPanel;
class ListeningBar;
class MapPanel;
class MicHeads;
class Panel;
class PlayerControl;
class PrintPanel;
class ProofPanel;
class SongStrip;
class StopLine;
class TakesMenu;
class TakesPanel;
class TakeStrip;
class TimingPanel;
class VersionsPanel;

enum class Stop { kit, map, takes, hits, timing, seams, proof, print };

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

    /// Adds takes and companions to what is open, after showing what becomes of each file.
    void bringIn(const std::vector<std::filesystem::path>& inputs);
    /// Arranges the mics as a kept kit says.
    void useKit(const std::filesystem::path& file);
    /// Asks about unsaved changes first, and shows what becomes of each file of a folder. False when it was not
    /// opened; the reason was told.
    bool open(const std::filesystem::path& input);
    /// Work that a crash left unsaved: asks about each, and opens what is wanted. False when nothing was.
    bool offerLeftWork();
    /// What a journal kept, with its history. False when it cannot be; the reason was told.
    bool bringBack(const std::filesystem::path& journal);
    void goTo(Stop stop);
    /// Versions in place of the stop's settings.
    void showVersions();
    void setShow(Show show);
    void setNight(bool night);
    /// The click of the whole song; writing over a source is refused.
    void writeClickTo(const QString& file, const ClickSettings& settings);
    /// What went wrong last, as told in the window.
    QString notice() const { return notice_; }
    /// Closing and opening do not ask about unsaved changes (screenshots, tests).
    void setAsking(bool asking) { asking_ = asking; }

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
    void buildViewMenu();
    void buildGoMenu();
    void buildListenMenu();
    void buildHelpMenu();
    void connectParts();
    void connectTakes();
    void widenFor(bool table);
    void refreshStates();
    void retitle();
    void tell(const QString& sentence);
    bool mayDiscard();
    bool offer(const std::filesystem::path& journal);
    bool save();
    bool saveAs();
    bool saveTo(const std::filesystem::path& file);
    void openFolder();
    bool openFolders(const std::vector<std::filesystem::path>& folders);
    void bringInTakes();
    void addCompanion();
    void keepKit();
    void useKit();
    void openProject();
    void openDemo();
    void fillRecent();
    void fillEarlier();
    void showSources();
    void tellSources();
    void chooseClick();
    void remember(const std::filesystem::path& input);
    void originFromSelection();
    void sectionFromLoop();
    void hearTake();
    void restore();

    Document document_;
    Actions actions_{*this};
    std::unique_ptr<PlayerControl> player_;
    SheetWidget* sheet_ = nullptr;
    MicHeads* heads_ = nullptr;
    SongStrip* strip_ = nullptr;
    TakeStrip* takes_ = nullptr;
    StopLine* stops_ = nullptr;
    ListeningBar* bar_ = nullptr;
    QStackedWidget* panels_ = nullptr;
    std::vector<Panel*> perStop_;
    ProofPanel* proof_ = nullptr;
    PrintPanel* print_ = nullptr;
    KitPanel* kit_ = nullptr;
    MapPanel* map_ = nullptr;
    HitsPanel* hitsPanel_ = nullptr;
    TimingPanel* timing_ = nullptr;
    QMenu* recent_ = nullptr;
    QMenu* earlier_ = nullptr;
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
    std::jthread demoMaker_;
    QString notice_;
    bool asking_ = true;
};

} // namespace lampo
