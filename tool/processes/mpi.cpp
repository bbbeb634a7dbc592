#include <fmt/format.h>
#include <mpi.h>

#include <algorithm>
#include <chrono>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <mutex>
#include <thread>

#include "processes/processes.hpp"
#include "processes/started_by.hpp"

/// Dealing work over MPI. A process asks (and hands over what it has done), the leader answers with a unit or with the end. Nobody waits for
/// a message that might never come but the workers for the leader: one that was killed asks no more, and its unit is dealt again.
namespace cursimeter::tool {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int ask_tag = 1;     // to the leader: number of the unit that was done, or none, and its result
constexpr int leave_tag = 3;   // to the leader: this process asks for nothing more
constexpr int answer_tag = 2;  // from the leader: number of a unit, and the unit; or none: it is over
constexpr std::uint64_t none = ~std::uint64_t{0};

/// After so long, or four times what the longest unit took, a unit counts as lost, and a process as gone, s.
constexpr double least_patience = 5.0;

/// Waiting in MPI_Recv would burn a core that others could work on.
void rest() {
    std::this_thread::sleep_for(std::chrono::microseconds(100));
}

double since(Clock::time_point begun) {
    return std::chrono::duration<double>(Clock::now() - begun).count();
}

struct Message {
    std::uint64_t number = none;
    std::string bytes;
};

void send(int rank, int tag, const Message& message) {
    std::string all(sizeof(message.number), '\0');
    std::memcpy(all.data(), &message.number, sizeof(message.number));
    all += message.bytes;
    MPI_Send(all.data(), static_cast<int>(all.size()), MPI_BYTE, rank, tag, MPI_COMM_WORLD);
}

/// A message that is there already.
Message receive(const MPI_Status& status) {
    int size = 0;
    MPI_Get_count(&status, MPI_BYTE, &size);
    std::string all(static_cast<std::size_t>(size), '\0');
    MPI_Recv(all.data(), size, MPI_BYTE, status.MPI_SOURCE, status.MPI_TAG, MPI_COMM_WORLD,
             MPI_STATUS_IGNORE);
    Message message;
    std::memcpy(&message.number, all.data(), std::min(sizeof(message.number), all.size()));
    message.bytes = all.substr(std::min(sizeof(message.number), all.size()));
    return message;
}

/// Which units are done, who has which, and since when. For several threads.
class Dealing {
  public:
    explicit Dealing(std::size_t units) : done_(units, false), dealt_(units) {}

    /// One that nobody has; otherwise one that somebody has had for too long.
    std::uint64_t next() {
        const std::lock_guard lock(mutex_);
        std::uint64_t unit = none;
        if (next_ < done_.size()) {
            unit = next_++;
        } else {
            for (std::size_t i = 0; i < done_.size() && unit == none; ++i) {
                unit = !done_[i] && since(dealt_[i]) > patience() ? i : none;
            }
        }
        if (unit != none) {
            dealt_[unit] = Clock::now();
        }
        return unit;
    }
    /// Whether the result is news.
    bool finish(std::uint64_t unit) {
        const std::lock_guard lock(mutex_);
        if (unit >= done_.size() || done_[unit]) {
            return false;
        }
        longest_ = std::max(longest_, since(dealt_[unit]));
        done_[unit] = true;
        ++finished_;
        return true;
    }
    bool all_done() {
        const std::lock_guard lock(mutex_);
        return finished_ == done_.size();
    }
    double longest() {
        const std::lock_guard lock(mutex_);
        return longest_;
    }

  private:
    [[nodiscard]] double patience() const { return std::max(least_patience, 4.0 * longest_); }

    std::mutex mutex_;
    std::vector<bool> done_;
    std::vector<Clock::time_point> dealt_;
    std::size_t next_ = 0, finished_ = 0;
    double longest_ = 0.0;
};

}  // namespace

/// The others, as the leader knows them; of another process, whether it was sent home.
struct Processes::Group {
    enum class Doing : std::uint8_t { unheard, waiting, working, home };
    std::vector<Doing> doing;
    std::vector<Clock::time_point> dealt;  ///< of each that works: when it got its unit
    double longest = 0.0;                  ///< s; of a unit
    bool sent_home = false;

    explicit Group(std::size_t count) : doing(count, Doing::unheard), dealt(count) { doing[0] = Doing::home; }

