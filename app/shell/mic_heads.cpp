#include "shell/mic_heads.h"

#include "look/noteheads.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>

namespace lampo {

MicHeads::MicHeads(Document& document, SheetWidget& sheet, QWidget* parent)
    : QWidget(parent), document_(document), sheet_(sheet), ink_(paperInk()) {
    setFixedWidth(QFontMetrics(textFont()).horizontalAdvance(QStringLiteral("overhead_right")) + 110);
    setAttribute(Qt::WA_OpaquePaintEvent); // all of it is painted here
    setAccessibleName(tr("Mics"));
    setMouseTracking(true);
    connect(&document_, &Document::changed, this, [this] {
        rebuild();
        show();
    });
    connect(&sheet_, &SheetWidget::layoutChanged, this, [this] { place(); });
    rebuild();
}

void MicHeads::setInk(const Ink& ink) {
    ink_ = ink;
    const QString style =
        QStringLiteral("QToolButton { border: none; background: transparent; color: %1; padding: 0px 2px; }"
                       "QToolButton:checked { color: %2; font-weight: bold; text-decoration: underline; }"
                       "QToolButton:focus { border: 1px solid %3; }")
            .arg(ink.faint.name(), ink.text.name(), ink.accent.name());
    setStyleSheet(style);
    update();
}

QToolButton* MicHeads::word(const QString& text, const QString& accessible, std::function<Edit(bool)> edit) {
    auto* button = new QToolButton(this);
    button->setText(text);
    button->setCheckable(true);
    button->setFont(textFont(0.85));
    button->setAccessibleName(accessible);
    button->setObjectName(accessible);
    button->setFocusPolicy(Qt::TabFocus);
    connect(button, &QToolButton::clicked, this,
            [this, edit = std::move(edit)](bool on) { document_.perform(edit(on)); });
    button->show();
    return button;
}

void MicHeads::rebuild() {
    std::vector<std::string> stems;
    for (const Mic& mic : document_.session().mics)
        stems.push_back(mic.shownName());
    for (const Companion& companion : document_.session().companions)
        stems.push_back(companion.name);
    if (stems == shown_)
        return;
    shown_ = stems;
    for (const Row& row : rows_)
        for (QToolButton* button : {row.guide, row.solo, row.mute})
            delete button;
    rows_.clear();
    const std::size_t mics = document_.session().mics.size();
    for (std::size_t i = 0; i < stems.size(); ++i) {
        const QString stem = QString::fromStdString(stems[i]);
        Row row;
        if (i < mics) {
            row.guide = word(tr("guide"), tr("%1 guides").arg(stem), [i](bool on) { return SetGuide{i, on}; });
            row.solo = word(tr("solo"), tr("%1 solo").arg(stem), [i](bool on) { return SetSolo{i, on}; });
            row.mute = word(tr("mute"), tr("%1 mute").arg(stem), [i](bool on) { return SetMute{i, on}; });
        } else {
            row.mute = word(tr("mute"), tr("%1 mute").arg(stem), [i, mics](bool on) {
                return MuteCompanion{i - mics, on};
            });
        }
        rows_.push_back(row);
    }
    place();
}

void MicHeads::show() {
    const auto& session = document_.session();
    std::vector<std::pair<Role, bool>> painted;
    for (const Mic& mic : session.mics)
        painted.emplace_back(mic.role, mic.guide);
    if (std::exchange(painted_, painted) != painted_)
        update();
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (i < session.mics.size()) {
            rows_[i].guide->setChecked(session.mics[i].guide);
            rows_[i].solo->setChecked(session.mics[i].solo);
            rows_[i].mute->setChecked(session.mics[i].mute);
        } else {
            rows_[i].mute->setChecked(session.companions[i - session.mics.size()].mute);
        }
    }
}

void MicHeads::place() {
    const SheetLayout& layout = sheet_.layoutOf();
    const int line = QFontMetrics(textFont(0.85)).height();
    for (std::size_t i = 0; i < rows_.size() && i < layout.lanes.size(); ++i) {
        const QRect lane = layout.lanes[i];
        int x = 26;
        for (QToolButton* button : {rows_[i].guide, rows_[i].solo, rows_[i].mute}) {
            if (!button)
                continue;
            const QRect box(x, lane.center().y(), button->sizeHint().width(), line);
            button->setGeometry(box);
            button->setVisible(layout.lanesArea.contains(lane.center()));
            x += box.width() + 2;
        }
    }
    show();
    update();
}

