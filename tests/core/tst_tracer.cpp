#include "advice/seam_shapes.h"
#include "deliver/print.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "pipeline/searched_seams.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/ears.h"
#include "support/laid.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <cstring>

using namespace lampo;
using namespace lampo::test;

namespace {

/// What the printed tracers say: for every result frame the source frame, or none inside a fade or a hole.
struct Trace {
    std::vector<std::optional<std::int64_t>> source;
};

Trace readTrace(const std::filesystem::path& folder) {
    const auto up = readAudio(folder / "tracer_up.wav");
    const auto down = readAudio(folder / "tracer_down.wav");
    Trace trace;
    for (std::size_t i = 0; i < up.size(); ++i) {
        const double n = std::ldexp(up[i], 24);
        // Whole, and the two tracers agree: the position itself. In a hole both are zero; in a fade they need not
        // be whole, and may by accident: the caller leaves seams out.
        const bool sound = n == std::floor(n) && down[i] == 1.0F - up[i];
        trace.source.push_back(sound ? std::optional(static_cast<std::int64_t>(n)) : std::nullopt);
    }
    return trace;
}

} // namespace

/// Two mics more, whose samples are their own position: after any edit they tell where every printed sample came
/// from.
class TestTracer : public QObject {
    Q_OBJECT
    TempFolder folder_;
    std::filesystem::path source_; ///< of the take that is edited
    std::int64_t length_ = 0;
    QStringList real_; ///< its mics that are no tracers

private slots:
    void initTestCase() {
        const std::vector<std::string> stems{"kick_in", "snare_top", "tom_rack", "tom_floor", "overhead_left"};
        const BuiltTake take = buildTake(folder_ / "take", 'A', 36, stems, SampleFormat::wav24); // a rushed passage
        addTracers(folder_ / "take", take.length);
    }
    void everySampleIsAccountedFor_data() {
        QTest::addColumn<QString>("grid");
        QTest::addColumn<double>("strength");
        QTest::addColumn<double>("leadIn");
        QTest::addColumn<double>("fade");
        QTest::addColumn<double>("threshold");
        QTest::addColumn<int>("fill");
        QTest::newRow("as a user would")
            << "1/16" << 100.0 << 10.0 << 6.0 << -20.0 << static_cast<int>(Fill::borrow);
        QTest::newRow("half strength, long fades")
            << "1/8" << 50.0 << 15.0 << 25.0 << -20.0 << static_cast<int>(Fill::borrow);
        QTest::newRow("no lead-in") << "1/16" << 100.0 << 0.0 << 5.0 << -20.0 << static_cast<int>(Fill::borrow);
        QTest::newRow("coarse grid, many hits")
            << "1/4" << 100.0 << 5.0 << 10.0 << -45.0 << static_cast<int>(Fill::borrow);
        QTest::newRow("triplets") << "1/8t" << 83.0 << 10.0 << 1.0 << -20.0 << static_cast<int>(Fill::borrow);
        QTest::newRow("open holes") << "1/16" << 100.0 << 10.0 << 6.0 << -20.0 << static_cast<int>(Fill::open);
        QTest::newRow("stretched tails")
            << "1/16" << 100.0 << 10.0 << 6.0 << -20.0 << static_cast<int>(Fill::stretch);
        QTest::newRow("stretched, half strength")
            << "1/8" << 50.0 << 4.0 << 12.0 << -45.0 << static_cast<int>(Fill::stretch);
    }
    void everySampleIsAccountedFor() {
        QFETCH(QString, grid);
        QFETCH(double, strength);
        QFETCH(double, leadIn);
        QFETCH(double, fade);
        QFETCH(double, threshold);
        QFETCH(int, fill);
        const bool open = fill == static_cast<int>(Fill::open);
        use(folder_ / "take");
        auto session = importFolder(source_);
        QVERIFY(session.has_value());
        std::vector<lampo::Edit> edits{SetTempo{{104}},       SetGrid{*noteValueNamed(grid.toStdString())},
                                       SetStrength{strength}, SetLeadIn{{leadIn}},
                                       SetFade{{fade}},       SetFill{static_cast<Fill>(fill)}};
        for (std::size_t mic = 0; mic < session->mics.size(); ++mic)
            edits.emplace_back(SetThreshold{mic, {threshold}});
        for (const auto& edit : edits)
            *session = *edited(*session, edit);
        Analyses analyses;
        QVERIFY(analyseMissing(*session, analyses, Listen::toWitnesses, {}).has_value());
        const auto ruled = outcomeOf(*session, analyses);
        QVERIFY(ruled->hits.size() > 80);
        check(*session, *ruled, open, grid, strength);
        const auto& segments = ruled->plan->segments;
        QVERIFY(fill != static_cast<int>(Fill::stretch) ||
                std::count_if(segments.begin(), segments.end(),
                              [](const Segment& segment) { return segment.stretch.has_value(); }) > 20);
        const auto searched = withSearchedSeams(*session, analyses, ruled, {});
        QVERIFY(searched.has_value());
        QVERIFY(open || *(*searched)->plan != *ruled->plan);
        check(*session, **searched, open, grid, strength);
        const Session shaped = shapedByRandomHands(*session, *(*searched)->plan);
        check(shaped, *outcomeOf(shaped, analyses), open, grid, strength);
    }

