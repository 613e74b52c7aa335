#pragma once

#include "deliver/hits_midi.h"
#include "stops/panel.h"

#include <QComboBox>
#include <QPushButton>
#include <QTableWidget>

namespace lampo {

/// How velocities follow levels: a curve that is bent by dragging it.
class VelocityView : public QWidget {
    Q_OBJECT
public:
    explicit VelocityView(Document& document, QWidget* parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    QPointF at(double level, double velocity) const;
    void bendTo(QPointF place);

    Document& document_;
    bool dragging_ = false;
};

/// Hits as notes: which key each drum has, how loud they are, a preview that plays, and the file.
class NotesPage : public Panel {
    Q_OBJECT
public:
    explicit NotesPage(Document& document, QWidget* parent = nullptr);
    /// Where the notes lie.
    MidiAs as() const { return static_cast<MidiAs>(as_->currentIndex()); }
    /// Whether they are to be heard in place of the mics.
    bool heard() const { return hear_->isChecked(); }

public slots:
    void write(const QString& file);

signals:
    void notified(const QString& sentence);
    /// Whether they are heard, or where they lie, has changed.
    void heardChanged();

private:
    void fill();
    void keyChanged(int row, int column);
    void choose();

    QComboBox* as_;
    QTableWidget* keys_;
    QPushButton* hear_;
    bool filling_ = false;
};

} // namespace lampo