    /// Receives a question, if there is one: the result that came with it, and who waits now.
    bool hear(Message& message) {
        MPI_Status status;
        int asked = 0;
        MPI_Iprobe(MPI_ANY_SOURCE, leave_tag, MPI_COMM_WORLD, &asked, &status);
        if (asked != 0) {
            static_cast<void>(receive(status));
            doing[static_cast<std::size_t>(status.MPI_SOURCE)] = Doing::home;
        }
        MPI_Iprobe(MPI_ANY_SOURCE, ask_tag, MPI_COMM_WORLD, &asked, &status);
        if (asked == 0) {
            return false;
        }
        message = receive(status);
        doing[static_cast<std::size_t>(status.MPI_SOURCE)] = Doing::waiting;
        return true;
    }
    void send_home() {
        for (std::size_t rank = 1; rank < doing.size(); ++rank) {
            if (doing[rank] == Doing::waiting) {
                send(static_cast<int>(rank), answer_tag, {});
                doing[rank] = Doing::home;
            }
        }
    }
    /// Whether somebody may still come home. Who works has had its unit for a while already: that counts. Who was never heard has as long
    /// from now on to begin.
    [[nodiscard]] bool worth_waiting(Clock::time_point ended) const {
        const double patience = std::max(least_patience, 4.0 * longest);
        for (std::size_t rank = 1; rank < doing.size(); ++rank) {
            const double waited = since(doing[rank] == Doing::working ? dealt[rank] : ended);
            if (doing[rank] != Doing::home && waited < patience) {
                return true;
            }
        }
        return false;
    }
};

bool Processes::built_in() {
    return true;
}

Processes::Processes() {
    join_call(this);
    if (!started_by_mpirun()) {
        return;  // alone MPI is not even begun, which would take a second
    }
    // Open MPI's end otherwise meets in a barrier, and one that was killed before can leave the others in it for ever. Nobody needs it:
    // whoever ends has been heard by the leader, or was sent home by it. A setting of the user's own stays.
    ::setenv("OMPI_MCA_async_mpi_finalize", "1", 0);
    int level = 0, size = 1, rank = 0;
    MPI_Init_thread(nullptr, nullptr, MPI_THREAD_FUNNELED, &level);
    MPI_Comm_set_errhandler(MPI_COMM_WORLD, MPI_ERRORS_RETURN);
    MPI_Comm_size(MPI_COMM_WORLD, &size);
    MPI_Comm_rank(MPI_COMM_WORLD, &rank);
    count_ = static_cast<std::size_t>(size);
    rank_ = static_cast<std::size_t>(rank);
    group_ = std::make_unique<Group>(count_);
}

Processes::~Processes() {
    join_call(nullptr);
    int begun = 0;
    MPI_Initialized(&begun);
    if (begun == 0) {
        return;
    }
    if (!leads() && !group_->sent_home) {
        send(0, leave_tag, {});
    }
    if (leads()) {
        const Clock::time_point ended = Clock::now();
        for (Message ignored; group_->worth_waiting(ended);) {
            if (!group_->hear(ignored)) {
                rest();
            }
            group_->send_home();
        }
        for (std::size_t rank = 1; rank < count_; ++rank) {
            if (group_->doing[rank] != Group::Doing::home) {
                send(static_cast<int>(rank), answer_tag,
                     {});  // if it is only slow, it finds this when it asks
                fmt::print(stderr, "caution: process {} was lost; the others did its work\n", rank);
            }
        }
    }
    MPI_Finalize();
}

void Processes::deal(const std::vector<std::string>& units, const Work& work, const Take& take) {
    Dealing dealing(units.size());
    std::mutex own_mutex;
    std::vector<std::pair<std::uint64_t, std::string>> own;  // done here, and not handed over yet
    std::thread here([&] {
        while (!dealing.all_done()) {
            const std::uint64_t unit = dealing.next();
            if (unit == none) {
                rest();
                continue;
            }
            std::string result = work(units[unit]);
            const std::lock_guard lock(own_mutex);
            if (dealing.finish(unit)) {
                own.emplace_back(unit, std::move(result));
            }
        }
    });
    const auto hand_over = [&] {
        std::vector<std::pair<std::uint64_t, std::string>> results;
        {
            const std::lock_guard lock(own_mutex);
            results.swap(own);
        }
        for (const auto& [unit, result] : results) {
            take(unit, result);
        }
    };
    const auto answer = [&] {
        for (std::size_t rank = 1; group_ != nullptr && rank < count_; ++rank) {
            if (group_->doing[rank] != Group::Doing::waiting) {
                continue;
            }
            const std::uint64_t unit = dealing.next();
            if (unit == none) {
                return;
            }
            send(static_cast<int>(rank), answer_tag, {unit, units[unit]});
            group_->doing[rank] = Group::Doing::working;
            group_->dealt[rank] = Clock::now();
        }
    };
    while (!dealing.all_done()) {
        Message message;
        const bool heard = group_ != nullptr && group_->hear(message);
        if (heard && message.number != none && dealing.finish(message.number)) {
            take(message.number, message.bytes);
        }
        answer();
        hand_over();
        if (!heard) {
            rest();
        }
    }
    here.join();
    hand_over();
    if (group_ != nullptr) {
        group_->longest = std::max(group_->longest, dealing.longest());
    }
}

void Processes::serve(const Work& work) {
    for (Message done;;) {
        send(0, ask_tag, done);
        MPI_Status status;
        for (int answered = 0; answered == 0;) {
            MPI_Iprobe(0, answer_tag, MPI_COMM_WORLD, &answered, &status);
            if (answered == 0) {
                rest();
            }
        }
        Message unit = receive(status);
        if (unit.number == none) {
            group_->sent_home = true;
            return;
        }
        done = {unit.number, work(unit.bytes)};
    }
}

}  // namespace cursimeter::tool
