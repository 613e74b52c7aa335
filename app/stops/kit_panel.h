#pragma once

#include "stops/panel.h"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QGridLayout;
class QLineEdit;
class QToolButton;
class QPushButton;
class QTableWidget;

namespace lampo {

/// Which mics there are, at which drum each stands, which of them guide and belong together; what the files say
/// about each other; and how each drum is heard in each mic.
class KitPanel : public Panel {
    Q_OBJECT
public:
    explicit KitPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

signals:
    void bringInWanted();
    void companionWanted();
    void keepWanted(); ///< this kit as a file
    void useWanted();  ///< a kept kit for these mics

private:
    TakeIndex take_; ///< whose files are shown
    void rebuildIfNeeded();
    /// The controls of one mic.
    struct RowFields {
        QCheckBox* guide;
        QLineEdit* called;
        QComboBox* role;
        QLineEdit* group;
        QDoubleSpinBox* starts;
        QToolButton* up;
    };
    void addRow(QGridLayout* grid, MicIndex mic);
    void connectRow(const RowFields& fields, MicIndex mic);
    void showRow(const RowFields& fields, MicIndex mic);
    void addChecks();
    void addBleed();
    void addFiles();
    QString notices() const;
    QStringList idleNotices() const;
    QStringList polarityNotices() const;
    static QString pathText(const TakeStrokes& strokes, MicIndex drum, MicIndex mic);
    void showBleed();

    QWidget* list_ = nullptr;
    QTableWidget* bleed_ = nullptr;
    std::shared_ptr<const TakeStrokes> shownStrokes_;
    std::vector<std::string> shown_;
    std::vector<std::function<void()>> rows_;
};

} // namespace lampo
