#pragma once

#include "sheet/hit_drag_tool.h"
#include "sheet/hit_selection.h"
#include "sheet/level_drag_tool.h"
#include "sheet/mark_drag_tool.h"
#include "sheet/seam_drag_tool.h"
#include "sheet/seam_selection.h"
#include "sheet/sheet_state.h"
#include "sheet/threshold_tool.h"

#include <QImage>
#include <QPushButton>
#include <QScrollBar>
#include <QWidget>

namespace lampo {

/// The sheet: ruler, ladder, lanes, early/late plot over one time axis. Forwards events to the axis and the tools
/// and keeps one finished picture, over which only the playhead moves.
class SheetWidget : public QWidget {
    Q_OBJECT
public:
    SheetWidget(Document& document, QWidget* parent = nullptr);

    const SheetState& state() const { return state_; }
    const SheetLayout& layoutOf() const { return state_.layout; }

    void setInk(const Ink& ink);
    void setShow(Show show);
    /// One hit, or none.
    void select(std::optional<HitIndex> hit, bool reveal = false);
    /// Several; `current` is the one that keys speak of.
    void selectMany(std::vector<HitIndex> hits, std::optional<HitIndex> current);
    void choose(std::optional<SheetState::CandidateRef> candidate);
    /// Seams; `current` is the one that keys speak of.
    void chooseSeams(std::vector<SeamIndex> seams, std::optional<SeamIndex> current, bool reveal = false);
    /// The seam so many behind the chosen one, or the first behind the left edge; zoomed in until it can be seen.
    void stepSeam(int by);
    /// Fills the width with the chosen seam, else the chosen hit, else the bar in the middle.
    void fitChosen();
    /// Whether a click in the lanes chooses seams.
    void setChoosesSeams(bool on);
    /// Shows the strokes of drums that do not guide.
    void setAllStrokes(bool on);
    /// Shows thresholds and candidates.
    void setShowsCandidates(bool on);
    /// Shows how loud strokes are in the plot, instead of how early.
    void setPlotsLevels(bool on);
    /// Shows how loud a sample is at its hits, where that can be dragged; none: how loud strokes are, or how early.
    void setPlotsSample(std::optional<std::size_t> sample);
    /// On which mics a level that is dragged in the plot is set.
    void setRepairsOn(const PatchMics& mics);
    /// Where the pointer is over the sheet.
    std::optional<QPoint> pointer() const { return pointer_; }
    /// Takes a candidate in as a hit, whatever hid it.
    void takeIn(SheetState::CandidateRef candidate);
    void setPlayhead(ResultFrame at, bool follow);
    void setLoop(Range<ResultFrame> loop);
    void reveal(ResultFrame at);
    void zoomBy(double factor);
    void showAll();
    /// Waves so many times as high: all lanes', or one lane's own.
    void heightenWaves(double factor, std::optional<MicIndex> lane = std::nullopt);
    /// A lane so many pixels high; none: as high as there is room, like the others.
    void setLaneHeight(MicIndex lane, std::optional<int> pixels);
    /// Draws the cuts alone: holes stay open, and there are no fades.
    void setRaw(bool on);
    /// As high as the loudest sample of each lane allows.
    void resetWaves();
    void showRange(double begin, double end);
    /// Paints the whole picture anew into the kept image; public for the benchmark.
    void paintPicture();

signals:
    void axisChanged();
    void layoutChanged();
    void hitSelected(std::optional<HitIndex> hit);
    void seamsChosen(const std::vector<SeamIndex>& seams);
    void placeChosen(lampo::ResultFrame at);
    void loopChosen(lampo::Range<lampo::ResultFrame> loop);
    void pointedAt(const QString& what);
    void notified(const QString& sentence);
    void folderWanted(); ///< a button of the empty sheet
    void demoWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    void documentChanged();
    void relayout();
    void redraw();
    void planRaw();
    using LaneName =
        std::pair<bool, std::string>; ///< whether it is a mic's, and what the mic or companion is called
    LaneName laneName(MicIndex lane) const;
    void axisMoved();
    int sheetWidth() const;
    ResultFrame frameAt(int x) const;
    bool pressInLane(QPoint at, Qt::KeyboardModifiers keys);
    void click(HitIndex hit, Qt::KeyboardModifiers keys);
    void dragTo(QPoint at, bool free);
    void levelTo(QPoint at);
    void showOnly();
    int gestureUnderWay() const;
    void findSelectionAgain();
    void findSeamsAgain();
    void showSeam(SeamIndex seam);
    void dropDrags();
    void paintEmpty(QPainter& painter) const;
    void placeEmptyButtons();

    Document& document_;
    SheetState state_;
    HitDragTool drag_;
    MarkDragTool mark_;
    ThresholdTool threshold_;
    LevelDragTool level_;
    SeamDragTool seamDrag_;
    HitSelection chosen_;
    SeamSelection chosenSeams_;
    std::optional<QPoint> pointer_;
    QScrollBar across_{Qt::Horizontal, this};
    QScrollBar down_{Qt::Vertical, this};
    QPushButton openFolder_{tr("Open a folder…"), this};
    QPushButton openDemo_{tr("Open the demo"), this};
    bool raw_ = false;
    std::map<LaneName, int> laneHeights_; ///< in pixels, of the lanes that were given one
    QImage picture_;
    bool stale_ = true;
    ResultFrame playhead_;
    std::optional<int> loopFrom_; ///< x where a loop is being drawn from
    bool settingBars_ = false;
};

} // namespace lampo
