// Plays a folder of recordings for some seconds, jumping about, and says what the ear missed:
//     lampo-play-once FOLDER SECONDS JUMPS
// One line: blocks missed in the first second, blocks missed later, the longest wait after a jump in ms.
#include "import/import_plan.h"
#include "player/player.h"
#include "player/simulated_device.h"
#include "support/dice.h"

#include <charconv>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <thread>

using namespace lampo;
using Clock = std::chrono::steady_clock;
using std::chrono::milliseconds;

namespace {

/// How long the place that was asked for last is not heard.
milliseconds waited(const Player& player) {
    const auto asked = Clock::now();
    while (player.waiting() && Clock::now() - asked < std::chrono::seconds(20))
        std::this_thread::sleep_for(milliseconds(1));
    return std::chrono::duration_cast<milliseconds>(Clock::now() - asked);
}

} // namespace

int main(int count, char** arguments) {
    if (count != 4)
        return 2;
    const auto plan = planImport({arguments[1]});
    const auto session = plan ? sessionOf(*plan) : tl::unexpected(plan.error());
    if (!session)
        return 1;
    auto programme = std::make_shared<Programme>();
    programme->session = *session;
    programme->plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, session->take().length));
    const double seconds = std::atof(arguments[2]);
    const int jumps = std::atoi(arguments[3]);

    test::Dice dice(5);
    Player player(std::make_unique<SimulatedDevice>());
    player.setProgramme(programme);
    player.play(ResultFrame{0});
    auto longest = waited(player);
    const auto begin = Clock::now();
    std::this_thread::sleep_until(begin + milliseconds(1000));
    const auto early = player.dropouts();
    for (int jump = 0; jump < jumps; ++jump) {
        player.play(ResultFrame{dice.upTo(static_cast<int>(session->take().length.frames * 2 / 3))});
        longest = std::max(longest, waited(player));
        std::this_thread::sleep_until(begin + milliseconds(1000) +
                                      milliseconds(std::llround(1000 * seconds * (jump + 1) / (jumps + 1))));
    }
    std::this_thread::sleep_until(begin + milliseconds(1000) + milliseconds(std::llround(1000 * seconds)));
    const auto late = player.dropouts() - early;
    std::printf("%lld %lld %lld\n", static_cast<long long>(early), static_cast<long long>(late),
                static_cast<long long>(longest.count()));
    return player.trouble().empty() && player.playing() ? 0 : 1;
}
