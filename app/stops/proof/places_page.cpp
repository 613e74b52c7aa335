#include "stops/proof/places_page.h"

#include "look/ink.h"
#include "look/names.h"
#include "map/musical_map.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>

#include <algorithm>

namespace lampo {
namespace {

constexpr std::size_t mostRemedies = 4;
enum Filter { open, openAndLater, all };

} // namespace

PlacesPage::PlacesPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    auto* note = addNote();
    note->setObjectName(QStringLiteral("Proof tally"));
    addList();
    addAnswers();
    addListening();
    const auto tell = [this, note] { note->setText(tally()); };
    connect(&document_, &Document::proofProgressed, this, tell);
    connect(&document_, &Document::proofChanged, this, [this, tell] {
        tell();
        if (isVisible())
            showPlaces();
    });
    onChangeWhileVisible([this] { showRemedies(); });
    tell();
    refresh();
}

void PlacesPage::addList() {
    filter_ = new QComboBox;
    filter_->setObjectName(QStringLiteral("Places shown"));
    filter_->setAccessibleName(tr("Places shown"));
    filter_->addItems({tr("what is open"), tr("open and for later"), tr("all, also what is fine")});
    column()->addWidget(filter_);
    connect(filter_, &QComboBox::currentIndexChanged, this, [this] { showPlaces(); });
    list_ = new QListWidget;
    list_->setObjectName(QStringLiteral("Places"));
    list_->setAccessibleName(tr("Places that want an ear, worst first: Enter opens an entry"));
    list_->setWordWrap(true);
    list_->setResizeMode(QListView::Adjust);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setTextElideMode(Qt::ElideNone);
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    column()->addWidget(list_, 1);
    connect(list_, &QListWidget::currentRowChanged, this, &PlacesPage::rowChosen);
    connect(list_, &QListWidget::itemActivated, this, &PlacesPage::openEntry);
}

void PlacesPage::addAnswers() {
    remedyGrid_ = new QGridLayout;
    for (std::size_t i = 0; i < mostRemedies; ++i) {
        auto* button = new QPushButton;
        button->setObjectName(QStringLiteral("Remedy %1").arg(i + 1));
        remedyGrid_->addWidget(button, static_cast<int>(i / 2), static_cast<int>(i % 2));
        remedyButtons_.push_back(button);
        button->hide();
        connect(button, &QPushButton::clicked, this, [this, i] {
            if (i < remedies_.size())
                document_.perform(Edit(remedies_[i].edit));
        });
    }
    column()->addLayout(remedyGrid_);
    note_ = new QLineEdit;
    note_->setObjectName(QStringLiteral("Place note"));
    note_->setAccessibleName(tr("A note to the place"));
    note_->setPlaceholderText(tr("A note, kept with the answer"));
    column()->addWidget(note_);
    auto* row = new QHBoxLayout;
    const auto add = [&](const QString& text, const char* name, const QString& tip, ProofState state) {
        auto* button = new QPushButton(text);
        button->setObjectName(QLatin1String(name));
        button->setToolTip(tip);
        row->addWidget(button);
        answers_.push_back(button);
        connect(button, &QPushButton::clicked, this, [this, state] { answer(state); });
    };
    add(tr("Fine"), "Answer fine", tr("It is as it should be, as long as nothing changes there"), ProofState::fine);
    add(tr("Later"), "Answer later", tr("To be looked at again"), ProofState::later);
    add(tr("Open again"), "Answer open", tr("Takes the answer back"), ProofState::open);
    column()->addLayout(row);
    connect(note_, &QLineEdit::returnPressed, this, [this] { answer(ProofState::later); });
}

