#include "stops/proof/difference_view.h"

#include "look/ink.h"
#include "proof/kit_sound.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr std::size_t columns = 600;
constexpr double quietest = -60; ///< dBFS: nothing is drawn
constexpr double loudest = 0;
constexpr int nameWidth = 90;

/// In blocks, so that memory does not grow with the song.
DifferencePicture pictureOf(const Sounding& one, const Sounding& other, const std::stop_token& stop) {
    RenderedSound a(one.plan, std::make_shared<KitReader>(one.session, KitReader::Unreadable::isSilent)),
        b(other.plan, std::make_shared<KitReader>(other.session, KitReader::Unreadable::isSilent));
    const std::int64_t length = std::max<std::int64_t>(1, one.session.length().frames);
    const std::size_t mics = one.session.mics.size();
    DifferencePicture picture{std::vector(mics, std::vector<float>(columns, 0.0F)), {}, FrameCount{length}};
    for (const Mic& mic : one.session.mics)
        picture.names.push_back(mic.shownName());
    constexpr std::int64_t block = 1 << 14;
    for (std::int64_t at = 0; at < length && !stop.stop_requested(); at += block) {
        const auto count = static_cast<std::size_t>(std::min(block, length - at));
        const auto x = stretchOf(a, mics, ResultFrame{at}, count);
        const auto y = stretchOf(b, other.session.mics.size(), ResultFrame{at}, count);
        if (!x || !y)
            break;
        for (MicIndex mic; mic < mics; ++mic) {
            const auto same = other.session.micNamed(one.session.mics[mic].stem);
            for (std::size_t i = 0; i < count; ++i) {
                const float difference = std::abs((*x)[mic][i] - (same ? (*y)[*same][i] : 0.0F));
                const auto column = static_cast<std::size_t>((at + static_cast<std::int64_t>(i)) *
                                                             static_cast<std::int64_t>(columns) / length);
                float& most = picture.mics[mic][std::min(column, columns - 1)];
                most = std::max(most, difference);
            }
        }
    }
    for (auto& mic : picture.mics)
        for (float& value : mic)
            value = 20 * std::log10(std::max(value, 1e-10F));
    return picture;
}

} // namespace

DifferenceWork::~DifferenceWork() {
    endJob();
}

void DifferenceWork::start(Side one, Side other) {
    startJob([this, one = std::move(one), other = std::move(other)](const std::stop_token& stop, int number) {
        const auto a = one(), b = other();
        if (!a || !b)
            return post(number, [this, sentence = (a ? b : a).error().sentence] {
                emit failed(QString::fromStdString(sentence));
            });
        auto picture = pictureOf(*a, *b, stop);
        if (!stop.stop_requested())
            post(number, [this, picture = std::move(picture)] { emit found(picture); });
    });
}

DifferenceView::DifferenceView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName(QStringLiteral("Difference view"));
    setAccessibleName(tr("What differs, mic by mic, over the song"));
    setMinimumHeight(QFontMetrics(textFont(0.92)).height() * 6);
    connect(&work_, &DifferenceWork::found, this, [this](const DifferencePicture& picture) {
        picture_ = picture;
        update();
    });
    connect(&work_, &DifferenceWork::failed, this, [this](const QString& sentence) {
        instead_ = sentence + QStringLiteral(".");
        update();
    });
}

DifferenceWork::Side DifferenceView::sideOf(const Monitored& what) const {
    return [what, session = document_.session(), outcome = document_.sharedOutcome(),
            analyses = document_.analyses()] { return soundingOf(what, session, *outcome, analyses); };
}

void DifferenceView::setWanted(const Monitored& one, const Monitored& other) {
    if (!isVisible() || document_.session().empty())
        return;
    const bool same = of_ == document_.sharedOutcome() && one_ == one && other_ == other;
    if (same)
        return;
    one_ = one;
    other_ = other;
    of_ = document_.sharedOutcome();
    picture_ = {};
    instead_ = tr("listening…");
    update();
    work_.start(sideOf(one), sideOf(other));
}

void DifferenceView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setFont(textFont(0.92));
    const auto& mics = picture_.mics;
    const QColor text = palette().color(QPalette::WindowText);
    if (mics.empty()) {
        painter.setPen(text);
        painter.drawText(rect(), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap, instead_);
        return;
    }
    const double height = std::min(24.0, static_cast<double>(this->height()) / static_cast<double>(mics.size()));
    const double width = static_cast<double>(this->width() - nameWidth) / static_cast<double>(columns);
    for (std::size_t mic = 0; mic < mics.size(); ++mic) {
        const double top = height * static_cast<double>(mic);
        painter.fillRect(QRectF(nameWidth, top + height / 2, this->width() - nameWidth, 1),
                         palette().color(QPalette::Mid));
        painter.setPen(text);
        painter.drawText(QRectF(0, top, nameWidth - 4, height), Qt::AlignVCenter | Qt::AlignLeft,
                         painter.fontMetrics().elidedText(QString::fromStdString(picture_.names[mic]),
                                                          Qt::ElideRight, nameWidth - 4));
        for (std::size_t column = 0; column < columns; ++column) {
            const auto level = static_cast<double>(picture_.mics[mic][column]);
            if (level <= quietest)
                continue;
            const double high = (height - 3) * std::min(1.0, (level - quietest) / (loudest - quietest));
            painter.fillRect(QRectF(nameWidth + width * static_cast<double>(column), top + (height - high) / 2,
                                    width + 0.2, high),
                             text);
        }
    }
}

void DifferenceView::mousePressEvent(QMouseEvent* event) {
    const double along = (event->position().x() - nameWidth) / std::max(1, width() - nameWidth);
    if (along >= 0 && picture_.length > FrameCount{})
        emit placeChosen(ResultFrame{} + scaled(picture_.length, std::min(along, 1.0)));
}

} // namespace lampo
