#include "stops/where_box.h"

#include <algorithm>
#include <utility>

namespace lampo {

WhereBox::WhereBox(const QString& name, Offers offers, QWidget* parent) : QComboBox(parent), offers_(offers) {
    setObjectName(name);
    setAccessibleName(tr("Where these settings hold"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    addItem(tr("The whole song"));
    connect(this, &QComboBox::currentIndexChanged, this, &WhereBox::chosen);
}

std::optional<std::size_t> WhereBox::section() const {
    const auto row = static_cast<std::size_t>(currentIndex() - 1);
    return row < rows_.size() ? std::optional(rows_[row].section) : std::nullopt;
}

/// What was shown stays shown; where its section is gone, the song is.
void WhereBox::offer(const Session& session) {
    std::vector<Row> rows;
    for (std::size_t i = 0; i < session.sections.size(); ++i)
        if (offers_ == Offers::everySection || !session.sections[i].beats)
            rows.push_back({i, session.sections[i].name});
    if (rows == rows_)
        return;
    const int kept = currentIndex();
    const auto before = std::exchange(rows_, std::move(rows));
    const QSignalBlocker quiet(this);
    clear();
    addItem(tr("The whole song"));
    for (const Row& row : rows_)
        addItem(tr("Only in %1").arg(QString::fromStdString(row.name)));
    setCurrentIndex(kept < 1 ? 0 : rowAfter(before, static_cast<std::size_t>(kept - 1)));
}

/// By its name, which may stand elsewhere now; one that was renamed stays where it is.
int WhereBox::rowAfter(const std::vector<Row>& before, std::size_t kept) const {
    const auto found =
        std::find_if(rows_.begin(), rows_.end(), [&](const Row& row) { return row.name == before[kept].name; });
    if (found != rows_.end())
        return static_cast<int>(found - rows_.begin()) + 1;
    return before.size() == rows_.size() ? static_cast<int>(kept) + 1 : 0;
}

} // namespace lampo
