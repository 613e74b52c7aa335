#pragma once

#include "advice/patch_mics.h"
#include "document/document.h"

#include <QMenu>

class QPushButton;

namespace lampo {

/// On which mics repairs are done: those of the hit's own drum, all, those of one drum, or any that are ticked.
class MicChoice : public QMenu {
    Q_OBJECT
public:
    explicit MicChoice(Document& document, QWidget* parent = nullptr);

    const PatchMics& mics() const { return mics_; }
    /// "Its drum's mics", "snare_top, snare_bottom".
    QString words() const;
    /// A button that opens the menu and says what is chosen, to stand in a page.
    QPushButton* button(const QString& name);
    /// For a stretch, which is no drum's own: those that are named, or those of the hit's drum. May be empty.
    std::vector<std::string> named(std::optional<HitIndex> hit) const;

public slots:
    void choose(const lampo::PatchMics& mics);

signals:
    void chosen(const lampo::PatchMics& mics);

private:
    void offer();
    void tick();

    Document& document_;
    PatchMics mics_;
    std::vector<std::string> offered_; ///< stems
};

} // namespace lampo
