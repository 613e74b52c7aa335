#pragma once

#include "import/import_plan.h"

#include <QDialog>

class QLabel;
class QPushButton;
class QTableWidget;

namespace lampo {

/// What will become of each file before it is done: take, mic, drum, guide and rank, all of it changeable.
class ImportPage : public QDialog {
    Q_OBJECT
public:
    explicit ImportPage(ImportPlan plan, QWidget* parent = nullptr);
    const ImportPlan& plan() const { return plan_; }

private:
    enum Column { file, use, mic, drum, guide, rank, notice, columns };

    void rebuild();
    void addRow(int row, std::size_t item);
    void addUse(int row, std::size_t item, const QString& name);
    void addStem(int row, std::size_t item, const QString& name);
    void addDrum(int row, std::size_t item, const QString& name);
    void changed();
    void moveRank(std::size_t item, int rank);
    Mic* micOf(const ImportItem& item);

    ImportPlan plan_;
    QTableWidget* table_;
    QLabel* sum_;
    QPushButton* accept_;
    std::vector<std::size_t> order_; ///< row to item: by take, then rank
};

} // namespace lampo
