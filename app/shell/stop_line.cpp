#include "shell/stop_line.h"

#include <QHBoxLayout>
#include <QPainter>

namespace lampo {

StopButton::StopButton(const QString& name, const Ink& ink, QWidget* parent) : QAbstractButton(parent), ink_(ink) {
    setText(name);
    setCheckable(true);
    setAutoExclusive(true);
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(name);
}

void StopButton::setState(const QString& state) {
    if (state_ == state)
        return;
    state_ = state;
    setAccessibleDescription(state);
    update();
}

void StopButton::setInk(const Ink& ink) {
    ink_ = ink;
    update();
}

QSize StopButton::sizeHint() const {
    const QFontMetrics title(textFont(1.2, true));
    return {title.horizontalAdvance(text()) + 30, title.height() + QFontMetrics(textFont(0.85)).height() + 12};
}

void StopButton::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), isChecked() ? ink_.paper : ink_.margin);
    painter.setPen(ink_.rule);
    painter.drawLine(rect().bottomLeft(), rect().bottomRight());
    if (isChecked())
        painter.fillRect(0, 0, width(), 3, ink_.text);
    const QRect inner = rect().adjusted(12, 6, -4, -4);
    painter.setPen(ink_.text);
    painter.setFont(textFont(1.2, isChecked()));
    painter.drawText(inner, Qt::AlignLeft | Qt::AlignTop, text());
    painter.setFont(textFont(0.85));
    painter.setPen(ink_.faint);
    painter.drawText(inner, Qt::AlignLeft | Qt::AlignBottom,
                     painter.fontMetrics().elidedText(state_, Qt::ElideRight, inner.width()));
    if (hasFocus()) {
        painter.setPen(ink_.accent);
        painter.drawRect(rect().adjusted(1, 4, -2, -2));
    }
}

StopLine::StopLine(const QStringList& names, const Ink& ink, QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    for (const QString& name : names) {
        auto* button = new StopButton(name, ink, this);
        row->addWidget(button);
        const int index = static_cast<int>(buttons_.size());
        connect(button, &StopButton::clicked, this, [this, index] { emit chosen(index); });
        buttons_.push_back(button);
    }
    setAccessibleName(tr("Stops"));
}

int StopLine::current() const {
    for (std::size_t i = 0; i < buttons_.size(); ++i)
        if (buttons_[i]->isChecked())
            return static_cast<int>(i);
    return 0;
}

void StopLine::setCurrent(int stop) {
    buttons_[static_cast<std::size_t>(stop)]->setChecked(true);
}

void StopLine::setState(int stop, const QString& state) {
    buttons_[static_cast<std::size_t>(stop)]->setState(state);
}

void StopLine::setInk(const Ink& ink) {
    for (StopButton* button : buttons_)
        button->setInk(ink);
}

} // namespace lampo
