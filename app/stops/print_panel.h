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
    /// Whether open places of the proof are asked about before the first print.
    void setAsking(bool asking) { asking_ = asking; }
    void setFolder(const QString& folder) { folder_->setText(folder); }

public slots:
    void start();

signals:
    void printed(const QString& folder);
    void stateChanged();
    void notified(const QString& sentence);
    /// The open places of the proof are to be looked at first.
    void placesWanted();

private:
    bool mayPrint();
    void showOpen();
    std::ptrdiff_t openPlaces() const;
    void finish(const QString& error);
    QString defaultFolder() const;

    QLineEdit* folder_ = nullptr;
    QComboBox* format_ = nullptr;
    QPushButton* button_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QLabel* open_ = nullptr;
    QPushButton* look_ = nullptr;
    QLabel* done_ = nullptr;
    std::jthread thread_;
    bool printing_ = false;
    bool asking_ = true;
    std::filesystem::path askedOf_; ///< the song that was asked about
    bool asked_ = false;
    QString last_;
};

} // namespace lampo
