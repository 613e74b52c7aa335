#pragma once

#include "stops/panel.h"

#include <QComboBox>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>

#include <thread>

namespace lampo {

/// Writes the result, off the window's thread, with progress and a way to stop.
class PrintPanel : public Panel {
    Q_OBJECT
public:
    explicit PrintPanel(Document& document, QWidget* parent = nullptr);
    ~PrintPanel() override;

    QString state() const override;
    bool printing() const { return printing_; }
    void setFolder(const QString& folder) { folder_->setText(folder); }

public slots:
    void start();

signals:
    void printed(const QString& folder);
    void stateChanged();
    void notified(const QString& sentence);

private:
    void finish(const QString& error);
    QString defaultFolder() const;

    QLineEdit* folder_ = nullptr;
    QComboBox* format_ = nullptr;
    QPushButton* button_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QLabel* done_ = nullptr;
    std::jthread thread_;
    bool printing_ = false;
    QString last_;
};

} // namespace lampo
