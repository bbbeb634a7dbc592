#include <algorithm>
#include <array>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <cursimeter/tryout/over_network.hpp>
#include <cursimeter/tryout/tryout.hpp>

namespace cursimeter::tryout {
namespace {

/// s of virtual time between two looks at links and clocks: well below a tick.
constexpr double turn = 0.001;
constexpr double longest_run = 0.25;
constexpr std::size_t ends = 2;  ///< the owner, and who looks on

link::ServerConfig server_config(double rate) {
    link::ServerConfig config;
    config.tick_rate = rate;
    config.snapshot_every =
        static_cast<std::uint32_t>(std::max(1.0, std::min(rate / 20.0 + 0.5, rate * 0.1)));
    config.seats = config.runners = ends;
    config.secret = 0x5ee4;  // nobody else can reach it
    return config;
}

link::ClientConfig client_config(double rate, std::uint64_t identity) {
    link::ClientConfig config;
    config.tick_rate = rate;
    config.identity = identity;
    config.attempt = 1;
    config.runners = ends;
    return config;
}

}  // namespace

struct OverNetwork::Work {
    Chart chart;
    Placement start;
    Runner like;
    double tick;
    link::Server server;
    std::array<link::Client, ends> clients;
    std::array<rehearsal::SimulatedLink, ends> up, down;
    std::unique_ptr<link::Advancer> world;
    std::optional<link::RunnerKey> key;
    std::optional<link::SeatId> seat;
    double now = -1.0, told = 0.0;

    Work(const Chart& chart_, const std::optional<Course>& course, double rate, const Placement& start_,
         const Runner& like_)
        : chart(chart_),
          start(start_),
          like(like_),
          tick(1.0 / rate),
          server({chart_}, server_config(rate)),
          clients{link::Client({chart_}, client_config(rate, 1)),
                  link::Client({chart_}, client_config(rate, 2))},
          up{rehearsal::SimulatedLink({}, 1), rehearsal::SimulatedLink({}, 2)},
          down{rehearsal::SimulatedLink({}, 3), rehearsal::SimulatedLink({}, 4)} {
        if (course) {
            world = std::make_unique<rehearsal::OnCourse>(*course, chart, rate);
        } else {
            world = std::make_unique<link::OpenGround>();
        }
    }

    void turn_server() {
        server.tell_time(Seconds{now});
        for (std::size_t i = 0; i < ends; ++i) {
            while (up[i].next_arrival().value_or(now + 1.0) <= now) {
                server.receive({i + 1}, up[i].take());
            }
        }
        while (const std::optional<link::ServerEvent> event = server.next_event()) {
            if (event->kind == link::ServerEventKind::joined && event->identity == 1) {
                seat = event->seat;
                key = server.spawn(0, start, event->seat);
                if (key) {
                    take_press_modes(chart, server.runner(*key), like);
                }
            }
        }
        while (server.due()) {
            server.tick(*world);
        }
        while (const std::optional<link::OutgoingPacket> packet = server.next_packet()) {
            down[packet->peer.value - 1].send(now, packet->bytes);
        }
    }

    void turn_client(std::size_t index, const Hands& hands) {
        link::Client& client = clients[index];
        client.tell_time(Seconds{now});
        while (down[index].next_arrival().value_or(now + 1.0) <= now) {
            client.receive(down[index].take(), *world);
        }
        while (client.due()) {
            client.tick(index == 0 ? hands(Seconds{tick}) : Intent{}, *world);
        }
        while (const auto bytes = client.next_packet()) {
            up[index].send(now, *bytes);
        }
        while (client.next_event()) {  // pictures do not need them
        }
    }
};

OverNetwork::OverNetwork(const Chart& chart, const std::optional<Course>& course, double rate,
                         const Placement& start, const Runner& like)
    : work_(std::make_unique<Work>(chart, course, rate, start, like)) {}
OverNetwork::~OverNetwork() = default;

void OverNetwork::set_faults(const rehearsal::LinkFaults& faults) {
    for (std::size_t i = 0; i < ends; ++i) {
        work_->up[i].set_faults(faults);
        work_->down[i].set_faults(faults);
    }
}

void OverNetwork::run_until(double seconds, const Hands& hands) {
    Work& work = *work_;
    if (work.now < 0.0) {
        work.now = 0.0;
    } else {
        const double end = work.now + std::clamp(seconds - work.told, 0.0, longest_run);
        while (work.now < end) {
            work.now = std::min(work.now + turn, end);
            work.turn_server();
            for (std::size_t i = 0; i < ends; ++i) {
                work.turn_client(i, hands);
            }
        }
    }
    work.told = seconds;
}

bool OverNetwork::playing() const {
    return work_->key && work_->server.exists(*work_->key) && work_->clients[0].own_key().has_value();
}
const Runner& OverNetwork::own() const {
    return work_->clients[0].own();
}
glm::dvec3 OverNetwork::own_place() const {
    return work_->clients[0].own_shown();
}
const Runner& OverNetwork::truth() const {
    return static_cast<const link::Server&>(work_->server).runner(*work_->key);
}
std::optional<link::Shown> OverNetwork::seen() const {
    return work_->key ? work_->clients[1].shown(*work_->key) : std::nullopt;
}
const link::Client& OverNetwork::client() const {
    return work_->clients[0];
}
link::SeatReading OverNetwork::seat() const {
    return work_->seat ? work_->server.read_seat(*work_->seat) : link::SeatReading{};
}

OverNetwork::Traffic OverNetwork::traffic() const {
    const auto ticks = std::min<std::size_t>(static_cast<std::size_t>(1.0 / work_->tick + 0.5), 256);
    double up = 0.0, down = 0.0;
    std::size_t count = 0;
    for (std::size_t i = 0; i < ticks; ++i) {
        if (const std::optional<link::NetSample> sample = work_->clients[0].sample(i)) {
            up += sample->bytes_out;
            down += sample->bytes_in;
            ++count;
        }
    }
    const double seconds = static_cast<double>(count) * work_->tick;
    return count > 0 ? Traffic{up / seconds, down / seconds} : Traffic{};
}

}  // namespace cursimeter::tryout
