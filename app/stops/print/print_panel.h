#pragma once

#include "stops/print/edit_page.h"
#include "stops/print/notes_page.h"
#include "stops/print/samples_page.h"
#include "stops/print/sound_page.h"

#include <QProgressBar>
#include <QPushButton>

#include <thread>

namespace lampo {

/// What leaves the program: files of sound, notes, and the edit itself. Prints off the window's thread, with
/// progress and a way to stop.
class PrintPanel : public Panel {
    Q_OBJECT
public:
    PrintPanel(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);
    ~PrintPanel() override;

    QString state() const override;
    bool printing() const { return printing_; }
    /// Whether open places of the proof, and files of earlier prints, are asked about before a print.
    void setAsking(bool asking) { asking_ = asking; }
    void setFolder(const QString& folder) { sound_->setFolder(folder); }
    SoundPage& sound() { return *sound_; }
    const NotesPage& notes() const { return *notes_; }

public slots:
    void start();

signals:
    void printed(const QString& folder);
    void stateChanged();
    void notified(const QString& sentence);
    /// The open places of the proof are to be looked at first.
    void placesWanted();
    /// Whether notes are heard in place of the mics, or which.
    void heardChanged();

private:
    void addQuestions();
    bool mayPrint();
    bool mayReplace(PrintSettings& settings);
    void showOpen();
    std::ptrdiff_t openPlaces() const;
    void run(const PrintSettings& settings);
    void finish(const QString& error, std::ptrdiff_t files);

    SoundPage* sound_;
    NotesPage* notes_;
    QPushButton* button_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QLabel* open_ = nullptr;
    QPushButton* look_ = nullptr;
    QWidget* earlier_ = nullptr; ///< the question what becomes of earlier files
    QLabel* done_ = nullptr;
    std::jthread thread_;
    bool printing_ = false;
    bool asking_ = true;
    std::filesystem::path askedOf_; ///< the song that was asked about
    bool asked_ = false;
    std::optional<Earlier> answer_; ///< about the folder that is being asked of
    QString last_;
};

} // namespace lampo
