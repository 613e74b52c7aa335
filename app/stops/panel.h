#pragma once

#include "base/limits.h"
#include "document/document.h"
#include "look/number.h"

#include <QFormLayout>
#include <QLabel>
#include <QWidget>

#include <functional>
#include <optional>

class QComboBox;
class QDoubleSpinBox;

namespace lampo {

/// A number a panel shows and sets.
struct NumberSpec {
    QString label;
    QString unit;
    double low = 0;
    double high = 100;
    double step = 1;
    int decimals = 0;
    double defaultValue = 0; ///< what a double click on the label sets
    double slides = 0;       ///< how far a slider goes to both sides of 0, where all would be too coarse; 0: all
    std::function<double()> defaultNow{}; ///< instead of `usual`, where that depends on the session
};

/// A field for a setting.
NumberSpec numberOf(const QString& label, const limits::Setting& setting, int decimals = 0);

/// The field itself: accessible by its label, which is its object's name as well; takes a typed value when it is
/// left.
QDoubleSpinBox* makeField(const NumberSpec& spec);

/// The settings of one stop: rows bound to the session. A row shows the session's value whenever that changes and
/// turns what the user does into edits; dragging or typing in one row is one undoable step. Without a title it is a
/// page of another panel.
class Panel : public QWidget {
    Q_OBJECT
public:
    Panel(Document& document, const QString& title, QWidget* parent = nullptr);

    /// What the line of stops says about this stop, in a few words; of a page, nothing.
    virtual QString state() const { return {}; }

protected:
    using ReadNumber = std::function<double()>;
    using WriteNumber = std::function<std::optional<Edit>(double)>; ///< none: nothing to set

    /// A field with the number, and a slider before it. Returns their row, for what belongs beside it.
    QBoxLayout* addNumber(QFormLayout* form, const NumberSpec& spec, ReadNumber read, WriteNumber write,
                          bool slider = false);
    void addChoice(QFormLayout* form, const QString& label, const QStringList& choices, std::function<int()> read,
                   std::function<Edit(int)> write);
    /// In the row of a number.
    void addChoice(QBoxLayout* row, const QString& name, const QStringList& choices, std::function<int()> read,
                   std::function<Edit(int)> write);
    QFormLayout* addForm(const QString& heading = {});
    QLabel* addNote(const QString& text = {});
    QVBoxLayout* column() { return column_; }
    /// Called after every change of the session or its outcome, and once at the end of construction.
    void onChange(std::function<void()> refresh) { refreshers_.push_back(std::move(refresh)); }
    /// For what only shows: called as by onChange() while the panel is visible, otherwise when it is shown again.
    void onChangeWhileVisible(std::function<void()> refresh) { visibleRefreshers_.push_back(std::move(refresh)); }
    void showEvent(QShowEvent* event) override;
    void refresh();
    /// While rows are being set to the session's values: what they then signal is no wish of the user.
    bool refreshing() const { return refreshing_; }

    Document& document_;

private:
    QComboBox* makeChoice(const QString& name, const QStringList& choices, std::function<int()> read,
                          std::function<Edit(int)> write);

    QVBoxLayout* column_;
    std::vector<std::function<void()>> refreshers_, visibleRefreshers_;
    bool refreshing_ = false;
    bool stale_ = false; ///< visibleRefreshers_ missed a change
};

} // namespace lampo