void PlacesPage::addListening() {
    const QSettings settings;
    auto* row = new QHBoxLayout;
    play_ = new QCheckBox(tr("play what is chosen"));
    play_->setObjectName(QStringLiteral("Play places"));
    play_->setChecked(settings.value(QLatin1String(names::proofPlays), false).toBool());
    loop_ = new QCheckBox(tr("over and over"));
    loop_->setObjectName(QStringLiteral("Loop places"));
    loop_->setChecked(settings.value(QLatin1String(names::proofLoops), false).toBool());
    runUp_ = makeField(numberOf(tr("Run-up of a place"), limits::runUp));
    runUp_->setToolTip(tr("How long before the place play begins"));
    runUp_->setValue(settings.value(QLatin1String(names::proofRunUp), limits::runUp.defaultValue).toDouble());
    runUp_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    row->addWidget(play_);
    row->addWidget(loop_, 1);
    column()->addLayout(row);
    auto* second = new QHBoxLayout;
    second->addWidget(new QLabel(tr("Run-up")));
    second->addWidget(runUp_);
    second->addStretch(1);
    column()->addLayout(second);
    connect(play_, &QCheckBox::toggled, this,
            [](bool on) { QSettings().setValue(QLatin1String(names::proofPlays), on); });
    connect(loop_, &QCheckBox::toggled, this,
            [](bool on) { QSettings().setValue(QLatin1String(names::proofLoops), on); });
    connect(runUp_, &QDoubleSpinBox::valueChanged, this,
            [](double value) { QSettings().setValue(QLatin1String(names::proofRunUp), value); });
}

/// What changed while nobody looked.
void PlacesPage::showEvent(QShowEvent* event) {
    Panel::showEvent(event);
    showPlaces();
}

bool PlacesPage::shows(ProofState state) const {
    const int filter = filter_->currentIndex();
    return state == ProofState::open || (state == ProofState::later && filter >= openAndLater) || filter == all;
}

void PlacesPage::addRow(const Row& row) {
    const auto& places = document_.proof().proof.places;
    const ProofEntry& entry = entries_[row.entry];
    const double gravity = row.place ? places[*row.place].gravity() : entry.gravity;
    QString text = row.place ? QString::fromStdString(places[*row.place].text) : QString::fromStdString(entry.text);
    const std::string& note = places[row.place.value_or(entry.places.front())].note;
    if (entry.state != ProofState::open)
        text += entry.state == ProofState::fine ? tr(" — fine") : tr(" — later");
    if (!note.empty())
        text += tr(" (%1)").arg(QString::fromStdString(note));
    auto* item =
        new QListWidgetItem(QStringLiteral("%1%2   %3.")
                                .arg(row.place ? QStringLiteral("      ") : QString(), number(gravity, 1), text),
                            list_);
    if (!row.place && entry.places.size() > 1)
        item->setToolTip(tr("Enter or a double click shows each of them"));
    rows_.push_back(row);
}

/// What was chosen stays chosen while it is there; otherwise what lies in its row.
void PlacesPage::showPlaces() {
    const Session& session = document_.session();
    const auto& places = document_.proof().proof.places;
    const QSignalBlocker quiet(list_);
    const int kept = list_->currentRow();
    list_->clear();
    rows_.clear();
    entries_ =
        session.empty() ? std::vector<ProofEntry>{} : entriesOf(places, MusicalMap(session.map, session.rate));
    for (std::size_t entry = 0; entry < entries_.size(); ++entry) {
        if (!shows(entries_[entry].state))
            continue;
        addRow({entry, {}});
        if (opened_ && entries_[entry].places.size() > 1 &&
            places[entries_[entry].places.front()].content == *opened_)
            for (const std::size_t place : entries_[entry].places)
                addRow({entry, place});
    }
    const auto isCurrent = [&](const Row& row) {
        const auto of = placesOf(row);
        return current_ && places[of.front()].content == *current_;
    };
    const auto found = std::find_if(rows_.begin(), rows_.end(), isCurrent);
    const int row = found != rows_.end() ? static_cast<int>(found - rows_.begin())
                                         : std::min(kept, static_cast<int>(rows_.size()) - 1);
    list_->setCurrentRow(row);
    showRemedies();
}

std::vector<std::size_t> PlacesPage::placesOf(const Row& row) const {
    return row.place ? std::vector{*row.place} : entries_[row.entry].places;
}

std::vector<std::size_t> PlacesPage::chosenPlaces() const {
    std::vector<std::size_t> all;
    for (int row = 0; row < list_->count(); ++row)
        if (list_->item(row)->isSelected())
            for (const std::size_t place : placesOf(rows_[static_cast<std::size_t>(row)]))
                if (std::find(all.begin(), all.end(), place) == all.end())
                    all.push_back(place);
    return all;
}

