#include "advice/lead_in_advice.h"
#include "deliver/print.h"
#include "edits/edit.h"
#include "pipeline/searched_seams.h"
#include "render/renderer.h"
#include "session/seams_by_place.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/ears.h"
#include "support/laid.h"
#include "support/plain_song.h"
#include "support/seam_question.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <cstring>
#include <numbers>
#include <numeric>

using namespace lampo;
using namespace lampo::test;

namespace {

/// Two hits of one mic, the second moved by so much, and what a fill makes of it.
Plan twoHits(Session session, std::int64_t apart, std::int64_t opened, Fill fill,
             const std::vector<SourceFrame>& strokes = {}) {
    session.seams.fill = fill;
    const auto laid = std::make_shared<LaidTake>();
    laid->hits = {hitAt(24000), hitAt(24000 + apart)};
    laid->landings.resize(2);
    laid->landings[0].played = laid->landings[0].meant = SongFrame{24000};
    laid->landings[0].at = ResultFrame{24000};
    laid->landings[1].played = laid->landings[1].meant = SongFrame{24000 + apart};
    laid->landings[1].at = ResultFrame{24000 + apart + opened};
    return planSlices(session, chooseHits(session, [&](const Piece&) { return laid; }),
                      std::vector{TakeSound{7, strokes}});
}

std::vector<Segment> stretchedOf(const Plan& plan) {
    std::vector<Segment> all;
    std::copy_if(plan.segments.begin(), plan.segments.end(), std::back_inserter(all),
                 [](const Segment& segment) { return segment.stretch.has_value(); });
    return all;
}

std::vector<float> rendered(const Session& session, const Plan& plan, std::size_t block) {
    Renderer renderer(std::make_shared<const Plan>(plan), std::make_shared<KitReader>(session));
    std::vector<float> all(static_cast<std::size_t>(plan.length.frames));
    for (std::size_t at = 0; at < all.size(); at += block) {
        const std::size_t count = std::min(block, all.size() - at);
        const std::array<std::span<float>, 1> out{std::span(all).subspan(at, count)};
        if (!renderer.render(ResultFrame{static_cast<std::int64_t>(at)}, count, out))
            return {};
    }
    return all;
}

/// A kit of one mic with this sound.
struct OneMic {
    TempFolder folder;
    Session session;
    explicit OneMic(const std::vector<float>& sound)
        : session(songOf(FrameCount{static_cast<std::int64_t>(sound.size())})) {
        writeAudio(folder / "kick.wav", sound, SampleFormat::wav32f);
        session.takes[0].files.set(0, folder / "kick.wav");
    }
};

/// How much later than by `lag` a mic is than another, to a part of a frame, and what is left of their difference
/// at that lag, dB. Both are seen through one window, so that of an exact copy the correlation is symmetric and its
/// highest place is exactly 0; a parabola finds it.
std::pair<double, double> lagAndResidual(std::span<const float> a, std::span<const float> b, std::size_t lag) {
    const std::size_t count = a.size() - lag;
    std::vector<double> one, other;
    double difference = 0, power = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const double window =
            0.5 - 0.5 * std::cos(2 * std::numbers::pi * static_cast<double>(i) / static_cast<double>(count));
        one.push_back(window * a[i]);
        other.push_back(window * b[i + lag]);
        difference += std::pow(one.back() - other.back(), 2);
        power += std::pow(one.back(), 2);
    }
    constexpr int farthest = 40;
    const auto product = [&](int later) {
        double sum = 0;
        for (std::size_t i = farthest; i + farthest < count; ++i)
            sum += one[i] * other[static_cast<std::size_t>(static_cast<int>(i) + later)];
        return sum;
    };
    int best = 0;
    double highest = product(0);
    for (int later = 1 - farthest; later < farthest; ++later)
        if (const double here = product(later); here > highest) {
            best = later;
            highest = here;
        }
    const double left = product(best - 1), right = product(best + 1);
    return {best + 0.5 * (left - right) / (left - 2 * highest + right), 10 * std::log10(difference / power)};
}

/// The first difference: a delay is told by what has many periods in a short tail, not by the flat top of a kick's.
std::vector<float> highsOf(const std::vector<float>& sound) {
    std::vector<float> highs(sound.size());
    std::adjacent_difference(sound.begin(), sound.end(), highs.begin());
    highs.front() = 0;
    return highs;
}

