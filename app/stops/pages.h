#pragma once

#include <QWidget>

class QButtonGroup;
class QHBoxLayout;
class QStackedWidget;

namespace lampo {

/// Pages of a panel, one at a time, under a row of their titles. As high as the page that is seen.
class Pages : public QWidget {
    Q_OBJECT
public:
    explicit Pages(QWidget* parent = nullptr);
    /// Behind the others; the first one is shown. Its title's button is called "… page".
    void add(const QString& title, QWidget* page);
    void turnTo(int page);

private:
    QHBoxLayout* titles_;
    QButtonGroup* heads_;
    QStackedWidget* pages_;
};

} // namespace lampo
