#pragma once

#include "sheet/sheet_state.h"
#include "shell/strip_tools.h"

#include <QWidget>

namespace lampo {

/// The whole song: sections by name, the ribbon of the takes that sound, the changes of tempo and meter, how early
/// or late it was played and lands, the proof's open places, and a frame around what the sheet shows. Drag on it to
/// go anywhere; in the row of names to make a section, or a border to move it; in the row below a change of the map
/// to another bar.
class SongStrip : public QWidget {
    Q_OBJECT
public:
    SongStrip(Document& document, const SheetState& sheet, QWidget* parent = nullptr);
    void setPlayhead(ResultFrame at);
    /// Stretches in which what is compared differs; empty: nothing is compared.
    void setDifferences(std::vector<Range<SongFrame>> where);
    QSize sizeHint() const override;

    /// Where a bar line is drawn, and the middles of the two upper rows.
    double barX(int bar) const;
    int namesY() const { return line() / 2; }
    int marksY() const { return line() + 7 + line() / 2; }
    std::vector<StripMark> marks() const;

signals:
    /// The middle of what the sheet should show.
    void wentTo(lampo::ResultFrame at);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    int line() const;
    double toX(double frame) const;
    template <class Axis>
    double toX(Position<Axis> at) const {
        return toX(static_cast<double>(at.frame));
    }
    /// The place under `x`, within the song.
    SongFrame songAt(double x) const;
    int barUnder(double x) const;
    int barLineNear(double x) const;
    /// The bar line at which a section begins or ends there.
    std::optional<int> borderUnder(QPointF at) const;
    std::optional<BarBeat> markUnder(QPointF at) const;
    bool inNames(QPointF at) const { return at.y() < line(); }
    bool inMarks(QPointF at) const { return line() + 7 <= at.y() && at.y() < 2 * line() + 7; }
    void paintSections(QPainter& painter, const MusicalMap& map) const;
    void paintMarks(QPainter& painter) const;
    void paintTempoCurve(QPainter& painter) const;
    void paintLateness(QPainter& painter) const;
    void go(QPointF at);

    Document& document_;
    const SheetState& sheet_;
    StripTool tool_;
    std::optional<QPointF> pressedInNames_; ///< a click there goes, a drag makes a section
    int wheelGesture_ = 0;
    ResultFrame playhead_;
    std::vector<Range<SongFrame>> differences_;
};

} // namespace lampo
