#include "stops/pages.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace lampo {

Pages::Pages(QWidget* parent)
    : QWidget(parent), titles_(new QHBoxLayout), heads_(new QButtonGroup(this)), pages_(new QStackedWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    titles_->setSpacing(4);
    column->addLayout(titles_);
    column->addWidget(pages_, 1);
    connect(heads_, &QButtonGroup::idClicked, this, &Pages::turnTo);
}

void Pages::add(const QString& title, QWidget* page) {
    auto* head = new QPushButton(title);
    head->setCheckable(true);
    head->setObjectName(title + QStringLiteral(" page"));
    heads_->addButton(head, pages_->addWidget(page));
    titles_->addWidget(head);
    turnTo(0);
}

void Pages::turnTo(int page) {
    heads_->button(page)->setChecked(true);
    pages_->setCurrentIndex(page);
    for (int i = 0; i < pages_->count(); ++i)
        pages_->widget(i)->setSizePolicy(QSizePolicy::Preferred,
                                         i == page ? QSizePolicy::Preferred : QSizePolicy::Ignored);
}

} // namespace lampo
