#include "stops/proof/figures_page.h"

#include "base/whole_file.h"
#include "deliver/proof_report.h"
#include "look/file_to_write.h"

#include <QFileInfo>
#include <QLabel>
#include <QPushButton>

namespace lampo {

FiguresPage::FiguresPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    auto* figures = new QLabel;
    figures->setObjectName(QStringLiteral("Proof figures"));
    figures->setTextFormat(Qt::RichText);
    figures->setWordWrap(true);
    column()->addWidget(figures);
    auto* write = new QPushButton(tr("Write it to a file…"));
    write->setObjectName(QStringLiteral("Write proof"));
    write->setToolTip(tr("As a page (.html), as text (.txt), or for other programs (.json)"));
    column()->addWidget(write);
    column()->addStretch(1);
    connect(write, &QPushButton::clicked, this, &FiguresPage::choose);
    connect(&document_, &Document::proofChanged, this, [this, figures, write] {
        write->setEnabled(document_.proof().outcome != nullptr);
        if (isVisible())
            show(figures);
    });
    onChangeWhileVisible([this, figures] { show(figures); });
    write->setEnabled(false);
    refresh();
}

void FiguresPage::show(QLabel* figures) const {
    const ProofSummary& summary = document_.proof().proof.summary;
    if (summary.drums.empty())
        return figures->setText(tr("How tight each drum was and is, measured in the sound: nothing yet."));
    QString rows =
        QStringLiteral("<tr><td></td><td align=right>%1</td><td align=right>%2</td><td align=right>%3</td>"
                       "<td align=right>%4</td></tr>")
            .arg(tr("hits"), tr("spread"), tr("worst"), tr("within 5 ms"));
    const auto add = [&](const QString& name, const Tightness& t) {
        rows +=
            QStringLiteral("<tr><td>%1</td><td align=right>%2</td><td align=right>%3</td><td align=right>%4</td>"
                           "<td align=right>%5 %</td></tr>")
                .arg(name)
                .arg(t.hits)
                .arg(number(t.spread.value, 1), number(t.worst.value, 1), number(100 * t.withinFive, 0));
    };
    for (const DrumFigures& drum : summary.drums) {
        const QString name = QString::fromStdString(std::string(lampo::name(drum.voice)));
        add(tr("%1, played").arg(name), drum.before);
        add(tr("%1, landed").arg(name), drum.after);
    }
    figures->setText(tr("How far the attacks lie from their lines, in ms, as they sound:") +
                     QStringLiteral("<table cellspacing=4>%1</table>").arg(rows) +
                     tr("%1, %2, %3.")
                         .arg(counted(static_cast<std::int64_t>(summary.hits), tr("hit")),
                              counted(static_cast<std::int64_t>(summary.seams), tr("seam")),
                              counted(static_cast<std::int64_t>(summary.patches), tr("patch"), tr("patches"))));
}

void FiguresPage::choose() {
    const QString file = fileToWrite(this, tr("The proof to"), tr("proof.html"),
                                     tr("Pages, text or JSON (*.html *.txt *.json)"), QStringLiteral("html"));
    if (!file.isEmpty())
        write(file);
}

void FiguresPage::write(const QString& file) {
    const Session& session = document_.session();
    const Proof& proof = document_.proof().proof;
    const QString ending = QFileInfo(file).suffix().toLower();
    const std::string text = ending == QStringLiteral("json")  ? proofReport(session, proof)
                             : ending == QStringLiteral("txt") ? summaryText(session, proof)
                                                               : summaryPage(session, proof);
    const auto written = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return writeAtomically(file.toStdString(), text);
    });
    emit notified(written ? tr("The proof is in %1").arg(file) : QString::fromStdString(written.error().sentence));
}

} // namespace lampo
