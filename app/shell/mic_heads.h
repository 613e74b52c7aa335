#pragma once

#include "sheet/sheet_widget.h"

#include <QWidget>

class QToolButton;

namespace lampo {

/// The mics at the left, each beside its lane: notehead, name, and the words that can be switched on and off. A
/// name can be dragged to another place; the order is the guides' rank. The lower edge of a lane is dragged to make
/// it higher; a double click there gives it its share again.
class MicHeads : public QWidget {
    Q_OBJECT
public:
    MicHeads(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);
    void setInk(const Ink& ink);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;

private:
    struct Row {
        QToolButton* guide = nullptr;
        QToolButton* solo = nullptr;
        QToolButton* mute = nullptr;
    };

    void rebuild();
    void place();
    void show();
    QToolButton* word(const QString& text, const QString& accessible, std::function<Edit(bool)> edit);
    std::size_t rowAt(int y) const;
    /// The lane whose lower edge lies there.
    std::optional<MicIndex> edgeAt(int y) const;

    Document& document_;
    SheetWidget& sheet_;
    Ink ink_;
    std::vector<Row> rows_;
    std::vector<std::string> shown_;
    std::vector<std::pair<Role, bool>> painted_; ///< drum and guide of each mic
    std::optional<std::size_t> dragged_;
    std::optional<MicIndex> stretched_; ///< lane whose height is dragged
    int dragY_ = 0;
};

} // namespace lampo
