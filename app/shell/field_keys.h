#pragma once

#include <QObject>

namespace lampo {

/// Lets the focused field have the plain keys it understands (arrows in a slider, Space on a button, Delete in a
/// text) before the window takes them as shortcuts. Installed on the application.
class FieldKeys : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    bool eventFilter(QObject* receiver, QEvent* event) override;
};

} // namespace lampo
