#pragma once

#include "document/document.h"

#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>

#include <optional>
#include <thread>

namespace lampo {

/// The files of the recording that are missing, damaged or others than they were, one by one, and what takes their
/// place: looked for in a folder, chosen, or taken as they are now. One step of the history. Without it work goes
/// on with the rest.
class SourcesDialog : public QDialog {
    Q_OBJECT
public:
    explicit SourcesDialog(Document& document, QWidget* parent = nullptr);
    ~SourcesDialog() override;

    /// Looks below a folder for all that is wrong, in a thread of its own.
    void lookIn(const std::filesystem::path& folder);
    /// Puts this file in the place of the current row's.
    void takeInstead(const std::filesystem::path& file);
    bool looking() const { return looking_; }

signals:
    void notified(const QString& sentence);

private:
    void buildButtons();
    void refresh();
    void enable();
    void askForFolder();
    void askForFile();
    void takeAsItIs();
    void use();
    void arrived(const Expected<std::vector<std::optional<FoundSource>>>& found);
    std::optional<std::size_t> current() const;

    Document& document_;
    std::vector<std::optional<FoundSource>> found_; ///< beside the document's problems
    QLabel* words_;
    QTreeWidget* list_;
    QPushButton* look_;
    QPushButton* choose_;
    QPushButton* asItIs_;
    QPushButton* use_;
    bool looking_ = false;
    std::jthread thread_;
};

} // namespace lampo
