// The audio callback takes no lock, allocates and frees nothing, and makes no system call. Counted here by standing
// in for the functions themselves, and by the kernel's dispatch of system calls to a handler (Linux 5.11,
// prctl(2)).
#include "player/player.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/hand_device.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <array>
#include <csignal>
#include <cstdlib>
#include <dlfcn.h>
#include <pthread.h>
#include <sys/prctl.h>
#include <unistd.h>

#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
#define LAMPO_OWN_ALLOCATOR 0 // the sanitizer's
#elif defined(__has_feature)  // clang's way of telling
#define LAMPO_OWN_ALLOCATOR (!__has_feature(address_sanitizer) && !__has_feature(thread_sanitizer))
#else
#define LAMPO_OWN_ALLOCATOR 1
#endif

using namespace lampo;
using namespace lampo::test;

namespace {

struct Counts {
    long allocations = 0;
    long locks = 0;
    long calls = 0; ///< of the system
    bool none() const { return allocations == 0 && locks == 0 && calls == 0; }
};

thread_local bool watching = false;
thread_local Counts counts;
volatile char callsAreBlocked = 0; ///< read by the kernel

void onSystemCall(int) {
    callsAreBlocked = 0; // the return from here is one as well
    ++counts.calls;
}

/// Lets the kernel hand this thread's system calls to the handler while callsAreBlocked; false where it cannot.
bool watchSystemCalls() {
    struct sigaction action {};
    action.sa_handler = onSystemCall;
    sigaction(SIGSYS, &action, nullptr);
    constexpr int setDispatch = 59, on = 1; // PR_SET_SYSCALL_USER_DISPATCH, not yet in all headers
    return prctl(setDispatch, on, 0, 0, &callsAreBlocked) == 0;
}

/// Counts what is done while it lives.
struct Watch {
    Watch() {
        counts = {};
        watching = true;
        callsAreBlocked = 1;
    }
    ~Watch() {
        callsAreBlocked = 0;
        watching = false;
    }
    Watch(const Watch&) = delete;
    Watch& operator=(const Watch&) = delete;
};

template <class Function>
Function next(const char* name) {
    return reinterpret_cast<Function>(dlsym(RTLD_NEXT, name));
}

} // namespace

extern "C" {
#if LAMPO_OWN_ALLOCATOR
void* __libc_malloc(size_t);
void* __libc_calloc(size_t, size_t);
void* __libc_realloc(void*, size_t);
void* __libc_memalign(size_t, size_t);
void __libc_free(void*);

void* malloc(size_t size) {
    counts.allocations += watching;
    return __libc_malloc(size);
}
void* calloc(size_t count, size_t size) {
    counts.allocations += watching;
    return __libc_calloc(count, size);
}
void* realloc(void* old, size_t size) {
    counts.allocations += watching;
    return __libc_realloc(old, size);
}
void* aligned_alloc(size_t alignment, size_t size) {
    counts.allocations += watching;
    return __libc_memalign(alignment, size);
}
void free(void* old) {
    counts.allocations += watching;
    __libc_free(old);
}
#endif
int pthread_mutex_lock(pthread_mutex_t* mutex) {
    static const auto real = next<int (*)(pthread_mutex_t*)>("pthread_mutex_lock");
    counts.locks += watching;
    return real(mutex);
}
int pthread_mutex_trylock(pthread_mutex_t* mutex) {
    static const auto real = next<int (*)(pthread_mutex_t*)>("pthread_mutex_trylock");
    counts.locks += watching;
    return real(mutex);
}
int pthread_rwlock_rdlock(pthread_rwlock_t* lock) {
    static const auto real = next<int (*)(pthread_rwlock_t*)>("pthread_rwlock_rdlock");
    counts.locks += watching;
    return real(lock);
}
int pthread_cond_signal(pthread_cond_t* condition) {
    static const auto real = next<int (*)(pthread_cond_t*)>("pthread_cond_signal");
    counts.locks += watching;
    return real(condition);
}
int pthread_cond_broadcast(pthread_cond_t* condition) {
    static const auto real = next<int (*)(pthread_cond_t*)>("pthread_cond_broadcast");
    counts.locks += watching;
    return real(condition);
}
}

class TestCallback : public QObject {
    Q_OBJECT
    bool seesCalls_ = false;

private slots:
    void initTestCase() {
        seesCalls_ = watchSystemCalls();
        if (!seesCalls_)
            qInfo("this kernel does not hand over system calls: only allocations and locks are counted");
    }
    /// Otherwise all that follows would pass whatever the callback did.
    void theWatchSeesWhatItIsThereFor() {
#if LAMPO_OWN_ALLOCATOR
        {
            const Watch watch;
            std::vector<int>(100).swap(*std::make_unique<std::vector<int>>(3));
        }
        QVERIFY(counts.allocations >= 4);
#endif
        std::mutex mutex;
        {
            const Watch watch;
            const std::scoped_lock lock(mutex);
        }
        QVERIFY(counts.locks >= 1);
        if (!seesCalls_)
            return;
        {
            const Watch watch;
            (void)::getppid();
        }
        QCOMPARE(counts.calls, 1L);
    }
    /// Plays, jumps, stops, loops, changes programmes and starves for a while, all drawn at random.
    void theCallbackDoesNoneOfIt() {
        constexpr int length = 48000 * 8;
        TempFolder folder;
        Session session;
        writeAudio(folder / "tone.wav", std::vector<float>(length, 0.25F), SampleFormat::wav32f);
        session.mics = {{.stem = "tone"}};
        session.takes = {{'A', folder.path(), {folder / "tone.wav"}, {}, FrameCount{length}}};
        const auto programme = [&](bool click) {
            auto made = std::make_shared<Programme>();
            made->session = session;
            made->plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, FrameCount{length}));
            made->click = click;
            return made;
        };
        Dice dice(11);
        auto owned = std::make_unique<HandDevice>();
        HandDevice& device = *owned;
        Player player(std::move(owned));
        player.setProgramme(programme(false));
        player.play(ResultFrame{0});
        QTRY_VERIFY(device.callback());
        const AudioCallback callback = device.callback();
        std::array<float, 2048> out{};
        int sounding = 0; // calls in which there was something to do
        for (int round = 0; sounding < 2000; ++round) {
            switch (round % 7 == 0 ? dice.upTo(5) : 9) {
            case 0:
                player.setProgramme(programme(dice.chance(0.5)));
                break;
            case 1:
            case 2:
                player.play(ResultFrame{dice.upTo(length)});
                break;
            case 3:
                player.stop();
                break;
            case 4:
                player.setLoop({ResultFrame{dice.upTo(9000)}, ResultFrame{9000 + dice.upTo(21000)}});
                break;
            case 5:
                player.setLoop({});
                break;
            default:
                std::this_thread::yield();
            }
            const auto frames = static_cast<std::size_t>(1 + dice.upTo(1023));
            {
                const Watch watch;
                callback(std::span(out).first(2 * frames));
            }
            sounding += out[0] != 0;
            QVERIFY2(counts.none(), qPrintable(QStringLiteral("round %1: %2 allocations, %3 locks, %4 system calls")
                                                   .arg(round)
                                                   .arg(counts.allocations)
                                                   .arg(counts.locks)
                                                   .arg(counts.calls)));
        }
    }
};

QTEST_APPLESS_MAIN(TestCallback)
#include "tst_callback.moc"
