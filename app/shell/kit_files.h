#pragma once

#include "document/document.h"
#include "render/click.h"

#include <QObject>

namespace lampo {

/// Files of the recording and beside it: bringing in takes and companions, kept kits, sources that moved, the
/// click. Sources are only read; nothing is written over one.
class KitFiles : public QObject {
    Q_OBJECT
public:
    /// `window` is the parent of the dialogs.
    KitFiles(Document& document, QWidget* window);

    /// False when they were not opened; the reason was told.
    bool openFolders(const std::vector<std::filesystem::path>& folders);
    /// Adds takes and companions to what is open, after showing what becomes of each file.
    void bringIn(const std::vector<std::filesystem::path>& inputs);
    /// Arranges the mics as a kept kit says.
    void useKit(const std::filesystem::path& file);
    /// The click of the whole song.
    void writeClickTo(const QString& file, const ClickSettings& settings);
    /// What is not as it was when the project was saved, after opening.
    void tellSources();
    /// Without it nothing is asked, here and in ProjectFiles: what is proposed is taken (screenshots, tests).
    void setAsking(bool asking) { asking_ = asking; }
    bool asks() const { return asking_; }

public slots:
    void bringInTakes();
    void addCompanion();
    void keepKit();
    void chooseKit();
    void chooseClick();
    void showSources();

signals:
    /// An error, or what was done.
    void notified(const QString& sentence);

private:
    Document& document_;
    QWidget* window_;
    bool asking_ = true;
};

} // namespace lampo
