#pragma once

#include "sheet/sheet_state.h"

#include <QWidget>

namespace lampo {

/// The whole song: sections by name, the ribbon of the takes that sound, how early or late it was played, the
/// proof's open places, and a frame around what the sheet shows. Drag on it to go anywhere.
class SongStrip : public QWidget {
    Q_OBJECT
public:
    SongStrip(Document& document, const SheetState& sheet, QWidget* parent = nullptr);
    void setPlayhead(ResultFrame at);
    /// Stretches in which what is compared differs; empty: nothing is compared.
    void setDifferences(std::vector<Range<SongFrame>> where);
    QSize sizeHint() const override;

signals:
    /// The middle of what the sheet should show.
    void wentTo(lampo::ResultFrame at);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    double toX(double frame) const;
    void paintSections(QPainter& painter) const;
    void paintLateness(QPainter& painter) const;
    void go(QPointF at);

    Document& document_;
    const SheetState& sheet_;
    ResultFrame playhead_;
    std::vector<Range<SongFrame>> differences_;
};

} // namespace lampo
