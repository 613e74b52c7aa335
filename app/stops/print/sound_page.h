#pragma once

#include "deliver/print.h"
#include "stops/panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QSpinBox>

#include <functional>

namespace lampo {

/// What is printed, as which files, and what they will be called. What a user sets once for all songs (format,
/// rate, names) is remembered from one start to the next.
class SoundPage : public Panel {
    Q_OBJECT
public:
    explicit SoundPage(Document& document, QWidget* parent = nullptr);

    /// As it is set now, with the texts still to come. Errors: badValue (bars or a loop that hold nothing).
    Expected<PrintSettings> settings() const;
    QString folder() const;
    void setFolder(const QString& folder) { folder_->setText(folder); }
    /// The stretch that "the loop" means.
    void setLoop(std::function<Range<ResultFrame>()> loop) { loop_ = std::move(loop); }
    /// Whether a text is wanted beside the files.
    bool wantsAbout() const { return about_->isChecked(); }

private:
    void addContent();
    void addFormat();
    void addNames();
    void choose();
    void remember() const;
    void recall();
    void fillStretches();
    void fillMics();
    void showNames();
    QString defaultFolder() const;
    Expected<std::optional<Range<ResultFrame>>> stretch() const;
    QCheckBox* addCheck(const QString& title, const char* name, bool on);

    QComboBox *stretch_, *mics_, *container_, *encoding_, *rate_, *dither_;
    QWidget* bars_;
    QSpinBox *firstBar_, *lastBar_;
    QListWidget* chosenMics_;
    QCheckBox *oneFile_, *beside_, *click_, *mix_, *markers_, *about_;
    QLineEdit *names_, *folder_;
    QLabel* preview_;
    std::function<Range<ResultFrame>()> loop_;
    std::vector<std::string> stems_;    ///< that the list of mics shows
    std::vector<std::string> sections_; ///< that the list of stretches shows
};

} // namespace lampo