void MicHeads::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), ink_.margin);
    const SheetLayout& layout = sheet_.layoutOf();
    const auto& session = document_.session();
    painter.setFont(textFont(0.85));
    painter.setPen(ink_.faint);
    if (!session.empty()) {
        painter.drawText(QRect(12, layout.ladderPlayedY() - 10, width() - 18, 20),
                         Qt::AlignRight | Qt::AlignVCenter, tr("as played"));
        painter.drawText(QRect(12, layout.ladderLandedY() - 10, width() - 18, 20),
                         Qt::AlignRight | Qt::AlignVCenter, tr("as landed"));
        painter.drawText(layout.plot.adjusted(12, 0, 0, 0).intersected(QRect(12, 0, width() - 18, height())),
                         Qt::AlignRight | Qt::AlignVCenter,
                         sheet_.state().showsLevels() ? tr("level") : tr("early / late"));
    }
    painter.setClipRect(QRect(0, layout.lanesArea.top(), width(), layout.lanesArea.height()));
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < rows_.size() && i < layout.lanes.size(); ++i) {
        const QRect lane = layout.lanes[i];
        const bool isMic = i < session.mics.size();
        const Voice voice = isMic ? voiceOf(session.mics[i].role) : Voice::other;
        drawNotehead(painter, QPointF(14, lane.center().y() - lane.height() / 5.0), 9,
                     {voice, ink_.of(voice), isMic && session.mics[i].guide});
        painter.setPen(ink_.text);
        painter.setFont(textFont(0.95));
        const QRect top(28, lane.top() - 1, width() - 32, lane.height() / 2 + 1);
        painter.drawText(
            top, Qt::AlignLeft | Qt::AlignBottom,
            painter.fontMetrics().elidedText(QString::fromStdString(shown_[i]), Qt::ElideRight, top.width()));
        painter.setPen(ink_.rule);
        painter.drawLine(lane.left(), lane.bottom(), width(), lane.bottom());
    }
    if (dragged_) {
        painter.setPen(QPen(ink_.accent, 2));
        const QRect lane = layout.lanes[rowAt(dragY_)];
        const int y = rowAt(dragY_) > *dragged_ ? lane.bottom() : lane.top();
        painter.drawLine(0, y, width(), y);
    }
}

std::size_t MicHeads::rowAt(int y) const {
    const auto& lanes = sheet_.layoutOf().lanes;
    const std::size_t mics = document_.session().mics.size();
    for (std::size_t i = 0; i + 1 < mics; ++i)
        if (y <= lanes[i].bottom())
            return i;
    return mics == 0 ? 0 : mics - 1;
}

std::optional<MicIndex> MicHeads::edgeAt(int y) const {
    constexpr int near = 3; // pixels
    const SheetLayout& layout = sheet_.layoutOf();
    for (MicIndex lane; lane < layout.lanes.size(); ++lane)
        if (std::abs(layout.lanes[lane].bottom() - y) <= near && layout.lanesArea.contains(1, y))
            return lane;
    return std::nullopt;
}

void MicHeads::mousePressEvent(QMouseEvent* event) {
    const int y = static_cast<int>(event->position().y());
    if (event->button() != Qt::LeftButton)
        return;
    stretched_ = edgeAt(y);
    const auto lane = sheet_.layoutOf().laneAt({1, y});
    if (!stretched_ && lane && *lane < document_.session().mics.size()) {
        dragged_ = lane;
        dragY_ = y;
    }
}

void MicHeads::mouseMoveEvent(QMouseEvent* event) {
    const int y = static_cast<int>(event->position().y());
    if (stretched_)
        return sheet_.setLaneHeight(*stretched_, y - sheet_.layoutOf().lanes[*stretched_].top() + 1);
    setCursor(!dragged_ && edgeAt(y) ? Qt::SplitVCursor : Qt::ArrowCursor);
    if (!dragged_)
        return;
    dragY_ = y;
    update();
}

void MicHeads::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const auto lane = edgeAt(static_cast<int>(event->position().y())))
        sheet_.setLaneHeight(*lane, std::nullopt);
}

void MicHeads::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(stretched_, std::nullopt) || !dragged_)
        return;
    const std::size_t from = *dragged_;
    const std::size_t to = rowAt(dragY_);
    dragged_.reset();
    update();
    if (from != to)
        document_.perform(MoveMic{from, to});
}

} // namespace lampo