double powerOf(std::span<const float> sound) {
    double sum = 0;
    for (const float sample : sound)
        sum += static_cast<double>(sample) * sample;
    return sum / static_cast<double>(sound.size());
}

} // namespace

/// Holes that are filled by stretched tails.
class TestStretch : public QObject {
    Q_OBJECT
private slots:
    void aHoleIsFilledByTheTailBefore() {
        const Plan plan = twoHits(songOf(FrameCount{96000}), 24000, 960, Fill::stretch);
        const auto stretched = stretchedOf(plan);
        QCOMPARE(stretched.size(), std::size_t{1});
        const Stretch& stretch = *stretched.front().stretch;
        // Up to the lead-in of the next hit, ten times as long as the hole.
        QCOMPARE(stretch.tail, (Range<SourceFrame>{SourceFrame{48000 - 480 - 9600}, SourceFrame{48000 - 480}}));
        QCOMPARE(stretch.over, (Range<ResultFrame>{ResultFrame{48000 - 480 - 9600}, ResultFrame{48960 - 480}}));
        QCOMPARE(stretch.ratio(), 1.1);
        // In and out; the last one brings the end of the take back into its place.
        QCOMPARE(plan.seams.size(), std::size_t{3});
        for (const std::size_t seam : {0, 1}) {
            QVERIFY(plan.seams[seam].kind == SeamKind::stretched);
            QCOMPARE(plan.seams[seam].stretch, stretch.ratio());
            QCOMPARE(plan.seams[seam].between.has_value(), seam == 1);
        }
        QVERIFY(plan.open.front().stretch == stretch); // the search listens to what will sound
        // A slice that comes nearer needs none.
        const auto nearer = stretchedOf(twoHits(songOf(FrameCount{96000}), 24000, -960, Fill::stretch));
        QVERIFY(nearer.size() == 1 && nearer.front().sounds.begin > ResultFrame{48000}); // at the end of the take
        QVERIFY(stretchedOf(twoHits(songOf(FrameCount{96000}), 24000, 960, Fill::borrow)).empty());
    }
    /// Strokes between the two keep their sound, and move in proportion to what rings before them.
    void strokesInATailRideAlong() {
        const std::vector<SourceFrame> strokes{SourceFrame{24000}, SourceFrame{30000}, SourceFrame{30200},
                                               SourceFrame{38000}, SourceFrame{47900}, SourceFrame{48000}};
        const Plan plan = twoHits(songOf(FrameCount{96000}), 24000, 960, Fill::stretch, strokes);
        const auto stretched = stretchedOf(plan);
        QCOMPARE(stretched.size(), std::size_t{3}); // 30000 and 30200 are one, 47900 belongs to the hit
        for (const Segment& segment : stretched)
            QVERIFY(std::abs(segment.stretch->ratio() - stretched.front().stretch->ratio()) < 1e-3);
        for (const SourceFrame stroke : strokes)
            for (const Segment& segment : stretched)
                QVERIFY(segment.stretch->tail.intersected({stroke - FrameCount{480}, stroke + FrameCount{1440}})
                            .empty());
    }
    /// A tail is the last resort's alternative: where it is long enough nothing sounds twice; where it is not, it
    /// is said how much does.
    void aLongHoleIsStretchedBeforeItIsRepeated() {
        const Plan stretched = twoHits(songOf(FrameCount{96000}), 4800, 9600, Fill::borrow);
        QCOMPARE(stretchedOf(stretched).size(), std::size_t{1});
        const Plan repeated =
            twoHits(songOf(FrameCount{96000}), 2160, 3000, Fill::borrow); // 45 ms, of which 5 ring
        QVERIFY(stretchedOf(repeated).empty());
        FrameCount again;
        for (const Seam& seam : repeated.seams) {
            QVERIFY(seam.kind == SeamKind::repeated || &seam == &repeated.seams.back());
            again = again + seam.again;
        }
        QCOMPARE(again.frames, 3000);
        Session session = songOf(FrameCount{96000});
        const auto warned = [&](const Plan& plan, WarningKind kind) {
            const auto all = warningsOf(session, {{}, {}, {}, {}, plan, {}});
            return std::any_of(all.begin(), all.end(), [&](const Warning& one) { return one.kind == kind; });
        };
        QVERIFY(warned(stretched, WarningKind::stretchedTail) && warned(repeated, WarningKind::repeatedTail));
        session.seams.mostStretch = 8;
        QVERIFY(!warned(stretched, WarningKind::stretchedTail));
    }
    /// Of a hole of seconds two seconds are stretched at most, however much rings.
    void longHolesTakeNoMoreThanTheyNeed() {
        const Plan plan = twoHits(songOf(FrameCount{48000 * 60}), 48000 * 30, 48000 * 8, Fill::stretch);
        const auto stretched = stretchedOf(plan);
        QCOMPARE(stretched.front().stretch->tail.length().frames, 48000 * 2);
        QCOMPARE(stretched.front().stretch->over.length().frames, 48000 * 10);
    }
    /// Attacks and 30 ms behind them are the recording itself; the same sound in blocks of any length.
    void attacksStayBitForBit() {
        Dice dice(2);
        std::vector<float> sound;
        for (int i = 0; i < 96000; ++i)
            sound.push_back(static_cast<float>(dice.around(0, 0.2, 0.9) * std::exp(-(i % 24000) / 6000.0)));
        OneMic mic(sound);
        const Plan plan = twoHits(mic.session, 24000, 1900, Fill::stretch);
        const auto whole = rendered(mic.session, plan, sound.size());
        QCOMPARE(whole.size(), sound.size());
        QVERIFY(std::memcmp(&whole[0], &sound[0], (24000 + 1440) * sizeof(float)) == 0);
        QVERIFY(std::memcmp(&whole[48000 + 1900 - 480], &sound[48000 - 480], 20000 * sizeof(float)) == 0);
        for (const std::size_t block : {std::size_t{333}, std::size_t{4096}})
            QVERIFY(std::memcmp(rendered(mic.session, plan, block).data(), whole.data(),
                                whole.size() * sizeof(float)) == 0);
    }
    /// A tone keeps its pitch and loudness, and does not stop: its period is counted.
    void aToneKeepsItsPitch_data() {
        QTest::addColumn<double>("pitch");
        QTest::addColumn<int>("opened");
        QTest::newRow("a tom by 4 %") << 110.0 << 960;
        QTest::newRow("a tom by 40 %") << 110.0 << 9600;
        QTest::newRow("a bell by 10 %") << 1760.0 << 2400;
    }
    void aToneKeepsItsPitch() {
        QFETCH(double, pitch);
        QFETCH(int, opened);
        std::vector<float> sound;
        for (int i = 0; i < 96000; ++i)
            sound.push_back(static_cast<float>(0.5 * std::sin(2 * std::numbers::pi * pitch * i / 48000)));
        OneMic mic(sound);
        const Plan plan = twoHits(mic.session, 24000, opened, Fill::stretch);
        const auto out = rendered(mic.session, plan, 4096);
        const auto over = stretchedOf(plan).front().stretch->over;
        // Without the joints: 6 ms at both ends.
        const auto begin = static_cast<std::size_t>(over.begin.frame + 300),
                   end = static_cast<std::size_t>(over.end.frame - 300);
        double first = 0, last = 0;
        std::size_t crossings = 0;
        for (std::size_t i = begin; i < end; ++i)
            if (out[i - 1] < 0 && out[i] >= 0) {
                last = static_cast<double>(i) - out[i] / (out[i] - out[i - 1]);
                first = crossings++ == 0 ? last : first;
            }
        const double heard = 48000.0 * static_cast<double>(crossings - 1) / (last - first);
        QVERIFY2(std::abs(heard / pitch - 1) < 0.003, qPrintable(QString::number(heard)));
        const auto period = static_cast<std::size_t>(std::lround(48000 / pitch));
        double quietest = 0, loudest = 0;
        for (std::size_t at = begin; at + period < end; at += period / 2) {
            const double level = 10 * std::log10(powerOf(std::span(out).subspan(at, period)) / 0.125);
            quietest = std::min(quietest, level);
            loudest = std::max(loudest, level);
        }
        QVERIFY2(quietest > -0.5 && loudest < 0.5, qPrintable(QStringLiteral("%1 %2").arg(quietest).arg(loudest)));
    }
    /// A mic and its copy 37 frames later, in kits drawn at random: inside stretched tails they stay 37 ± 0.1
    /// frames apart. The residual of the two is what the stretcher makes different; both are printed.
    void micsStayTogether_data() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 301; seed <= 304; ++seed)
            QTest::addRow("seed %u", seed) << seed;
    }
    void micsStayTogether() {
        QFETCH(unsigned, seed);
        const RandomKit kit = randomKit(seed, 3);
        const auto overhead = std::find_if(kit.stems.begin(), kit.stems.end(),
                                           [](const std::string& stem) { return stem.starts_with("oh "); });
        QVERIFY(overhead != kit.stems.end());
        const TempFolder folder;
        writeKit(kit, folder.path());
        std::vector<float> late(37, 0.0F);
        const auto& sound = kit.mics[static_cast<std::size_t>(overhead - kit.stems.begin())];
        late.insert(late.end(), sound.begin(), sound.end() - 37);
        writeAudio(folder / "wall.wav", late, SampleFormat::wav24, {kit.rate});
        AnalysedKit heard = analyseKit(kit, folder.path());
        heard.session = *edited(heard.session, SeamEdit{SetFill{Fill::stretch}});
        heard.outcome = outcomeOf(heard.session, heard.analyses, heard.outcome.get());
        const auto tails = stretchedOf(*heard.outcome->plan);
        QVERIFY(tails.size() > 20);
        const auto mic = heard.session.micNamed(*overhead), copy = heard.session.micNamed("wall");
        QVERIFY(mic && copy);
        KitReader reader(heard.session);
        StretchedTails stretcher(reader);
        double worst = 0, worstFlat = 0, loudest = -200;
        std::size_t measured = 0;
        for (const Segment& segment : tails) {
            const Range<ResultFrame> over = segment.stretch->over;
            const auto count = static_cast<std::size_t>(over.length().frames);
            const auto a = stretcher.sound(segment, *mic, over.begin, count);
            const auto b = stretcher.sound(segment, *copy, over.begin, count);
            QVERIFY(a.has_value() && b.has_value());
            if (powerOf(*a) < 1e-7)
                continue; // under −70 dB: nothing to measure by
            const auto [lag, residual] = lagAndResidual(*a, *b, 37);
            worst = std::max(worst, std::abs(lagAndResidual(highsOf(*a), highsOf(*b), 37).first));
            worstFlat = std::max(worstFlat, std::abs(lag));
            loudest = std::max(loudest, residual);
            ++measured;
        }
        qInfo("%s: %zu stretched tails of %zu measured, worst lag %.3f frames off 37 (%.3f where lows rule), "
              "residual "
              "at most %.1f dB",
              kit.what.c_str(), measured, tails.size(), worst, worstFlat, loudest);
        QVERIFY(measured > 10);
        QVERIFY2(worst <= 0.1, qPrintable(QString::number(worst)));
    }
    void keysTellStretchesApart() {
        SeamQuestion question = aSeamQuestion();
        question.stretch = Stretch{{SourceFrame{2000}, SourceFrame{8088}}, {ResultFrame{2100}, ResultFrame{8288}}};
        const SeamKey key = keyOf(question, 1, 1);
        SeamQuestion other = question;
        other.stretch->tail.begin = SourceFrame{2001};
        QVERIFY(keyOf(other, 1, 1) != key);
        other.stretch.reset();
        QVERIFY(keyOf(other, 1, 1) != key);
        // The same anywhere.
        other = question;
        for (SourceToResult* shift : {&other.from, &other.to})
            *shift = *shift + FrameCount{50};
        for (Range<ResultFrame>* range : {&other.ruled, &other.free.front(), &other.stretch->over})
            *range = {range->begin + FrameCount{50}, range->end + FrameCount{50}};
        QCOMPARE(keyOf(other, 1, 1), key);
    }
    /// Lead-in and holes of one section; the bars around it follow the song.
    void aSectionHasItsOwn() {
        Session session = songOf();
        session.sections = {{"Squall", 3, 2, {}, {}}};
        session = *edited(session, SeamEdit{SetSectionLeadIn{0, Milliseconds{25}}});
        session = *edited(session, SeamEdit{SetSectionFill{0, Fill::open}});
        const SeamsByPlace rules(session);
        QCOMPARE(rules.at(SongFrame{2 * 96000 - 1}).leadIn.value, 10.0);
        QCOMPARE(rules.at(SongFrame{2 * 96000}).leadIn.value, 25.0);
        QVERIFY(rules.at(SongFrame{4 * 96000 - 1}).fill == Fill::open);
        QVERIFY(rules.at(SongFrame{4 * 96000}).fill == Fill::borrow);
        std::vector<Hit> hits;
        std::vector<Landing> landings;
        for (std::int64_t at = 24000; at < 6 * 96000; at += 24000) {
            const std::int64_t to = at + 480 * (at / 24000 % 2);
            hits.push_back(hitAt(at));
            landings.emplace_back().played = SongFrame{at};
            landings.back().meant = SongFrame{at};
            landings.back().at = ResultFrame{to};
        }
        const Plan plan = planOf(session, hits, landings);
        for (const Seam& seam : plan.seams) {
            const bool inside =
                seam.range.begin.frame >= 2 * 96000 - 4800 && seam.range.begin.frame < 4 * 96000 - 4800;
            if (seam.kind == SeamKind::opened || seam.kind == SeamKind::closed)
                QVERIFY2(inside, qPrintable(QString::number(seam.range.begin.frame)));
            if (seam.kind == SeamKind::crossfade)
                QCOMPARE(seam.ahead.frames, inside ? 1200 : 480);
        }
        QVERIFY(std::any_of(plan.seams.begin(), plan.seams.end(),
                            [](const Seam& seam) { return seam.kind == SeamKind::opened; }));
        QVERIFY(!edited(session, SeamEdit{SetSectionLeadIn{0, Milliseconds{51}}}));
        QVERIFY(!edited(session, SeamEdit{SetSectionFill{1, Fill::open}}));
        session = *edited(session, SeamEdit{SetSectionLeadIn{0, {}}});
        session = *edited(session, SeamEdit{SetSectionFill{0, {}}});
        QVERIFY(SeamsByPlace(session).at(SongFrame{2 * 96000}) == session.seams);
    }
    /// Hats 7 ms before every fourth hit, and 22 ms before another, whose hits are 25 ms wide.
    void theLeadInIsSuggested() {
        Session session = songOf();
        Outcome outcome;
        auto take = std::make_shared<AnalysedTake>();
        auto strokes = std::make_shared<TakeStrokes>();
        std::vector<SourceFrame> starts;
        for (int i = 0; i < 40; ++i) {
            const std::int64_t at = 24000 * (i + 1);
            SongHit hit{hitAt(at), {}, {}, 0};
            outcome.hits.push_back(hit);
            outcome.landings.emplace_back().at = ResultFrame{at};
            if (i % 4 == 0)
                starts.push_back(SourceFrame{at - 336});
            if (i == 9)
                starts.push_back(SourceFrame{at - 1440}); // 30 ms: not of the hit
            starts.push_back(SourceFrame{at});
        }
        const auto advice = [&] {
            strokes->starts = starts;
            take->strokes = strokes;
            outcome.takes = {take};
            return adviseLeadIn(session, outcome, {SongFrame{0}, SongFrame{24000 * 100}});
        };
        const LeadInAdvice told = advice();
        QCOMPARE(told.hits, 40);
        const std::vector<std::ptrdiff_t> cuts{10, 10, 0, 0}, lets{0, 0, 0, 0};
        for (std::size_t i = 0; i < 4; ++i) {
            QCOMPARE(told.figures[i].cutsOff, cuts[i]);
            QCOMPARE(told.figures[i].letsIn, lets[i]);
        }
        QCOMPARE(told.suggested.value, 10.0);
        // 24 ms before a hit lies what still rings of another: 10 ms and the 15 of its attack would let it in.
        for (int i = 0; i < 40; i += 2)
            starts.push_back(SourceFrame{24000 * (i + 1) - 1250});
        std::sort(starts.begin(), starts.end());
        QCOMPARE(advice().figures[3].letsIn, 20);
        QCOMPARE(advice().suggested.value, 10.0);
    }
};

QTEST_APPLESS_MAIN(TestStretch)
#include "tst_stretch.moc"
