#pragma once

#include "shell/kit_files.h"

#include <thread>

class QMenu;

namespace lampo {

/// Opening, saving, the demo, what was open before, and work that a crash left.
class ProjectFiles : public QObject {
    Q_OBJECT
public:
    /// `window` is the parent of the dialogs.
    ProjectFiles(Document& document, KitFiles& kit, QWidget* window);

    /// Asks about unsaved changes first, and shows what becomes of each file of a folder. False when it was not
    /// opened; the reason was told.
    bool open(const std::filesystem::path& input);
    /// Whether what is open may go: saved, or said not to be wanted.
    bool mayDiscard();
    /// Work that a crash left unsaved: asks about each, and opens what is wanted. False when nothing was.
    bool offerLeftWork();
    /// What a journal kept, with its history. False when it cannot be; the reason was told.
    bool bringBack(const std::filesystem::path& journal);
    /// What was opened lately, newest first.
    void fillRecent(QMenu& menu);
    /// Saves of this project before the last one.
    void fillEarlier(QMenu& menu);

public slots:
    void openFolder();
    void openProject();
    void openDemo();
    bool save();
    bool saveAs();

signals:
    void aboutToOpen();
    void opened();
    /// An error, or what was done.
    void notified(const QString& sentence);

private:
    bool offer(const std::filesystem::path& journal);
    bool saveTo(const std::filesystem::path& file);
    void remember(const std::filesystem::path& input);

    Document& document_;
    KitFiles& kit_;
    QWidget* window_;
    std::jthread demoMaker_;
};

} // namespace lampo
