#pragma once

#include "document/player_control.h"
#include "look/actions.h"
#include "sheet/sheet_widget.h"
#include "stops/proof/proof_panel.h"

namespace lampo {

/// Going through the proof by key: places are shown, heard with their run-up, answered and mended; two things are
/// heard in turn.
class ProofMenu : public QObject {
    Q_OBJECT
public:
    ProofMenu(const ActionMenu& where, Document& document, ProofPanel& proof, SheetWidget& sheet,
              PlayerControl& player);

signals:
    /// The stop is to be shown.
    void stopWanted();
    void stretchWanted(lampo::Range<lampo::ResultFrame> stretch);
    void loopWanted(lampo::Range<lampo::ResultFrame> stretch);

private:
    void addWalk(const ActionMenu& where);
    void addAnswers(const ActionMenu& where);
    void addComparing(const ActionMenu& where);
    void show(Range<ResultFrame> place);
    /// With its run-up, and a little behind it.
    Range<ResultFrame> around(Range<ResultFrame> place) const;

    Document& document_;
    ProofPanel& proof_;
    SheetWidget& sheet_;
    PlayerControl& player_;
};

} // namespace lampo
