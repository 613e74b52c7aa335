#pragma once

#include "chain/advising.h"
#include "stops/panel.h"

#include <QTimer>

class QVBoxLayout;

namespace lampo {

/// What the hits say about the map: how well it fits, what should be changed, and a map that follows the drummer.
/// Looked for a moment after the last change, and only while it can be seen.
class MapCheckPage : public Panel {
    Q_OBJECT
public:
    explicit MapCheckPage(Document& document, QWidget* parent = nullptr);
    QString state() const override { return {}; }
    /// At once.
    void check();
    const std::vector<MapAdvice>& advice() const { return report_.advice; }
    void follow();

signals:
    void troubled(const QString& sentence);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void apply(std::size_t index);

    QTimer soon_;
    MapReport report_;
    QLabel* fit_ = nullptr;
    QVBoxLayout* rows_ = nullptr;
    double smoothness_ = 60;
};

} // namespace lampo
