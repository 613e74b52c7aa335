#include "stops/print/notes_page.h"

#include "base/whole_file.h"
#include "look/file_to_write.h"

#include <QHeaderView>
#include <QMouseEvent>
#include <QPainter>
#include <QSpinBox>

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double softest = -36, loudest = 6; ///< dB that the curve shows
constexpr int loudestVelocity = 127;

/// Drums that notes are made for: guides, of a drum's several mics the first.
std::vector<MicIndex> drumsOf(const Session& session) {
    std::vector<MicIndex> drums;
    std::vector<std::string> groups;
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        const Mic& of = session.mics[mic];
        if (!of.guide || (!of.group.empty() && std::find(groups.begin(), groups.end(), of.group) != groups.end()))
            continue;
        if (!of.group.empty())
            groups.push_back(of.group);
        drums.push_back(mic);
    }
    return drums;
}

int keyOf(const Session& session, MicIndex mic) {
    const auto named = session.midi.keys.find(session.mics[mic].stem);
    return named == session.midi.keys.end() ? usualKey(session, mic) : named->second;
}

} // namespace

VelocityView::VelocityView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName(QStringLiteral("Velocity curve"));
    setAccessibleName(tr("Velocity by level"));
    setToolTip(tr("Drag to bend it: right of the strong hits upwards, left of them sideways"));
    setMinimumHeight(110);
    setCursor(Qt::SizeVerCursor);
}

QSize VelocityView::sizeHint() const {
    return {220, 110};
}

QPointF VelocityView::at(double level, double velocity) const {
    return {width() * (level - softest) / (loudest - softest), (height() - 1) * (1 - velocity / loudestVelocity)};
}

void VelocityView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), palette().base());
    QColor rule = palette().color(QPalette::Text);
    rule.setAlphaF(0.25);
    for (int level = -30; level <= 0; level += 10) {
        const double x = at(level, 0).x();
        painter.setPen(rule);
        painter.drawLine(QPointF(x, 0), QPointF(x, height()));
        painter.setPen(palette().color(QPalette::Text));
        painter.drawText(QPointF(x + 2, height() - 3), QStringLiteral("%1 dB").arg(QString::number(level).replace(
                                                           QLatin1Char('-'), QChar(0x2212))));
    }
    const VelocityCurve& curve = document_.session().midi.curve;
    painter.setPen(Qt::NoPen);
    painter.setBrush(palette().highlight());
    const Outcome& outcome = document_.outcome();
    for (const SongHit& hit : outcome.hits) // what it makes of the hits
        if (!hit.bare)
            painter.drawRect(QRectF(
                at(std::clamp(hit.level.value, softest, loudest), velocityOf(curve, hit.level)) - QPointF(1, 1),
                QSizeF(2, 2)));
    QPolygonF line;
    for (double level = softest; level <= loudest; level += 0.5)
        line << at(level, velocityOf(curve, {level}));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(palette().color(QPalette::Text), 1.5));
    painter.drawPolyline(line);
    painter.drawText(QRectF(4, 2, width() - 8, height()), Qt::AlignLeft | Qt::AlignTop,
                     tr("velocity %1 at a strong hit").arg(velocityOf(curve, {0})));
}

/// Near strong hits the curve is lifted there; farther left its bend goes through the place.
void VelocityView::bendTo(QPointF place) {
    const double level = softest + (loudest - softest) * std::clamp(place.x() / std::max(1, width()), 0.0, 1.0);
    const double velocity = std::clamp(loudestVelocity * (1 - place.y() / std::max(1, height() - 1)), 1.0, 127.0);
    VelocityCurve curve = document_.session().midi.curve;
    constexpr double near = -6;
    if (level > near)
        curve.strong = std::clamp(std::round(velocity / std::pow(10.0, level / (20 * curve.bend))),
                                  limits::strongVelocity.low, limits::strongVelocity.high);
    else if (velocity < curve.strong)
        curve.bend = std::clamp(level / (20 * std::log10(velocity / curve.strong)), limits::velocityBend.low,
                                limits::velocityBend.high);
    static int gesture = 0;
    if (!dragging_)
        gesture = Document::newGesture();
    dragging_ = true;
    document_.perform(MidiEdit{SetVelocityCurve{curve}}, gesture);
}

void VelocityView::mousePressEvent(QMouseEvent* event) {
    dragging_ = false;
    bendTo(event->position());
}

void VelocityView::mouseMoveEvent(QMouseEvent* event) {
    bendTo(event->position());
}

void VelocityView::mouseReleaseEvent(QMouseEvent*) {
    dragging_ = false;
}

