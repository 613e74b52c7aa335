#pragma once

#include "look/actions.h"
#include "sheet/sheet_widget.h"

namespace lampo {

/// What can be done with seams from the keyboard: walk them, hear them in a loop, shift and shape them.
class SeamMenu : public QObject {
    Q_OBJECT
public:
    SeamMenu(const ActionMenu& where, Document& document, SheetWidget& sheet);

signals:
    /// A seam is to be seen: its stop is wanted.
    void stopWanted();
    /// This stretch is to be played over and over.
    void loopWanted(lampo::Range<lampo::ResultFrame> stretch);
    void notified(const QString& sentence);

private:
    using Change = std::function<ShapeSeams(const Session& session, std::span<const Seam> seams)>;
    void shape(const Change& change);
    void loopAround();
    static QString chooseFirst();
    /// Those of the chosen ones that can be shaped.
    std::vector<Seam> chosen() const;

    Document& document_;
    SheetWidget& sheet_;
    int gesture_ = 0; ///< of keys pressed one after another
};

} // namespace lampo
