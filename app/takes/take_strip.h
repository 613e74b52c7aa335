#pragma once

#include "sheet/sheet_widget.h"
#include "takes/take_tools.h"

#include <QWidget>

namespace lampo {

/// All takes as thin rows over the song, on the sheet's axis, and the comp under them. Sweep over a row and the
/// range sounds from that take; sweep over the comp to choose a range; drag borders; with Alt, carry the chosen
/// stretch of a take elsewhere; with Shift, slide a whole take along the song.
class TakeStrip : public QWidget {
    Q_OBJECT
public:
    /// `left` pixels are for the letters, so that the rows lie over the sheet.
    TakeStrip(Document& document, SheetWidget& sheet, int left, QWidget* parent = nullptr);

    const TakesState& state() const { return state_; }
    void setSnap(Snap snap);
    void choose(std::optional<TakeIndex> take, Range<SongFrame> range);
    void chooseBorder(std::optional<std::size_t> passage);
    void setPlayhead(ResultFrame at);
    QSize sizeHint() const override;

signals:
    void chosen(); ///< another range, row or border
    void placeChosen(lampo::ResultFrame at);
    void pointedAt(const QString& what);
    void graftWanted(TakeIndex take, lampo::Range<lampo::SongFrame> from, lampo::SongFrame to, bool exactly);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    void documentChanged();
    void measure();
    void relayout();
    void dropDrags();
    QString wordsAt(QPoint at) const;

    Document& document_;
    SheetWidget& sheet_;
    TakesState state_;
    SweepTool sweep_;
    BorderTool border_;
    CarryTool carry_;
    SlideTool slide_;
    std::vector<std::shared_ptr<const LaidTake>> measured_; ///< what the measures follow from
    ResultFrame playhead_;
};

} // namespace lampo