NotesPage::NotesPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    addNote(tr("The hits as notes, with the tempo map, for another drum sound beside this one."));
    auto* form = addForm();
    as_ = new QComboBox;
    as_->addItems({tr("Where they were played"), tr("Where they land")});
    as_->setCurrentIndex(1);
    as_->setObjectName(QStringLiteral("Notes as"));
    as_->setAccessibleName(tr("Where notes lie"));
    form->addRow(tr("Notes"), as_);
    keys_ = new QTableWidget(0, 3);
    keys_->setObjectName(QStringLiteral("Keys"));
    keys_->setAccessibleName(tr("Keys by drum"));
    keys_->setHorizontalHeaderLabels({tr("Drum"), tr("Key"), tr("Notes")});
    keys_->verticalHeader()->hide();
    keys_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    keys_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    keys_->setMinimumHeight(4 * keys_->verticalHeader()->defaultSectionSize());
    keys_->setMaximumHeight(8 * keys_->verticalHeader()->defaultSectionSize());
    keys_->setToolTip(tr("Keys 0 to 127; General MIDI's are usual. Delete a key to have that again"));
    column()->addWidget(keys_, 1);
    auto* curve = new VelocityView(document);
    column()->addWidget(curve);
    auto* fields = addForm();
    const auto set = [this](auto member) {
        return [this, member](double value) -> std::optional<Edit> {
            VelocityCurve now = document_.session().midi.curve;
            now.*member = value;
            return MidiEdit{SetVelocityCurve{now}};
        };
    };
    addNumber(
        fields, numberOf(tr("Strong hit"), limits::strongVelocity),
        [this] { return document_.session().midi.curve.strong; }, set(&VelocityCurve::strong));
    addNumber(
        fields, numberOf(tr("Bend"), limits::velocityBend, 2),
        [this] { return document_.session().midi.curve.bend; }, set(&VelocityCurve::bend));
    hear_ = new QPushButton(tr("Hear the notes"));
    hear_->setObjectName(QStringLiteral("Hear notes"));
    hear_->setCheckable(true);
    hear_->setToolTip(
        tr("While this is pressed, playback plays the notes by drums of our own, in place of the mics"));
    auto* file = new QPushButton(tr("Write a MIDI file…"));
    file->setObjectName(QStringLiteral("Write notes"));
    column()->addWidget(hear_);
    column()->addWidget(file);
    connect(keys_, &QTableWidget::cellChanged, this, &NotesPage::keyChanged);
    connect(file, &QPushButton::clicked, this, &NotesPage::choose);
    connect(hear_, &QPushButton::toggled, this, &NotesPage::heardChanged);
    connect(as_, &QComboBox::currentIndexChanged, this, [this] {
        fill();
        emit heardChanged();
    });
    onChangeWhileVisible([this, curve] {
        fill();
        curve->update();
    });
    refresh();
}

void NotesPage::fill() {
    const Session& session = document_.session();
    const auto drums = drumsOf(session);
    MidiSettings settings = session.midi;
    const auto notes = notesOf(session, document_.outcome(), settings, as());
    filling_ = true;
    keys_->setRowCount(static_cast<int>(drums.size()));
    for (int row = 0; row < keys_->rowCount(); ++row) {
        const MicIndex mic = drums[static_cast<std::size_t>(row)];
        const std::string drum = midiDrumOf(session, mic);
        const auto count =
            std::count_if(notes.begin(), notes.end(), [&](const DrumNote& note) { return note.drum == drum; });
        const QStringList cells{QString::fromStdString(drum), QString::number(keyOf(session, mic)),
                                QString::number(count)};
        for (int column = 0; column < 3; ++column) {
            auto* item = new QTableWidgetItem(cells[column]);
            item->setFlags(column == 1 ? Qt::ItemIsEnabled | Qt::ItemIsEditable | Qt::ItemIsSelectable
                                       : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
            item->setData(Qt::UserRole, QString::fromStdString(session.mics[mic].stem));
            if (column > 0)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            keys_->setItem(row, column, item);
        }
    }
    filling_ = false;
}

void NotesPage::keyChanged(int row, int column) {
    if (filling_ || column != 1)
        return;
    const QTableWidgetItem* item = keys_->item(row, column);
    bool isNumber = false;
    const int key = item->text().trimmed().toInt(&isNumber);
    SetMidiKey edit{item->data(Qt::UserRole).toString().toStdString(), std::nullopt};
    if (isNumber)
        edit.key = key;
    document_.perform(MidiEdit{edit});
    fill(); // also when it was refused
}

void NotesPage::choose() {
    const QString file =
        fileToWrite(this, tr("The notes to"), tr("hits.mid"), tr("MIDI files (*.mid)"), QStringLiteral("mid"));
    if (!file.isEmpty())
        write(file);
}

void NotesPage::write(const QString& file) {
    const auto written = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return writeAtomically(file.toStdString(), midiBytes(hitsMidi(document_.session(), document_.outcome(),
                                                                      document_.session().midi, as())));
    });
    emit notified(written ? tr("The notes are in %1").arg(file) : QString::fromStdString(written.error().sentence));
}

} // namespace lampo
