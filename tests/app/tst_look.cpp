#include "look/ink.h"
#include "look/noteheads.h"

#include <QtTest>

#include <cmath>

using namespace lampo;

namespace {

/// Relative luminance and contrast as WCAG 2.1 defines them.
double luminance(const QColor& colour) {
    const auto linear = [](double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) + 0.0722 * linear(colour.blueF());
}

double contrast(const QColor& a, const QColor& b) {
    const auto [low, high] = std::minmax({luminance(a), luminance(b)});
    return (high + 0.05) / (low + 0.05);
}

} // namespace

class TestLook : public QObject {
    Q_OBJECT
private slots:
    void textIsReadable_data() {
        QTest::addColumn<bool>("night");
        QTest::newRow("paper") << false;
        QTest::newRow("night") << true;
    }
    void textIsReadable() {
        QFETCH(bool, night);
        const Ink ink = night ? nightInk() : paperInk();
        for (const QColor& text : {ink.text, ink.faint, ink.accent, ink.alarm})
            for (const QColor& ground : {ink.paper, ink.margin})
                QVERIFY2(contrast(text, ground) >= 4.5, qPrintable(text.name() + " on " + ground.name()));
        for (int voice = 0; voice <= static_cast<int>(Voice::other); ++voice)
            QVERIFY(contrast(ink.of(static_cast<Voice>(voice)), ink.paper) >= 4.5);
    }
    void noteheadsDifferWithoutColour() {
        // Drawn in one colour, no two drums' heads look alike (hat and cymbal share the cross, as in drum
        // notation).
        std::vector<QImage> heads;
        for (const Voice voice : {Voice::kick, Voice::snare, Voice::tom, Voice::hat, Voice::other}) {
            QImage image(24, 24, QImage::Format_RGB32);
            image.fill(Qt::white);
            QPainter painter(&image);
            drawNotehead(painter, {12, 12}, 16, {voice, Qt::black});
            painter.end();
            for (const QImage& other : heads)
                QVERIFY(other != image);
            heads.push_back(image);
        }
    }
    void theFontIsEmbedded() { QVERIFY(QFontInfo(textFont()).family().contains("Charis")); }
};

QTEST_MAIN(TestLook)
#include "tst_look.moc"
