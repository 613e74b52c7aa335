#pragma once

#include "look/ink.h"

#include <QAbstractButton>
#include <QWidget>

#include <vector>

namespace lampo {

/// One stop: its name, and its state in a few words under it.
class StopButton : public QAbstractButton {
    Q_OBJECT
public:
    StopButton(const QString& name, const Ink& ink, QWidget* parent);
    void setState(const QString& state);
    void setInk(const Ink& ink);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QString state_;
    Ink ink_;
};

/// The stops across the top, in the order people work. Places to look from: every one is open at any time.
class StopLine : public QWidget {
    Q_OBJECT
public:
    StopLine(const QStringList& names, const Ink& ink, QWidget* parent = nullptr);
    int current() const;
    void setCurrent(int stop);
    void setState(int stop, const QString& state);
    void setInk(const Ink& ink);

signals:
    void chosen(int stop);

private:
    std::vector<StopButton*> buttons_;
};

} // namespace lampo