std::optional<Range<ResultFrame>> PlacesPage::chosenPlace() const {
    const int current = list_->currentRow();
    if (current < 0)
        return std::nullopt;
    const Row& row = rows_[static_cast<std::size_t>(current)];
    return row.place ? document_.proof().proof.places[*row.place].where : entries_[row.entry].where;
}

void PlacesPage::rowChosen(int row) {
    if (row >= 0) {
        const auto& places = document_.proof().proof.places;
        const auto of = placesOf(rows_[static_cast<std::size_t>(row)]);
        current_ = places[of.front()].content;
        note_->setText(QString::fromStdString(places[of.front()].note));
    }
    showRemedies();
    if (const auto where = chosenPlace())
        emit placeChosen(*where);
}

/// What can be done about the chosen place, by an edit of what was listened to; while that is no longer the edit, a
/// moment is waited.
void PlacesPage::showRemedies() {
    const int row = list_->currentRow();
    remedies_.clear();
    const bool any = row >= 0 && row < static_cast<int>(rows_.size());
    if (any && document_.proofIsOfNow()) {
        const auto of = placesOf(rows_[static_cast<std::size_t>(row)]);
        remedies_ =
            remediesFor(document_.session(), document_.outcome(), document_.proof().proof.places[of.front()]);
    }
    for (std::size_t i = 0; i < mostRemedies; ++i) {
        const bool there = i < remedies_.size();
        remedyButtons_[i]->setVisible(there);
        if (there)
            remedyButtons_[i]->setText(QString::fromStdString(remedies_[i].label));
    }
    for (QPushButton* button : answers_)
        button->setEnabled(any);
    note_->setEnabled(any);
}

void PlacesPage::go(int step) {
    if (list_->count() > 0)
        list_->setCurrentRow((list_->currentRow() + step + list_->count()) % list_->count());
}

void PlacesPage::answer(ProofState state) {
    const auto& places = document_.proof().proof.places;
    ProofEdit edit;
    for (const std::size_t place : chosenPlaces())
        edit.answers.push_back({places[place].kind, places[place].content, state, note_->text().toStdString()});
    if (edit.answers.empty())
        return;
    current_.reset(); // what comes behind is next
    document_.perform(Edit(edit));
    if (const int row = list_->currentRow(); row >= 0)
        rowChosen(row);
}

void PlacesPage::mend() {
    if (!remedies_.empty())
        remedyButtons_.front()->click();
}

void PlacesPage::openEntry() {
    const int current = list_->currentRow();
    if (current < 0)
        return;
    const ProofEntry& entry = entries_[rows_[static_cast<std::size_t>(current)].entry];
    const std::uint64_t first = document_.proof().proof.places[entry.places.front()].content;
    opened_ = opened_ == first ? std::nullopt : std::optional(first);
    showPlaces();
}

Milliseconds PlacesPage::runUp() const {
    return {runUp_->value()};
}

bool PlacesPage::playsChosen() const {
    return play_->isChecked();
}

bool PlacesPage::loopsChosen() const {
    return loop_->isChecked();
}

QString PlacesPage::tally() const {
    if (document_.session().empty())
        return tr("What was made is listened to here: the few places that want an ear are told, worst first.");
    const ProofWork& work = document_.proofWork();
    if (work.busy() && work.progress() > 0)
        return tr("Listening to what changed: %1 %.").arg(static_cast<int>(work.progress() * 100));
    if (!document_.proof().outcome)
        return work.busy() ? tr("It is about to be listened to.") : tr("It was not listened to yet.");
    const auto& places = document_.proof().proof.places;
    const auto count = [&](ProofState state) {
        return std::count_if(places.begin(), places.end(),
                             [&](const ProofPlace& place) { return place.state == state; });
    };
    const auto open = count(ProofState::open), later = count(ProofState::later), fine = count(ProofState::fine);
    if (open + later + fine == 0)
        return tr("All of it was listened to, and nothing wants an ear.");
    return tr("%1 open, %2 for later, %3 fine. Gravity is 0 to 10.").arg(open).arg(later).arg(fine);
}

} // namespace lampo
