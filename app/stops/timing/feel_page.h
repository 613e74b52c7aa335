#pragma once

#include "sheet/sheet_widget.h"
#include "stops/panel.h"
#include "stops/where_box.h"

class QComboBox;
class QLineEdit;

namespace lampo {

/// Feels that were kept, the one in use in the song or in a section and how much of it, and the companion to land
/// on.
class FeelPage : public Panel {
    Q_OBJECT
public:
    FeelPage(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);

    void readFile(const QString& file);
    void writeFile(const QString& file);

signals:
    void notified(const QString& sentence);

private:
    void addUse();
    void addSources();
    void addCompanion();
    void fill();
    void showFeels();
    FeelUse ruling() const;
    void keep(const Expected<Feel>& feel);
    void takeOfPassage();
    std::string freeName(const std::string& wanted) const;

    SheetWidget& sheet_;
    WhereBox* where_ = nullptr;
    QComboBox* feels_ = nullptr;
    QLineEdit* name_ = nullptr;
    QComboBox* from_ = nullptr;
    QComboBox* towards_ = nullptr;
    QLabel* words_ = nullptr;
};

} // namespace lampo