    /// Kits and drummers drawn at random, six times as far off their lines as people play who need no help (up to
    /// 90 ms), sixteenth kicks among them, seams moved by random hands.
    void drummersDrawnAtRandom_data() {
        QTest::addColumn<unsigned>("seed");
        QTest::addColumn<double>("strength");
        QTest::addColumn<int>("fill");
        for (unsigned seed = 601; seed <= 608; ++seed)
            QTest::addRow("seed %u", seed)
                << seed << (seed % 2 ? 100.0 : 50.0) << static_cast<int>(seed % 3 ? Fill::borrow : Fill::stretch);
    }
    void drummersDrawnAtRandom() {
        QFETCH(unsigned, seed);
        QFETCH(double, strength);
        QFETCH(int, fill);
        const RandomKit kit = randomKit(seed, 6);
        const TempFolder folder;
        writeKit(kit, folder.path());
        addTracers(folder.path(), static_cast<std::int64_t>(kit.mics.front().size()), {kit.rate});
        use(folder.path());
        AnalysedKit heard = analyseKit(kit, folder.path());
        heard.session = *edited(heard.session, SetStrength{strength});
        heard.session = *edited(heard.session, SeamEdit{SetFill{static_cast<Fill>(fill)}});
        heard.outcome = outcomeOf(heard.session, heard.analyses);
        qInfo("%s: %zu hits", kit.what.c_str(), heard.outcome->hits.size());
        check(heard.session, *heard.outcome, false, {}, 0);
        searchSeamsOf(heard);
        check(heard.session, *heard.outcome, false, {}, 0);
        const Session shaped = shapedByRandomHands(heard.session, *heard.outcome->plan);
        check(shaped, *outcomeOf(shaped, heard.analyses), false, {}, 0);
    }

private:
    void use(const std::filesystem::path& folder) {
        source_ = folder;
        real_.clear();
        for (const auto& entry : std::filesystem::directory_iterator(folder))
            if (const auto stem = QString::fromStdString(entry.path().stem().string()); !stem.startsWith("tracer"))
                real_ << stem;
        length_ = static_cast<std::int64_t>(readAudio(folder / "tracer_up.wav").size());
    }
    /// Every second seam somewhere else, of another length, by another curve; also where it cannot lie.
    static Session shapedByRandomHands(Session session, const Plan& plan) {
        Dice dice(11);
        for (const Seam& seam : plan.seams)
            if (canBeShaped(seam) && dice.chance(0.5)) {
                const auto edit = shaped(session, {&seam, 1}, [&](const Seam&, SeamByHand& said) {
                    said.ahead = FrameCount{dice.upTo(12000) - 2000};
                    said.fade = Milliseconds{dice.between(1, 50)};
                    said.curve = static_cast<FadeCurve>(dice.upTo(3));
                });
                session = *edited(session, SeamEdit{edit});
            }
        return session;
    }
    void check(const Session& session, const Outcome& outcome, bool open, const QString& grid, double strength) {
        QVERIFY(!outcome.hits.empty());
        const auto out = folder_ / "out";
        QVERIFY(print(session, outcome.plan, {out, SampleFormat::wav32f}, {}).has_value());
        const Trace trace = readTrace(out);
        QCOMPARE(static_cast<std::int64_t>(trace.source.size()), length_);
        checkMics(out, trace, *outcome.plan);
        checkHoles(trace, *outcome.plan, open);
        checkAttacks(session, trace, outcome);
        if (strength == 100)
            checkLandings(outcome, grid);
    }
    /// Outside fades every mic is bit for bit the source at the tracer's position.
    void checkMics(const std::filesystem::path& out, const Trace& trace, const Plan& plan) {
        const auto inSeam = insideSeams(plan);
        for (const QString& stem : real_) {
            const auto source = readAudio(source_ / (stem.toStdString() + ".wav"));
            const auto printed = readAudio(out / (stem.toStdString() + ".wav"));
            QCOMPARE(printed.size(), source.size());
            for (std::size_t i = 0; i < printed.size(); ++i)
                if (!inSeam[i] && trace.source[i] &&
                    std::memcmp(&printed[i], &source[static_cast<std::size_t>(*trace.source[i])], sizeof(float)) !=
                        0)
                    QFAIL(qPrintable(QStringLiteral("%1 differs at %2").arg(stem).arg(i)));
        }
    }
    void checkHoles(const Trace& trace, const Plan& plan, bool open) {
        const auto inSeam = insideSeams(plan);
        std::size_t holes = 0;
        for (std::size_t i = 0; i < trace.source.size(); ++i)
            holes += !inSeam[i] && !trace.source[i];
        QVERIFY2(open ? holes > 0 : holes == 0, qPrintable(QString::number(holes)));
    }
    /// From 1 ms before to 15 ms after each attack the result runs through the source without a break, and no frame
    /// of it sounds a second time, in a fade neither.
    void checkAttacks(const Session& session, const Trace& trace, const Outcome& outcome) {
        const std::int64_t keptBeforeFrames = toFrames(keptBefore, session.rate).frames,
                           keptAfterFrames = toFrames(keptAfter, session.rate).frames;
        std::map<std::int64_t, int> sounded; // source frame of an attack's stretch -> how often
        const auto& hits = outcome.hits;
        for (std::size_t i = 0; i < hits.size(); ++i)
            for (std::int64_t k = -std::min(keptBeforeFrames, hits[i].anchor.frame); k < keptAfterFrames; ++k) {
                const auto at = static_cast<std::size_t>(outcome.landings[i].at.frame + k);
                QVERIFY2(at < trace.source.size() && trace.source[at],
                         qPrintable(QStringLiteral("hit %1 at %2%3%4")
                                        .arg(i)
                                        .arg(outcome.landings[i].at.frame)
                                        .arg(k < 0 ? "" : "+")
                                        .arg(k)));
                QCOMPARE(*trace.source[at], hits[i].anchor.frame + k);
                sounded[hits[i].anchor.frame + k] = 0;
            }
        for (const Segment& segment : outcome.plan->segments) {
            const auto begin = sounded.lower_bound(segment.sourceAt(segment.sounds.begin).frame);
            const auto end = sounded.lower_bound(segment.sourceAt(segment.sounds.end).frame);
            for (auto it = begin; it != end; ++it)
                ++it->second;
        }
        for (const auto& [frame, times] : sounded)
            if (times != 1)
                QFAIL(qPrintable(QStringLiteral("source frame %1 sounds %2 times").arg(frame).arg(times)));
    }
    /// At full strength each landing is on a line: a whole number of steps of its bar, by arithmetic.
    void checkLandings(const Outcome& outcome, const QString& grid) {
        const double step = noteValueNamed(grid.toStdString())->ofWhole() * 240.0 / 104.0 * 48000;
        std::size_t onLine = 0;
        for (const Landing& landing : outcome.landings) {
            if (landing.state != LandingState::landed && landing.state != LandingState::doubtful)
                continue;
            const auto line = std::llround(std::round(static_cast<double>(landing.at.frame) / step) * step);
            QVERIFY2(std::abs(landing.at.frame - line) == 0, qPrintable(QString::number(landing.at.frame - line)));
            ++onLine;
        }
        QVERIFY(onLine > outcome.landings.size() / 4);
    }
};

QTEST_APPLESS_MAIN(TestTracer)
#include "tst_tracer.moc"
