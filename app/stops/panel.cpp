#include "stops/panel.h"

#include "look/ink.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QEvent>
#include <QSlider>
#include <QVBoxLayout>

#include <cmath>

namespace lampo {
namespace {

/// Tells when a gesture begins (the control gets the focus or a slider is taken) and when a label is double
/// clicked.
class GestureWatch : public QObject {
public:
    GestureWatch(QObject* parent, QEvent::Type type, std::function<void()> call)
        : QObject(parent), type_(type), call_(std::move(call)) {}
    bool eventFilter(QObject*, QEvent* event) override {
        if (event->type() == type_)
            call_();
        return false;
    }

private:
    QEvent::Type type_;
    std::function<void()> call_;
};

} // namespace

NumberSpec numberOf(const QString& label, const limits::Setting& setting, int decimals) {
    return {label,
            QString::fromUtf8(setting.unit),
            setting.low,
            setting.high,
            setting.step,
            decimals,
            setting.defaultValue};
}

QDoubleSpinBox* makeField(const NumberSpec& spec) {
    auto* field = new QDoubleSpinBox;
    field->setRange(spec.low, spec.high);
    field->setSingleStep(spec.step);
    field->setDecimals(spec.decimals);
    field->setSuffix(QStringLiteral(" ") + spec.unit);
    field->setKeyboardTracking(false);
    field->setButtonSymbols(QAbstractSpinBox::NoButtons);
    field->setAlignment(Qt::AlignRight);
    field->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    field->setAccessibleName(spec.label);
    field->setObjectName(spec.label);
    return field;
}

Panel::Panel(Document& document, const QString& title, QWidget* parent)
    : QWidget(parent), document_(document), column_(new QVBoxLayout(this)) {
    setAccessibleName(title);
    column_->setSpacing(6);
    column_->setContentsMargins(0, 0, 0, 0); // a page of another panel
    if (!title.isEmpty()) {
        auto* heading = new QLabel(title);
        heading->setFont(textFont(1.35, true));
        column_->setContentsMargins(14, 10, 14, 10);
        column_->addWidget(heading);
    }
    connect(&document_, &Document::changed, this, &Panel::refresh);
}

void Panel::refresh() {
    refreshing_ = true;
    for (const auto& refresher : refreshers_)
        refresher();
    stale_ = !isVisible();
    if (!stale_)
        for (const auto& refresher : visibleRefreshers_)
            refresher();
    refreshing_ = false;
}

void Panel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_)
        refresh();
}

QFormLayout* Panel::addForm(const QString& heading) {
    if (!heading.isEmpty()) {
        auto* label = new QLabel(heading);
        label->setFont(textFont(1.0, true));
        column_->addWidget(label);
    }
    auto* form = new QFormLayout;
    form->setFieldGrowthPolicy(QFormLayout::ExpandingFieldsGrow);
    form->setHorizontalSpacing(10);
    form->setVerticalSpacing(4);
    column_->addLayout(form);
    return form;
}

QLabel* Panel::addNote(const QString& text) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    label->setFont(textFont(0.92));
    label->setForegroundRole(QPalette::PlaceholderText);
    column_->addWidget(label);
    return label;
}

QBoxLayout* Panel::addNumber(QFormLayout* form, const NumberSpec& spec, ReadNumber read, WriteNumber write,
                             bool withSlider) {
    QDoubleSpinBox* field = makeField(spec);
    auto* label = new QLabel(spec.label);
    const auto usual = [spec] { return spec.defaultNow ? spec.defaultNow() : spec.defaultValue; };
    onChange([=] { label->setToolTip(tr("Double click: %1 %2").arg(number(usual(), spec.decimals), spec.unit)); });
    label->setBuddy(field);
    auto* row = new QHBoxLayout;
    form->addRow(label, row);

    auto gesture = std::make_shared<int>(Document::newGesture());
    const auto set = [this, write = std::move(write), gesture](double value) {
        if (refreshing_)
            return;
        if (const auto edit = write(value))
            document_.perform(*edit, *gesture);
    };
    const auto begin = [gesture] { *gesture = Document::newGesture(); };
    connect(field, &QDoubleSpinBox::valueChanged, this, set);
    field->installEventFilter(new GestureWatch(field, QEvent::FocusIn, begin));
    label->installEventFilter(new GestureWatch(label, QEvent::MouseButtonDblClick, [=] {
        begin();
        set(usual());
    }));
    row->addWidget(field);
    if (!withSlider) {
        onChange([field, read = std::move(read)] { field->setValue(read()); });
        return row;
    }
    onChange([field, read] { field->setValue(read()); });
    auto* slider = new QSlider(Qt::Horizontal);
    const double scale = 1.0 / spec.step;
    const double low = spec.slides > 0 ? -spec.slides : spec.low, high = spec.slides > 0 ? spec.slides : spec.high;
    slider->setRange(static_cast<int>(std::lround(low * scale)), static_cast<int>(std::lround(high * scale)));
    slider->setPageStep(std::max(1, (slider->maximum() - slider->minimum()) / 10));
    slider->setAccessibleName(tr("%1, slider").arg(spec.label));
    slider->setObjectName(spec.label + QStringLiteral(" slider"));
    field->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    row->insertWidget(0, slider, 1);
    connect(slider, &QSlider::sliderPressed, this, begin);
    slider->installEventFilter(new GestureWatch(slider, QEvent::FocusIn, begin));
    connect(slider, &QSlider::valueChanged, this, [=](int value) { set(value / scale); });
    onChange([slider, scale, read = std::move(read)] {
        slider->setValue(static_cast<int>(std::lround(read() * scale)));
    });
    return row;
}

void Panel::addChoice(QFormLayout* form, const QString& label, const QStringList& choices,
                      std::function<int()> read, std::function<Edit(int)> write) {
    form->addRow(label, makeChoice(label, choices, std::move(read), std::move(write)));
}

void Panel::addChoice(QBoxLayout* row, const QString& name, const QStringList& choices, std::function<int()> read,
                      std::function<Edit(int)> write) {
    row->addWidget(makeChoice(name, choices, std::move(read), std::move(write)));
}

QComboBox* Panel::makeChoice(const QString& name, const QStringList& choices, std::function<int()> read,
                             std::function<Edit(int)> write) {
    auto* box = new QComboBox;
    box->addItems(choices);
    box->setAccessibleName(name);
    box->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    box->setObjectName(name);
    connect(box, &QComboBox::currentIndexChanged, this, [this, write = std::move(write)](int index) {
        if (!refreshing_ && index >= 0)
            document_.perform(write(index));
    });
    onChange([box, read = std::move(read)] { box->setCurrentIndex(read()); });
    return box;
}

} // namespace lampo
