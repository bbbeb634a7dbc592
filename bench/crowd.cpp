#include "crowd.hpp"

#include <random>

namespace bench {

using namespace cursimeter;

Chart bearer_chart() {
    ChartSpec spec;
    spec.name = "bearer";
    spec.rank = {"sprint", "tread", "walk"};
    spec.actions = {{.name = "sprint"}, {.name = "tread", .press = PressMode::toggle}};
    spec.meters = {{.name = "stamina",
                    .capacity = 100.0,
                    .start = {},
                    .refill = RefillSpec{.rate = 18.0, .wait = 0.7},
                    .spent = SpentSpec{.at = 0.0, .until = 30.0}}};
    StateSpec walk;
    walk.name = "walk";
    walk.kind = StateKind::ground;
    walk.speed = {.forward = 2.4, .side = 2.1, .back = 1.6};
    walk.gain.law = GainLaw::ramp;
    walk.gain.up = 12.0;
    walk.gain.down = 16.0;
    walk.gain.idle = 10.0;
    StateSpec tread;
    tread.name = "tread";
    tread.like = "walk";
    tread.speed = {.forward = 1.1, .side = 0.9, .back = 0.8};
    tread.enter = Condition{"tread on"};
    StateSpec sprint;
    sprint.name = "sprint";
    sprint.like = "walk";
    sprint.speed.forward = 6.5;
    sprint.enter = Condition{"sprint on", "moving forward", "grounded", "stamina >= 10"};
    sprint.stay = Condition{"sprint on", "moving forward", "grounded", "stamina > 0"};
    sprint.drain = {{"stamina", 12.0}};
    spec.states = {walk, tread, sprint};
    return compile(spec);
}

Script::Script(Looking looking) : frames_(players_ * ticks_) {
    std::mt19937 random(7);
    std::uniform_real_distribution<float> unit(0.0F, 1.0F);
    for (std::size_t player = 0; player < players_; ++player) {
        Frame now;
        std::size_t until = 0;
        float turn = 0.0F;
        for (std::size_t t = 0; t < ticks_; ++t) {
            now.tread_pressed = false;
            if (t >= until) {
                until = t + 18 + static_cast<std::size_t>(unit(random) * 72.0F);
                const float choice = unit(random);
                now.forward = choice < 0.7F ? 1.0F : choice < 0.8F ? -1.0F : 0.0F;
                now.side = unit(random) < 0.7F ? 0.0F : unit(random) < 0.5F ? -1.0F : 1.0F;
                now.sprint = unit(random) < 0.5F;
                now.tread_pressed = unit(random) < 0.1F;
                turn = unit(random) < 0.5F ? 0.0F : (unit(random) - 0.5F) * 0.08F;
                if (looking == Looking::at_times) {
                    now.yaw += turn * 20.0F;
                }
            }
            if (looking == Looking::every_tick) {
                now.yaw += turn + (unit(random) - 0.5F) * 0.01F;
            }
            frames_[t * players_ + player] = now;
        }
    }
}

}  // namespace bench
