#pragma once

#include "stops/choice_table.h"
#include "stops/panel.h"

class QPushButton;

namespace lampo {

/// All patches: where, on which mics, what; each can be switched off, changed and deleted.
class PatchesPage : public Panel {
    Q_OBJECT
public:
    explicit PatchesPage(Document& document, QWidget* parent = nullptr);

signals:
    /// One was chosen that begins there.
    void placeChosen(lampo::ResultFrame at);

private:
    void addTable();
    void addButtons();
    void addFields();
    void addField(QFormLayout* form, const QString& label, const limits::Setting& setting, int decimals,
                  std::function<double(const Patch&)> read, std::function<void(Patch&, double)> write);
    /// Indices in Session::patches.
    std::vector<std::size_t> chosen() const;
    QString tally() const;

    ChoiceTable* table_ = nullptr;
    std::vector<std::size_t> chosen_;
};

} // namespace lampo
