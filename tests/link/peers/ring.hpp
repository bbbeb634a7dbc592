#pragma once

#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/link/peer_game.hpp>
#include <cursimeter/rehearsal/human_hands.hpp>
#include <map>
#include <memory>
#include <vector>

#include "link/scene.hpp"

/// A game of peers in virtual time, as its tests need it.
namespace support {

using link::PeerGame;
using link::PeerGameConfig;
using link::Tick;

struct Faults {
    double delay = 0.03, jitter = 0.0, loss = 0.0, reorder = 0.0, duplicate = 0.0;
    [[nodiscard]] rehearsal::LinkFaults of() const {
        rehearsal::LinkFaults faults;
        faults.delay = Seconds{delay};
        faults.jitter = Seconds{jitter};
        faults.loss = loss;
        faults.reorder = reorder;
        faults.duplicate = duplicate;
        return faults;
    }
};

/// Runners that cannot pass through one another, so that what one wants matters to all.
struct Narrow : link::Advancer {
    [[nodiscard]] bool wants_others() const noexcept override { return true; }
    Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                          const link::AdvanceContext& context) noexcept override {
        for (const link::Neighbour& other : context.others) {
            const glm::dvec3 off = runner.position() - other.position;
            if (off.x * off.x + off.y * off.y < 0.5) {
                push(runner, {.direction = {off.x + 0.01, off.y, 0.0}, .strength = 2.0, .seconds = 0.1});
            }
        }
        if (broken_at != 0 && context.tick.value == broken_at) {
            push(runner, {.direction = {1.0, 0.0, 0.0}, .strength = 0.5, .seconds = 0.1});
        }
        return advance(chart, runner, intent, context.dt);
    }
    std::uint32_t broken_at = 0;
};

/// Ends of a game, each with a clock and a loop of its own, in virtual time.
struct Ring {
    struct End {
        std::unique_ptr<PeerGame> game;
        Narrow world;
        std::unique_ptr<rehearsal::HumanHands> hands;
        std::vector<rehearsal::SimulatedLink> to;  ///< by player
        double wakes_at = 0.0, frame = 1.0 / 144.0, stands_until = 0.0, drift = 0.0;
        std::vector<std::vector<std::byte>> inbox;
        std::vector<link::PeerEvent> events;
        std::vector<link::RemoteEvent> shown;
        std::map<std::uint32_t, std::uint64_t> confirmed;  ///< digests of ticks that cannot change any more
        bool runs = true;
    };
    Ring(std::size_t players, const Faults& faults, double rate = 60.0, std::uint64_t seed = 1)
        : rate_(rate) {
        PeerGameConfig config;
        config.tick_rate = rate;
        config.session = 99;
        for (std::size_t i = 0; i < players; ++i) {
            config.players.push_back(
                {0, {{1.5 * static_cast<double>(i), 0.0, 0.0}, 0.3 * static_cast<double>(i)}});
        }
        for (std::size_t i = 0; i < players; ++i) {
            config.own = i;
            End end;
            end.game = std::make_unique<PeerGame>(std::vector{bearer_chart()}, config);
            end.hands = std::make_unique<rehearsal::HumanHands>(bearer_chart(), seed * 100 + i);
            for (std::size_t k = 0; k < players; ++k) {
                end.to.emplace_back(faults.of(), seed * 1000 + i * 10 + k);
            }
            end.wakes_at = 0.004 * static_cast<double>(i);
            ends.push_back(std::move(end));
        }
    }
    void run(double seconds) {
        const double until = time + seconds;
        while (true) {
            double next = until;
            for (const End& from : ends) {
                next = std::min(next, from.runs ? from.wakes_at : until);
                for (const auto& link : from.to) {
                    next = std::min(next, link.next_arrival().value_or(until));
                }
            }
            time = next;
            if (time >= until) {
                return;
            }
            for (std::size_t i = 0; i < ends.size(); ++i) {
                for (std::size_t k = 0; k < ends.size(); ++k) {
                    while (ends[i].to[k].next_arrival().value_or(1e18) <= time) {
                        ends[k].inbox.push_back(ends[i].to[k].take());
                    }
                }
            }
            for (std::size_t i = 0; i < ends.size(); ++i) {
                End& end = ends[i];
                if (end.runs && end.wakes_at <= time) {
                    end.wakes_at = std::max(end.wakes_at + end.frame, end.stands_until);
                    turn(end);
                }
            }
        }
    }
    void turn(End& end) {
        PeerGame& game = *end.game;
        game.tell_time(Seconds{50.0 + time * (1.0 + end.drift)});
        for (const auto& bytes : end.inbox) {
            game.receive(bytes, end.world);
        }
        end.inbox.clear();
        while (game.due()) {
            game.tick(hushed ? Intent{} : end.hands->next(Seconds{1.0 / rate_}), end.world);
        }
        while (const auto packet = game.next_packet()) {
            end.to[packet->player].send(time, packet->bytes);
        }
        while (const auto event = game.next_peer_event()) {
            end.events.push_back(*event);
        }
        while (const auto event = game.next_event()) {
            end.shown.push_back(*event);
        }
        for (std::uint32_t tick = end.confirmed.empty() ? 1 : end.confirmed.rbegin()->first + 1;
             tick <= game.confirmed().value; ++tick) {
            end.confirmed[tick] = game.digest_at(Tick{tick}).value_or(0);
        }
    }
    void check_same() const {
        for (const End& end : ends) {
            for (const auto& [tick, digest] : end.confirmed) {
                const auto there = ends.front().confirmed.find(tick);
                if (there != ends.front().confirmed.end()) {
                    REQUIRE(there->second == digest);
                }
            }
        }
    }
    std::vector<End> ends;
    double time = 0.0;
    bool hushed = false;

  private:
    double rate_;
};

}  // namespace support
