#pragma once

#include "stops/panel.h"

#include <QProgressBar>
#include <QPushButton>

#include <thread>

namespace lampo {

/// The edit itself for others: before it is rendered, as tables, as a report; and all that it needs in one folder.
class EditPage : public Panel {
    Q_OBJECT
public:
    explicit EditPage(Document& document, QWidget* parent = nullptr);
    ~EditPage() override;

public slots:
    void writeInterchange(const QString& file);
    void writeReport(const QString& file);
    void writeTables(const QString& folder);
    /// Behind the window.
    void gatherInto(const QString& folder);

signals:
    void notified(const QString& sentence);

private:
    QPushButton* addButton(const QString& title, const char* name, const QString& tip);
    void writeAll(const std::vector<std::pair<std::string, std::string>>& files, const QString& where);
    void finish(const QString& sentence);

    QPushButton* gather_ = nullptr;
    QProgressBar* progress_ = nullptr;
    std::jthread thread_;
    bool gathering_ = false;
};

} // namespace lampo
