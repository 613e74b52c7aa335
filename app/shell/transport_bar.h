#pragma once

#include "document/document.h"
#include "look/ink.h"

#include <QAction>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>

namespace lampo {

/// Play, loop, click, what is shown and heard, the position in bars and in time, and what is under the pointer.
class TransportBar : public QWidget {
    Q_OBJECT
public:
    TransportBar(Document& document, const QList<QAction*>& actions, QWidget* parent = nullptr);

    void setPosition(ResultFrame at);
    void setPointer(const QString& text) { pointer_->setText(text); }
    /// Progress of long work with its name; a fraction of 1 or more hides it.
    void setProgress(double fraction, const QString& what);
    /// Dropouts, or that the disk is waited for, in alarm colour beside the position; empty hides it.
    void setInterruption(const QString& words);
    void setNotice(const QString& text) { pointer_->setText(text); }

signals:
    void stopWork();

private:
    Document& document_;
    QLabel* place_;
    QLabel* time_;
    QLabel* interruption_;
    QLabel* pointer_;
    QProgressBar* progress_;
    QPushButton* stop_;
};

} // namespace lampo
