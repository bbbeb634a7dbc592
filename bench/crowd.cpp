#include "crowd.hpp"

#include <algorithm>
#include <random>

namespace bench {

using namespace cursimeter;

Chart bearer_chart(rival::Law law, bool footsteps) {
    ChartSpec spec;
    spec.name = "bearer";
    spec.rank = {"dash", "jump", "glide", "fall", "slide", "crouch", "sprint", "tread", "walk"};
    spec.actions = {{.name = "sprint"}, {.name = "tread", .press = PressMode::toggle},
                    {.name = "crouch"}, {.name = "jump"},
                    {.name = "dash"},   {.name = "cape"}};
    spec.cooldowns = {{.name = "dash", .seconds = 3.0}, {.name = "slide", .seconds = 1.2}};
    spec.meters = {{.name = "stamina",
                    .capacity = 100.0,
                    .start = {},
                    .refill = RefillSpec{.rate = 18.0, .wait = 0.7},
                    .spent = SpentSpec{.at = 0.0, .until = 30.0}}};
    const auto modifier = [](const char* name, AffectSpec affect) {
        ModifierSpec made;
        made.name = name;
        made.affects = {std::move(affect)};
        return made;
    };
    spec.modifiers = {modifier("broth", {.what = "speed", .times = 1.1}),
                      modifier("soaked", {.what = "gain", .times = 0.9}),
                      modifier("tide", {.what = "speed", .adds = 0.2}),
                      modifier("fed", {.what = "refill.stamina", .times = 1.2})};
    StateSpec walk;
    walk.name = "walk";
    walk.kind = StateKind::ground;
    walk.speed = {.forward = 2.4, .side = 2.1, .back = 1.6};
    if (law == rival::Law::ramp) {
        walk.gain.law = GainLaw::ramp;
        walk.gain.up = 12.0;
        walk.gain.down = 16.0;
        walk.gain.idle = 10.0;
    } else if (law == rival::Law::ease) {
        walk.gain.law = GainLaw::ease;
        walk.gain.up_half_life = 0.1;
        walk.gain.down_half_life = 0.07;
        walk.gain.idle_half_life = 0.07;
    } else {
        walk.gain.law = GainLaw::instant;
    }
    walk.stride = footsteps ? 1.4 : 0.0;
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
    StateSpec crouch;
    crouch.name = "crouch";
    crouch.like = "walk";
    crouch.low = true;
    crouch.speed = {.forward = 1.6, .side = 1.4, .back = 1.2};
    crouch.enter =
        Condition(std::vector<std::vector<std::string>>{{"crouch on", "grounded"}, {"not headroom"}});
    StateSpec slide;
    slide.name = "slide";
    slide.kind = StateKind::slide;
    slide.low = true;
    slide.slide.boost = 1.5;
    slide.slide.boost_limit = 8.0;
    slide.slide.friction = 5.0;
    slide.cooldown = "slide";
    slide.enter = Condition{"crouch on", "grounded", "speed > 5"};
    slide.stay = Condition{"crouch on", "grounded", "speed > 2"};
    StateSpec fall;
    fall.name = "fall";
    fall.kind = StateKind::air;
    fall.speed = {.forward = 4.0, .side = {}, .back = {}};
    fall.air.rise_gravity = 18.0;
    fall.air.fall_gravity = 26.0;
    fall.air.terminal = 40.0;
    fall.air.steer = 10.0;
    fall.enter = Condition{"not grounded"};
    StateSpec jump = fall;
    jump.name = "jump";
    jump.launch.heights = std::vector<double>{1.3};
    jump.cost = {{"stamina", 8.0}};
    jump.enter = Condition{"jump pressed"};
    jump.stay = Condition{"not grounded", "rise > 0"};
    StateSpec dash;
    dash.name = "dash";
    dash.kind = StateKind::burst;
    dash.burst.speed = 15.0;
    dash.burst.seconds = 0.2;
    dash.cost = {{"stamina", 15.0}};
    dash.cooldown = "dash";
    dash.enter = Condition{"dash pressed"};
    StateSpec glide;
    glide.name = "glide";
    glide.kind = StateKind::fly;
    glide.speed = {.forward = 7.5, .side = 5.0, .back = 3.0};
    glide.gain.law = GainLaw::ramp;
    glide.gain.up = 12.0;
    glide.fly.by_look = false;
    glide.fly.sink = 1.2;
    glide.enter = Condition{"cape on", "not grounded", "rise < 0"};
    glide.stay = Condition{"cape on", "not grounded"};
    spec.states = {walk, tread, sprint, crouch, slide, fall, jump, dash, glide};
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
                now.crouch = unit(random) < 0.15F;
                now.jump = unit(random) < 0.2F;
                now.dash = unit(random) < 0.1F;
                now.cape = unit(random) < 0.2F;
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

rival::Input rival_input(const Frame& frame) {
    return {frame.forward, frame.side, frame.yaw,  frame.sprint, frame.tread_pressed,
            frame.crouch,  frame.jump, frame.dash, frame.cape};
}

void advance_rival(rival::Runner<double>& r, const rival::Input& input, const Terrain& terrain) {
    rival::steer<double, rival::Style{}>(r, input, tick);
    const Capsule body{0.35, 1.8};
    glm::dvec3 place(r.x, r.y, r.z), motion(r.vx * tick, r.vy * tick, r.vz * tick);
    const auto part = [&](const glm::dvec3& along, const glm::dvec3& normal) {
        return along.x * normal.x + along.y * normal.y + along.z * normal.z;
    };
    for (int bounce = 0; bounce < 2; ++bounce) {
        Hit hit;
        if (!terrain.sweep({body, place, motion, 0.0}, hit)) {
            place += motion;
            break;
        }
        place += motion * std::max(0.0, hit.fraction - 1e-3);
        motion *= 1.0 - hit.fraction;
        motion -= hit.normal * part(motion, hit.normal);
        const double into = r.vx * hit.normal.x + r.vy * hit.normal.y;
        r.vx -= into * hit.normal.x;
        r.vy -= into * hit.normal.y;
    }
    const double reach = r.grounded ? 0.4 : 0.01;
    Hit below;
    const bool ground =
        r.vz <= 0.0 && terrain.sweep({body, place, {0.0, 0.0, -reach}, 0.0}, below) && below.face.z > 0.64;
    if (ground) {
        place.z -= reach * below.fraction - 1e-3;
        r.vz = 0.0;
    }
    r.grounded = ground;
    r.x = place.x;
    r.y = place.y;
    r.z = place.z;
    rival::finish<double, rival::Style{}>(r, tick);
}

}  // namespace bench
