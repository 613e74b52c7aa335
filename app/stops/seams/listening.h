#pragma once

#include "document/document.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;

namespace lampo {

/// How a seam is listened to: from how long before it, in which mic, and whether by itself after each change. Of
/// the person, not of the song: it is kept with the window.
class SeamListening : public QWidget {
    Q_OBJECT
public:
    explicit SeamListening(Document& document, QWidget* parent = nullptr);
    Milliseconds runUp() const;
    bool afterChange() const;

signals:
    /// Only this mic is to be heard; none: all of them.
    void alone(std::optional<lampo::MicIndex> mic);

protected:
    // One mic alone is heard only while this can be seen: nobody looks here for why the others are silent.
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void offerMics();
    std::optional<MicIndex> chosen() const;

    Document& document_;
    QDoubleSpinBox* runUp_;
    QComboBox* heard_;
    QCheckBox* afterChange_;
};

} // namespace lampo
