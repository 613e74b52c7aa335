#pragma once

#include "stops/panel.h"

class QPushButton;

namespace lampo {

/// Figures before and after, by drum, as the sound has them; to be kept as a page, as text or as JSON.
class FiguresPage : public Panel {
    Q_OBJECT
public:
    explicit FiguresPage(Document& document, QWidget* parent = nullptr);

public slots:
    /// As the file's ending says: .html, .txt or .json.
    void write(const QString& file);

signals:
    void notified(const QString& sentence);

private:
    void show(QLabel* figures) const;
    void choose();
};

} // namespace lampo
