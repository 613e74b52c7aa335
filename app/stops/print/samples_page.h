#pragma once

#include "demo_kit/voices.h"
#include "sheet/sheet_widget.h"
#include "stops/panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFutureWatcher>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>

namespace lampo {

/// Recordings of strokes that sound beside a drum at its hits, and are printed as tracks of their own.
class SamplesPage : public Panel {
    Q_OBJECT
public:
    SamplesPage(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);
    ~SamplesPage() override;

    /// Whether one is being fitted to its drum.
    bool fitting() const { return fitting_.isRunning(); }

public slots:
    /// One sample of all of them, to sound in turn, beside the drum whose name they bear most likely; it is fitted
    /// to it.
    void add(const QStringList& files);
    /// Two layers of a drum that is made here.
    void addBuiltIn(demo::Drum drum);
    /// As a layer that is softer than the others.
    void addSofter(const QStringList& files);
    /// Offsets and polarity by the drum's own sound, behind the window.
    void fit();

signals:
    void notified(const QString& sentence);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void showInPlot();
    void addLayers(const std::string& drum, std::vector<SampleLayer> layers);
    void addDetails();
    void addHits();
    void fill();
    void fillLayers(const DrumSample& sample);
    void put(const DrumSample& sample, const QString& what);
    void layerChanged(int row, int column);
    void fitArrived();
    /// The one that is chosen.
    const DrumSample* chosen() const;
    std::size_t index() const;
    void say(bool out, std::optional<Decibels> level);
    QStringList askForFiles();

    struct Fitted {
        DrumSample before; ///< as it was when that was begun
        Expected<DrumSample> after;
    };

    SheetWidget& sheet_;
    QListWidget* list_;
    QWidget* details_;
    QComboBox* drum_ = nullptr;
    QTableWidget* layers_ = nullptr;
    QCheckBox* inverted_ = nullptr;
    QPushButton* fit_ = nullptr;
    QFutureWatcher<std::shared_ptr<Fitted>> fitting_;
    bool filling_ = false;
    bool again_ = false; ///< another was wanted while one was fitted
};

} // namespace lampo
