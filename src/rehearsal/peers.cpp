#include <algorithm>
#include <cmath>
#include <cursimeter/rehearsal/human_hands.hpp>
#include <cursimeter/rehearsal/peers.hpp>
#include <map>

#include "rehearsal/rehearsal_work.hpp"

namespace cursimeter::rehearsal {
namespace {

using link::PeerGame;

struct End {
    std::unique_ptr<PeerGame> game;
    std::unique_ptr<link::Advancer> world;
    std::unique_ptr<HumanHands> hands;
    std::vector<SimulatedLink> to;  ///< by player
    double wakes_at = 0.0, stalls_at = 0.0;
    std::vector<std::vector<std::byte>> inbox;
    std::uint32_t noted = 0;                                 ///< ticks that are known for good and judged
    std::map<std::uint32_t, std::vector<glm::dvec3>> first;  ///< places of all, as a tick was played first
    std::vector<std::uint64_t> digests;                      ///< after each tick that is known for good
    std::vector<double> errors;
};

class PeerTable {
  public:
    PeerTable(const Scene& scene, const PeerPlan& plan) : plan_(plan), dt_(1.0 / plan.config.tick_rate) {
        link::PeerGameConfig config = plan.config;
        config.session = secret_of(plan.seed);
        require_fresh_start(scene.drills.front());
        const Runner placed = scene.drills.front().spawn(scene.chart);
        config.players.clear();
        for (std::size_t i = 0; i < plan.players; ++i) {
            Placement start{placed.position(), placed.yaw()};
            start.position.y += scene.course ? 0.0 : plan.start_apart * static_cast<double>(i);
            config.players.push_back({0, start});
        }
        Random random(plan.seed);
        for (std::size_t i = 0; i < plan.players; ++i) {
            config.own = i;
            End end;
            end.game = std::make_unique<PeerGame>(std::vector{scene.chart}, config);
            if (scene.course) {
                end.world = std::make_unique<OnCourse>(*scene.course, scene.chart, config.tick_rate);
            } else {
                end.world = std::make_unique<link::OpenGround>();
            }
            end.hands = std::make_unique<HumanHands>(scene.chart, random.next());
            for (std::size_t k = 0; k < plan.players; ++k) {
                end.to.emplace_back(plan.faults, random.next());
            }
            end.wakes_at = random.part() / plan.frame_rate;
            end.stalls_at = 5.0 + 0.7 * static_cast<double>(i);
            ends_.push_back(std::move(end));
        }
    }

    PeerResult run() {
        while (now_ < plan_.seconds) {
            double next = plan_.seconds;
            for (const End& end : ends_) {
                next = std::min(next, end.wakes_at);
            }
            now_ = next;
            deliver();
            for (End& end : ends_) {
                if (end.wakes_at <= now_) {
                    turn(end);
                    end.wakes_at += 1.0 / plan_.frame_rate;
                    if (plan_.stall.value > 0.0 && now_ >= end.stalls_at) {
                        end.wakes_at = now_ + plan_.stall.value;
                        end.stalls_at += 10.0;
                    }
                }
            }
        }
        return result();
    }

  private:
    void deliver() {
        for (End& from : ends_) {
            for (std::size_t k = 0; k < ends_.size(); ++k) {
                while (from.to[k].next_arrival().value_or(plan_.seconds * 2.0) <= now_) {
                    ends_[k].inbox.push_back(from.to[k].take());
                }
            }
        }
    }
    void turn(End& end) {
        PeerGame& game = *end.game;
        game.tell_time(Seconds{now_});
        for (const std::vector<std::byte>& bytes : end.inbox) {
            game.receive(bytes, *end.world);
            judge(end);
        }
        end.inbox.clear();
        while (game.due()) {
            game.tick(end.hands->next(Seconds{dt_}), *end.world);
            std::vector<glm::dvec3>& places = end.first[game.now().value];
            for (std::size_t i = 0; i < ends_.size(); ++i) {
                places.push_back(game.runner(i).position());
            }
            judge(end);
        }
        while (const auto packet = game.next_packet()) {
            end.to[packet->player].send(now_, packet->bytes);
        }
        while (game.next_event()) {
        }
    }
    /// Ticks that cannot change any more, beside what they looked like at first.
    void judge(End& end) {
        const PeerGame& game = *end.game;
        while (end.noted < game.confirmed().value) {
            const link::Tick tick{++end.noted};
            end.digests.push_back(game.digest_at(tick).value_or(0));
            const auto first = end.first.find(tick.value);
            for (std::size_t i = 0; first != end.first.end() && i < ends_.size(); ++i) {
                const glm::dvec3 off = game.place_at(i, tick).value_or(first->second[i]) - first->second[i];
                if (&end != &ends_[i]) {
                    end.errors.push_back(std::sqrt(off.x * off.x + off.y * off.y + off.z * off.z));
                }
            }
            if (first != end.first.end()) {
                end.first.erase(first);
            }
        }
    }
    PeerResult result() {
        PeerResult result;
        std::size_t known = ends_.front().digests.size();
        for (const End& end : ends_) {
            known = std::min(known, end.digests.size());
        }
        for (End& end : ends_) {
            PeerEndResult& one = result.ends.emplace_back();
            one.phase = end.game->phase();
            one.statistics = end.game->statistics();
            one.bytes_up_per_s = static_cast<double>(one.statistics.bytes_out) / now_;
            one.packets_up_per_s = static_cast<double>(one.statistics.packets_out) / now_;
            std::sort(end.errors.begin(), end.errors.end());
            if (!end.errors.empty()) {
                const auto at = [&](double part) {
                    return end
                        .errors[static_cast<std::size_t>(part * static_cast<double>(end.errors.size() - 1))];
                };
                one.error_median = at(0.5);
                one.error_p99 = at(0.99);
                one.error_max = at(1.0);
            }
            for (std::size_t i = 0; i < known; ++i) {
                result.same = result.same && end.digests[i] == ends_.front().digests[i];
            }
        }
        result.confirmed = static_cast<std::uint32_t>(known);
        result.digest = known > 0 ? ends_.front().digests[known - 1] : 0;
        return result;
    }

    PeerPlan plan_;
    double dt_, now_ = 0.0;
    std::vector<End> ends_;
};

}  // namespace

PeerResult rehearse_peers(const Scene& scene, const PeerPlan& plan) {
    return PeerTable(scene, plan).run();
}

}  // namespace cursimeter::rehearsal
