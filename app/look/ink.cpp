#include "look/ink.h"

#include <QApplication>
#include <QFontDatabase>

#include <array>

namespace lampo {

QColor Ink::of(Voice voice) const {
    struct Pair {
        QColor day;
        QColor night;
    };
    static const std::array<Pair, 6> inks{{{"#31408f", "#9aa7ee"},   // kick: indigo
                                           {"#b8371f", "#f08a72"},   // snare: vermilion
                                           {"#2f6b3c", "#86c493"},   // toms: green
                                           {"#8a5f0a", "#d9ad4e"},   // hat: ochre
                                           {"#8a5f0a", "#d9ad4e"},   // cymbals: ochre
                                           {"#6a645c", "#a8a39b"}}}; // others: grey
    const Pair& pair = inks[static_cast<std::size_t>(voice)];
    return night ? pair.night : pair.day;
}

QColor Ink::ofTake(const Session& session, TakeIndex take) const {
    return ofTint(session.takes[take].tint.value_or(static_cast<int>(take % takeTints)));
}

QColor Ink::ofTint(int tint) const {
    constexpr std::array<const char*, takeTints> day{"#d9c7a0", "#b3d0c6", "#dcb8be", "#bfc4e2",
                                                     "#cfd09a", "#d6bfdb", "#c9c2b4", "#b4d3df",
                                                     "#e3c7b0", "#bcd6b2", "#d3c9e4", "#d7d2c0"};
    constexpr std::array<const char*, takeTints> dark{"#6b5a35", "#3a5f54", "#6b4249", "#444a75",
                                                      "#5a5b2f", "#5f4768", "#57503f", "#3b5a69",
                                                      "#6e4c38", "#43603a", "#524a70", "#55503a"};
    return {night ? dark[static_cast<std::size_t>(tint)] : day[static_cast<std::size_t>(tint)]};
}

QPalette Ink::palette() const {
    QPalette palette;
    const auto set = [&](const QColor& color, std::initializer_list<QPalette::ColorRole> roles) {
        for (const auto role : roles)
            palette.setColor(role, color);
    };
    set(margin, {QPalette::Window, QPalette::AlternateBase, QPalette::Button});
    set(paper, {QPalette::Base, QPalette::ToolTipBase, QPalette::HighlightedText});
    set(text, {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText});
    set(faint, {QPalette::PlaceholderText});
    set(accent, {QPalette::Highlight, QPalette::Link});
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, faint);
    return palette;
}

Ink paperInk() {
    return {false,     "#fbf7ec", "#f4eedf", "#26221c", "#655d50", "#cfc5b0",
            "#8d8371", "#8b8273", "#efe6d0", "#7a2f5b", "#a3230f"};
}

Ink nightInk() {
    return {true,      "#23282e", "#1c2025", "#ece6d8", "#a9a59b", "#454c55",
            "#7b838d", "#8d9299", "#2e353d", "#e0a3c8", "#ff8f7a"};
}

QFont textFont(double relativeSize, bool bold) {
    static const QString family = [] {
        for (const char* face : {"Regular", "Bold", "Italic"})
            QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/CharisSIL-%1.ttf").arg(QLatin1String(face)));
        return QStringLiteral("Charis SIL");
    }();
    static const double base = std::max(9.0, QApplication::font().pointSizeF());
    QFont font(family);
    font.setPointSizeF(base * relativeSize);
    font.setBold(bold);
    return font;
}

QString controlStyle(const Ink& ink) {
    const QString style = QStringLiteral(R"(
QToolTip { background: PAPER; color: TEXT; border: 1px solid RULE; padding: 3px; }
QMenuBar, QMenu { background: MARGIN; color: TEXT; }
QMenu { border: 1px solid RULE; padding: 4px; }
QMenu::item { padding: 3px 24px 3px 16px; }
QMenuBar::item:selected, QMenu::item:selected { background: POCKET; color: TEXT; }
QMenu::item:disabled { color: FAINT; }
QMenu::separator { height: 1px; background: RULE; margin: 4px 8px; }
QPushButton, QComboBox, QLineEdit, QAbstractSpinBox {
    background: PAPER; color: TEXT; border: 1px solid RULE; border-radius: 0px; padding: 2px 6px; min-height: 1.3em; }
QPushButton:hover, QComboBox:hover { border-color: BARLINE; }
QPushButton:pressed { background: POCKET; }
QPushButton:checked { background: TEXT; color: PAPER; }
QPushButton:disabled { color: FAINT; }
QPushButton:focus, QComboBox:focus, QLineEdit:focus, QAbstractSpinBox:focus { border: 1px solid ACCENT; }
QCheckBox:focus, QRadioButton:focus, QSlider:focus { outline: 1px solid ACCENT; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { width: 0px; height: 0px; border-left: 4px solid PAPER; border-right: 4px solid PAPER; border-top: 5px solid BARLINE; }
QComboBox QAbstractItemView { background: PAPER; color: TEXT; selection-background-color: POCKET; selection-color: TEXT; }
QSlider::groove:horizontal { height: 1px; background: BARLINE; }
QSlider::handle:horizontal { background: TEXT; width: 5px; height: 15px; margin: -7px 0; }
QSlider::handle:horizontal:focus { background: ACCENT; }
QListView, QTreeView, QTableView { background: PAPER; color: TEXT; border: 1px solid RULE; }
QListView::item { padding: 3px; border-bottom: 1px solid POCKET; }
QTreeView::item { padding: 3px 6px; }
QListView::item:selected, QTreeView::item:selected, QTableView::item:selected { background: POCKET; color: TEXT; }
QHeaderView::section { background: MARGIN; color: FAINT; border: none; border-bottom: 1px solid RULE; padding: 2px; }
QScrollBar:horizontal { background: MARGIN; height: 11px; border: none; }
QScrollBar:vertical { background: MARGIN; width: 11px; border: none; }
QScrollBar::handle { background: RULE; min-width: 24px; min-height: 24px; margin: 3px; }
QScrollBar::handle:hover { background: BARLINE; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0px; height: 0px; }
QProgressBar { background: PAPER; border: 1px solid RULE; text-align: center; color: TEXT; }
QProgressBar::chunk { background: POCKET; }
QScrollArea { border: none; }
QLabel#interruption { color: ALARM; padding: 0px 10px; }
)");
    QString text = style;
    text.replace("PAPER", ink.paper.name()).replace("MARGIN", ink.margin.name()).replace("TEXT", ink.text.name());
    text.replace("FAINT", ink.faint.name()).replace("RULE", ink.rule.name()).replace("BARLINE", ink.barLine.name());
    text.replace("POCKET", ink.pocket.name()).replace("ACCENT", ink.accent.name());
    text.replace("ALARM", ink.alarm.name());
    return text;
}

} // namespace lampo
