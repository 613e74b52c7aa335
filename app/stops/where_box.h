#pragma once

#include "session/session.h"

#include <QComboBox>

namespace lampo {

/// Where settings hold: in the whole song, or only in one of its sections.
class WhereBox : public QComboBox {
    Q_OBJECT
public:
    enum class Offers { everySection, sectionsOfBars };
    WhereBox(const QString& name, Offers offers, QWidget* parent = nullptr);

    /// Index into the session's sections; none for the whole song.
    std::optional<std::size_t> section() const;
    /// After the session changed.
    void offer(const Session& session);

signals:
    void chosen();

private:
    struct Row {
        std::size_t section;
        std::string name;
        bool operator==(const Row&) const = default;
    };
    int rowAfter(const std::vector<Row>& before, std::size_t kept) const;

    Offers offers_;
    std::vector<Row> rows_; ///< below that of the song
};

} // namespace lampo
