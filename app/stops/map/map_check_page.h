#pragma once

#include "advice/map_advice.h"
#include "stops/panel.h"

#include <QFutureWatcher>
#include <QTimer>

class QVBoxLayout;

namespace lampo {

/// What the hits say about the map: how well it fits, what should be changed, and a map that follows the drummer.
/// Looked for a moment after the last change, and only while it can be seen.
class MapCheckPage : public Panel {
    Q_OBJECT
public:
    explicit MapCheckPage(Document& document, QWidget* parent = nullptr);
    /// At once; beside the window, since a long song takes longer than a frame.
    void check();
    bool busy() const { return busy_; }
    void follow();

signals:
    void notified(const QString& sentence);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void tell(const MapReport& report);

    QTimer soon_;
    QFutureWatcher<MapReport> watcher_; ///< of the last check asked for; those before it are forgotten
    bool busy_ = false;
    MapData asked_; ///< the map that was checked last
    QLabel* fit_ = nullptr;
    QVBoxLayout* rows_ = nullptr;
    double smoothness_ = limits::smoothness.defaultValue;
};

} // namespace lampo
