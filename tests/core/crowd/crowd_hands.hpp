#pragma once

#include <catch2/catch.hpp>
#include <cursimeter/crowd.hpp>
#include <limits>
#include <random>
#include <vector>

/// A crowd must be what its runners are by themselves, to the bit, whatever it saves.
namespace support {

using namespace cursimeter;

/// What a hundred hands want: keys every 0.1 to 0.5 s, sticks, a mouse that moves in every tick for some, at times for others,
/// changes inside of ticks, now and then something that is no number.
class CrowdHands {
  public:
    CrowdHands(const Chart& chart, std::size_t runners, unsigned seed)
        : CrowdHands(std::vector<Chart>{chart}, runners, seed) {}
    /// Of several charts some have actions that others have not: these are left out and told of.
    CrowdHands(const std::vector<Chart>& charts, std::size_t runners, unsigned seed)
        : dice_(seed), intents_(runners), left_(runners), changes_(runners) {
        for (const Chart& chart : charts) {
            actions_ = std::max(actions_, chart.action_count());
        }
    }

    const std::vector<Intent>& next(double dt) {
        for (std::size_t i = 0; i < intents_.size(); ++i) {
            Intent& intent = intents_[i];
            intent.changes = {};
            if ((left_[i] -= dt) <= 0.0) {
                left_[i] = between(0.1, 0.5);
                intent.move = chance(20) ? Move{} : Move{between(-1.0, 1.0), between(-1.0, 1.0)};
                intent.held =
                    static_cast<std::uint32_t>(dice_()) & static_cast<std::uint32_t>(dice_()) & mask();
                intent.facing = chance(10) ? Facing::movement : Facing::look;
                if (chance(3)) {
                    intent.move.side = std::numeric_limits<double>::quiet_NaN();
                }
                if (actions_ != 0 && chance(30)) {
                    const ActionId action{static_cast<std::uint8_t>(dice_() % actions_)};
                    changes_[i] = Change::press(action, between(0.0, dt));
                    intent.changes = std::span(&changes_[i], 1);
                }
                intent.look.yaw += i % 3 == 0 ? 0.0 : between(-0.5, 0.5);
            }
            intent.look.yaw += i % 3 == 1 ? 0.02 : 0.0;
        }
        return intents_;
    }

  private:
    std::uint32_t mask() const { return actions_ >= 32 ? ~0U : (1U << actions_) - 1U; }
    double between(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(dice_);
    }
    bool chance(unsigned percent) { return dice_() % 100 < percent; }

    std::size_t actions_ = 0;
    std::mt19937 dice_;
    std::vector<Intent> intents_;
    std::vector<double> left_;
    std::vector<Change> changes_;
};

inline bool same_event(const Event& a, const Event& b) {
    return a.at == b.at && a.kind == b.kind && a.subject == b.subject && (a.value == b.value) &&
           a.which == b.which;
}

/// Plays a crowd beside single runners, in `parts` parts, and holds every runner and every event against them. The charts take turns.
inline void play_both(const std::vector<Chart>& charts, const Terrain* terrain, std::size_t count,
                      std::size_t parts, int ticks, unsigned seed) {
    Crowd crowd(charts[0]);
    crowd.use_lanes(std::size_t{1} << seed % 4U);
    std::vector<Runner> alone;
    for (const Chart& chart : charts) {
        crowd.add_chart(chart);
    }
    REQUIRE(crowd.charts().size() == charts.size());
    for (std::size_t i = 0; i < count; ++i) {
        const Placement placement{{static_cast<double>(i % 7) - 3.0, static_cast<double>(i % 5) - 2.0, 0.0},
                                  0.3 * static_cast<double>(i)};
        const Chart& chart = charts[i % charts.size()];
        REQUIRE((i % charts.size() == 0 ? crowd.add(placement) : crowd.add(chart, placement)) == i);
        REQUIRE(crowd.chart(i).digest() == chart.digest());
        alone.push_back(spawn(chart, placement));
    }
    CrowdHands hands(charts, count, seed);
    std::vector<CrowdReport> reports(parts, CrowdReport(4096));
    for (int tick = 0; tick < ticks; ++tick) {
        const Seconds dt{tick % 3 == 0 ? 1.0 / 60.0 : tick % 3 == 1 ? 0.0071 : 1.0 / 30.0};
        const std::vector<Intent>& intents = hands.next(dt.value);
        for (std::size_t part = 0; part < parts; ++part) {
            const std::size_t from = count * part / parts, to = count * (part + 1) / parts;
            const std::span<const Intent> own(intents.data() + from, to - from);
            if (terrain != nullptr) {
                advance_part(crowd, from, own, *terrain, dt, reports[part]);
            } else {
                advance_part(crowd, from, own, dt, reports[part]);
            }
        }
        std::size_t part = 0, at = 0, mended = 0, told = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const Chart& chart = charts[i % charts.size()];
            const Report report = terrain != nullptr ? advance(chart, alone[i], intents[i], *terrain, dt)
                                                     : advance(chart, alone[i], intents[i], dt);
            while (i >= count * (part + 1) / parts) {
                ++part;
                at = 0;
            }
            for (const Event& event : report.events()) {
                REQUIRE(at < reports[part].events().size());
                REQUIRE(reports[part].events()[at].runner == i);
                REQUIRE(same_event(reports[part].events()[at].event, event));
                ++at;
            }
            mended += report.intent_mended ? 1 : 0;
            REQUIRE(crowd.position(i) == alone[i].position());
            REQUIRE(crowd.velocity(i) == alone[i].velocity());
            REQUIRE(crowd.state(i) == alone[i].state());
            REQUIRE(crowd.speed(i) == alone[i].speed());
            REQUIRE(crowd.yaw(i) == alone[i].yaw());
            REQUIRE(crowd.distance(i) == alone[i].distance());
            REQUIRE(crowd.grounded(i) == alone[i].grounded());
        }
        std::size_t advanced = 0;
        for (const CrowdReport& report : reports) {
            advanced += report.advanced();
            told += report.intents_mended();
            REQUIRE(report.refused() == 0);
        }
        REQUIRE(advanced == count);
        REQUIRE(told == mended);
        if (tick % 10 == 0 || tick + 1 == ticks) {
            for (std::size_t i = 0; i < count; ++i) {
                REQUIRE(digest(crowd.runner(i)) == digest(alone[i]));
            }
        }
    }
}

}  // namespace support
