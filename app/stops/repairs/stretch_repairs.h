#pragma once

#include "advice/borrowed.h"
#include "advice/silences.h"
#include "sheet/sheet_widget.h"
#include "stops/repairs/mic_choice.h"

#include <QFutureWatcher>

namespace lampo {

/// What is done to a stretch of some mics: the one that is drawn in the ruler. Menu and page both ask here.
class StretchRepairs : public QObject {
    Q_OBJECT
public:
    /// All of them outlive it.
    StretchRepairs(Document& document, SheetWidget& sheet, MicChoice& mics);

    /// What the silences that are on take away, in words, as far as that was listened to; empty: there are none.
    QString taken() const { return taken_; }

public slots:
    void silence();
    void borrow(const lampo::BorrowFrom& from);
    void silenceToms();
    /// The tom mics' silences on or off as a whole.
    void switchTomSilences();

signals:
    void notified(const QString& sentence);
    void takenChanged();

private:
    void perform(const Expected<AddPatches>& edit, const QString& done);
    void listen();

    Document& document_;
    SheetWidget& sheet_;
    MicChoice& mics_;
    std::vector<Patch> silences_; ///< that are on, of which taken_ speaks or will
    QFutureWatcher<Expected<std::vector<TakenAway>>> listening_;
    QString taken_;
};

} // namespace lampo
