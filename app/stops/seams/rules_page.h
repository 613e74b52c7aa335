#pragma once

#include "advice/lead_in_advice.h"
#include "stops/panel.h"
#include "stops/where_box.h"

class QPushButton;

namespace lampo {

/// What rules seams in the song or in one of its sections: lead-in, fades, what becomes of holes.
class SeamRulesPage : public Panel {
    Q_OBJECT
public:
    explicit SeamRulesPage(Document& document, QWidget* parent = nullptr);

    /// As a combo box offers them.
    static QStringList curves();
    static QStringList fills();

private:
    void addScope();
    void addLeadIn(QFormLayout* form);
    void addAdvice();
    void addFades(QFormLayout* form);
    void addFollow();
    std::optional<std::size_t> section() const { return where_->section(); }
    SeamSettings ruling() const;
    Range<SongFrame> place() const;
    Edit leadInEdit(Milliseconds leadIn) const;

    WhereBox* where_ = nullptr;
    QPushButton* suggested_ = nullptr;
    LeadInAdvice advice_;
};

} // namespace lampo
