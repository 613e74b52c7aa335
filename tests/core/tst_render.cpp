#include "render/renderer.h"
#include "seams/curve.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

std::vector<float> noise(std::size_t count, unsigned seed) {
    std::mt19937 random(seed);
    std::vector<float> samples(count);
    for (float& sample : samples)
        sample = static_cast<float>(std::normal_distribution<>(0, 0.1)(random));
    return samples;
}

struct Rig {
    TempFolder folder;
    Session session;
    std::vector<std::vector<float>> mics;

    explicit Rig(std::size_t count = 3, std::size_t frames = 60000) {
        session.takes = {{'A', folder.path(), {}, {}, FrameCount{static_cast<std::int64_t>(frames)}}};
        for (std::size_t m = 0; m < count; ++m) {
            const std::string stem = "m" + std::to_string(m);
            mics.push_back(noise(frames, static_cast<unsigned>(m + 1)));
            writeAudio(folder / (stem + ".wav"), mics.back(), SampleFormat::wav32f);
            session.mics.push_back({.stem = stem});
            session.takes[0].files.emplace_back(folder / (stem + ".wav"));
        }
    }
    std::vector<std::vector<float>> render(const Plan& plan, std::size_t blockSize) const {
        Renderer renderer(std::make_shared<const Plan>(plan), std::make_shared<KitReader>(session));
        std::vector<std::vector<float>> out(mics.size(),
                                            std::vector<float>(static_cast<std::size_t>(plan.length.frames)));
        for (std::size_t at = 0; at < out[0].size(); at += blockSize) {
            const std::size_t frames = std::min(blockSize, out[0].size() - at);
            std::vector<std::span<float>> spans;
            for (auto& samples : out)
                spans.push_back(std::span(samples).subspan(at, frames));
            if (!renderer.render(ResultFrame{static_cast<std::int64_t>(at)}, frames, spans))
                return {};
        }
        return out;
    }
};

Plan twoPieces(std::int64_t shift, std::int64_t fade) {
    return {
        FrameCount{60000},
        {{0, SourceToResult{FrameCount{0}}, {ResultFrame{0}, ResultFrame{30000 + fade}}, {}, FrameCount{fade}},
         {0, SourceToResult{FrameCount{shift}}, {ResultFrame{30000}, ResultFrame{60000}}, FrameCount{fade}, {}}},
        {{{ResultFrame{30000}, ResultFrame{30000 + fade}}, SeamKind::crossfade}}};
}

} // namespace

class TestRender : public QObject {
    Q_OBJECT
private slots:
    void asPlayedIsTheSource() {
        const Rig rig;
        QVERIFY(rig.render(asPlayedPlan({}, {}, FrameCount{60000}), 4096) == rig.mics);
    }
    void blockSizesDoNotMatter() {
        const Rig rig;
        const Plan plan = twoPieces(-700, 480);
        const auto whole = rig.render(plan, 60000);
        for (const std::size_t size : {1000U, 257U, 64U, 20000U})
            QVERIFY(rig.render(plan, size) == whole);
    }
    void outsideFadesItIsTheSourceShifted() {
        const Rig rig;
        const auto out = rig.render(twoPieces(-700, 480), 5000);
        for (std::size_t m = 0; m < rig.mics.size(); ++m) {
            QVERIFY(std::equal(out[m].begin(), out[m].begin() + 30000, rig.mics[m].begin()));
            QVERIFY(std::equal(out[m].begin() + 30480, out[m].begin() + 59300, rig.mics[m].begin() + 31180));
            QVERIFY(std::all_of(out[m].begin() + 59300, out[m].end(), [](float x) { return x == 0; }));
        }
    }
    void fadesKeepThePower_data() {
        QTest::addColumn<std::int64_t>("shift");
        QTest::newRow("unlike sides") << std::int64_t{-9000};
        QTest::newRow("the same side") << std::int64_t{0};
    }
    void fadesKeepThePower() {
        // White noise against itself shifted is uncorrelated; against itself unshifted it is the same. Either way
        // the power in the fade is that outside (within 0.5 dB, over a long fade and 8 mics).
        QFETCH(std::int64_t, shift);
        const Rig rig(8);
        const auto out = rig.render(twoPieces(shift, 9600), 8192);
        double inside = 0, outside = 0;
        for (const auto& mic : out)
            for (std::size_t i = 0; i < 9600; ++i) {
                inside += static_cast<double>(mic[30000 + i]) * mic[30000 + i];
                outside += static_cast<double>(mic[10000 + i]) * mic[10000 + i];
            }
        QVERIFY2(qAbs(10 * std::log10(inside / outside)) < 0.5,
                 qPrintable(QString::number(10 * std::log10(inside / outside))));
        if (shift == 0)
            QVERIFY(std::abs(out[0][34800] - rig.mics[0][34800]) < 1e-4F); // a fade between equals is that sound
    }
    void allMicsFadeByTheSameCurve() {
        Rig rig(4);
        for (std::size_t m = 1; m < 4; ++m) { // the same sound at other levels
            rig.mics[m] = rig.mics[0];
            for (float& sample : rig.mics[m])
                sample *= 0.25F;
            writeAudio(rig.session.takes[0].files[m].file, rig.mics[m], SampleFormat::wav32f);
        }
        const auto out = rig.render(twoPieces(-333, 480), 4096);
        for (std::size_t i = 29900; i < 30600; ++i)
            QVERIFY(std::abs(out[1][i] - 0.25F * out[0][i]) < 1e-6F);
    }
    void aMissingMicIsSilence() {
        Rig rig;
        rig.session.takes[0].files.set(1, {});
        const auto out = rig.render(asPlayedPlan({}, {}, FrameCount{60000}), 4096);
        QVERIFY(std::all_of(out[1].begin(), out[1].end(), [](float x) { return x == 0; }));
        QVERIFY(out[2] == rig.mics[2]);
    }
    void aFileThatVanishedIsAnError() {
        Rig rig;
        std::filesystem::remove(rig.session.takes[0].files[1].file);
        QVERIFY(rig.render(asPlayedPlan({}, {}, FrameCount{60000}), 4096).empty());
    }
};

QTEST_APPLESS_MAIN(TestRender)
#include "tst_render.moc"
