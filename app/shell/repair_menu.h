#pragma once

#include "look/actions.h"
#include "sheet/sheet_widget.h"

namespace lampo {

/// What mends single strokes, on the mics of one drum alone: the chosen hits'.
class RepairMenu : public QObject {
    Q_OBJECT
public:
    RepairMenu(const ActionMenu& where, Document& document, SheetWidget& sheet);

signals:
    void notified(const QString& sentence);

private:
    void perform(const Expected<AddPatches>& edit, const QString& done);
    void replace();
    void louder(double decibels);
    void switchOff();
    bool isOn(std::size_t patch, HitIndex hit) const;
    /// Indices in Session::patches of those on the chosen hits.
    std::vector<std::size_t> ofChosen(std::optional<PatchKind> kind = std::nullopt) const;

    Document& document_;
    SheetWidget& sheet_;
};

} // namespace lampo
