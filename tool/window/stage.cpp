#include "window/stage.hpp"

#include <imgui.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/panels/style.hpp>
#include <cursimeter/survey/why.hpp>
#include <glm/geometric.hpp>

namespace cursimeter::tool {
namespace {

using tryout::Colour;

/// Stone, timber, rope: three quiet tones, so that the trail's colours stand out.
constexpr Colour ground_tone{0.86, 0.85, 0.80}, step_tone{0.80, 0.77, 0.70}, moving_tone{0.72, 0.80, 0.84};
constexpr double trail_seconds = 12.0;

glm::dvec3 between(const glm::dvec3& a, const glm::dvec3& b, double part) {
    // A body that was put elsewhere does not fly there.
    constexpr double leap = 4.0;  // m in a tick
    return glm::length(b - a) > leap ? b : a + (b - a) * part;
}

/// A little smaller, so that bodies in one place do not flicker through one another.
Capsule within(const Capsule& body, double part) {
    return {body.radius * part, body.height * part};
}

DrawnBox upright_box(const glm::dvec3& middle, const glm::dvec3& half, const Colour& colour) {
    return {glm::vec3(middle),
            {static_cast<float>(half.x), 0.0F, 0.0F},
            {0.0F, static_cast<float>(half.y), 0.0F},
            {0.0F, 0.0F, static_cast<float>(half.z)},
            floats(colour),
            0.0F};
}

}  // namespace

Stage::Stage(const Session& session) {
    const Course& course = *session.play.course();
    for (const Solid& solid : course.solids()) {
        DrawnBox box;
        box.middle = glm::vec3(solid.middle);
        box.first = glm::vec3(solid.axes[0] * solid.half.x);
        box.second = glm::vec3(solid.axes[1] * solid.half.y);
        box.third = glm::vec3(solid.axes[2] * solid.half.z);
        const double widest = std::max({solid.half.x, solid.half.y, solid.half.z});
        box.colour = floats(solid.platform >= 0 ? moving_tone : widest > 6.0 ? ground_tone : step_tone);
        box.grid = 1.0F;
        solids_.push_back(box);
        platforms_.push_back(solid.platform);
    }
    for (const ZoneSpec& zone : course.spec().zones) {
        const glm::dvec3 from(zone.from[0], zone.from[1], zone.from[2]),
            to(zone.to[0], zone.to[1], zone.to[2]);
        zones_.push_back(upright_box((from + to) * 0.5, glm::abs(to - from) * 0.5, tryout::sea.faded(0.13)));
    }
}

void Stage::draw_course(const Session& session, double time) {
    const Course& course = *session.play.course();
    std::vector<DrawnBox> boxes = solids_;
    for (std::size_t i = 0; i < boxes.size(); ++i) {
        if (platforms_[i] >= 0) {
            boxes[i].middle +=
                glm::vec3(course.platform_offset(static_cast<std::size_t>(platforms_[i]), time));
        }
    }
    renderer_.solids(boxes);
}

/// Where the runner was, coloured by state; where the state changed a tall peg if the player's hands did it, a flat
/// stone if not; and its footsteps.
void Stage::draw_trail(const Session& session, const glm::dvec3& eye) {
    const tryout::History& history = session.play.history();
    const tryout::Moment now = session.play.now();
    if (history.size() < 2 || session.is_on_network()) {
        return;
    }
    const double end = history.time(now);
    tryout::Moment at = history.moment_at(end - trail_seconds);
    std::vector<RibbonPoint> points;
    glm::dvec3 last = history.runner(at).position();
    constexpr double half_width = 0.045, above = 0.03;
    for (; at <= now; ++at.value) {
        const Runner& runner = history.runner(at);
        const glm::dvec3 place = runner.position();
        const double length = glm::length(place - last);
        if (length < 0.02) {
            continue;
        }
        if (length > 4.0) {
            renderer_.ribbon(points);
            points.clear();
            last = place;
            continue;
        }
        // It shows its broad side, wherever it is seen from.
        glm::dvec3 side = glm::cross((place - last) / length, eye - place);
        const double broad = glm::length(side);
        side = broad > 1e-3 ? side / broad * half_width : glm::dvec3(half_width, 0.0, 0.0);
        const double age = (end - history.time(at)) / trail_seconds;
        const glm::vec4 colour = floats(tryout::colour_of(runner.state()).faded(1.0 - 0.75 * age));
        const glm::dvec3 lift(0.0, 0.0, above);
        points.push_back({glm::vec3(place + side + lift), colour});
        points.push_back({glm::vec3(place - side + lift), colour});
        last = place;
    }
    renderer_.ribbon(points);

    std::vector<DrawnBox> studs;
    for (std::size_t i = history.event_count(); i-- > 0;) {
        const tryout::PlayedEvent& event = history.event(i);
        if (event.at > end) {
            continue;
        }
        if (event.at < end - trail_seconds) {
            break;
        }
        const glm::dvec3 place = history.runner({event.tick}).position();
        if (event.event.kind == EventKind::entered) {
            const bool by_hand = survey::is_by_hand(history.chart({event.tick}), event.event.cause);
            const glm::dvec3 half = by_hand ? glm::dvec3(0.05, 0.05, 0.22) : glm::dvec3(0.11, 0.11, 0.05);
            studs.push_back(upright_box(place + glm::dvec3(0.0, 0.0, half.z), half,
                                        tryout::colour_of(StateId{event.event.subject})));
        } else if (event.event.kind == EventKind::footstep) {
            const double yaw = history.runner({event.tick}).yaw();
            const double side = event.event.which == 0 ? 0.12 : -0.12;
            studs.push_back(upright_box(place + glm::dvec3(-std::sin(yaw) * side, std::cos(yaw) * side, 0.01),
                                        glm::dvec3(0.07, 0.07, 0.015), tryout::ink.faded(0.7)));
        }
    }
    if (!studs.empty()) {
        renderer_.boxes(studs);
    }
}

/// Where the body would come down: tells how high it is.
void Stage::draw_shadow(const CourseTerrain& terrain, const glm::dvec3& feet, const Capsule& body) {
    constexpr double deepest = 20.0;  // m
    Hit hit;
    const Sweep down{{0.05, 0.1}, feet + glm::dvec3(0.0, 0.0, 0.1), {0.0, 0.0, -deepest}, 0.0};
    if (!terrain.sweep(down, hit)) {
        return;
    }
    const glm::dvec3 place = down.from + down.motion * hit.fraction;
    std::vector<RibbonPoint> disc;
    constexpr int corners = 24;
    const glm::vec4 colour = floats(tryout::ink.faded(0.28));
    for (int i = 0; i <= corners; ++i) {
        const double angle = 2.0 * 3.141592653589793 * i / corners;
        glm::dvec3 out(std::cos(angle) * body.radius, std::sin(angle) * body.radius, 0.0);
        // Along the slope.
        out.z = hit.face.z > 0.2 ? -(out.x * hit.face.x + out.y * hit.face.y) / hit.face.z : 0.0;
        disc.push_back({glm::vec3(place + out + glm::dvec3(0.0, 0.0, 0.02)), colour});
        disc.push_back({glm::vec3(place + glm::dvec3(0.0, 0.0, 0.02)), colour});
    }
    renderer_.ribbon(disc);
}

void Stage::draw_bodies(const Session& session, View view, double part, const glm::dvec3& feet) {
    const bool own_eyes = view == View::own_eyes;
    const auto body = [&](ShownBody shown, const glm::dvec3& place, const Capsule& capsule,
                          const Colour& colour) {
        const Look look = session.faced(shown);
        renderer_.body({place, capsule, look.yaw, look.pitch, colour});
    };
    if (const tryout::OverNetwork* net = session.net()) {
        if (!net->playing()) {
            return;
        }
        const Chart& chart = session.play.chart();
        if (!own_eyes) {
            const StateId state = net->own().state();
            body(ShownBody::own, feet, chart.body(state), tryout::colour_of(state));
        }
        body(ShownBody::truth, net->truth().position(), within(chart.body(net->truth().state()), 0.98),
             tryout::ink.faded(0.35));
        if (const std::optional<link::Shown> seen = net->seen()) {
            body(ShownBody::seen, seen->position, within(chart.body(seen->state), 0.96),
                 tryout::lantern.faded(0.5));
        }
        return;
    }
    const tryout::Tryout& play = session.play;
    if (!own_eyes) {
        const StateId state = play.runner().state();
        body(ShownBody::own, feet, play.chart().body(state), tryout::colour_of(state));
    }
    if (const std::optional<tryout::GhostReading> ghost = play.ghost()) {
        body(ShownBody::ghost, between(play.ghost_before().position(), ghost->runner.position(), part),
             within(play.ghost_chart()->body(ghost->runner.state()), 0.98), tryout::ink.faded(0.35));
    }
}

void Stage::write_signs(const Session& session, const Camera& camera, int x, int y, int width, int height,
                        double scale) const {
    ImDrawList* draw = ImGui::GetBackgroundDrawList();
    draw->PushClipRect({static_cast<float>(x), static_cast<float>(y)},
                       {static_cast<float>(x + width), static_cast<float>(y + height)});
    struct Placed {
        float left, top, right, bottom;
        [[nodiscard]] bool overlaps(const Placed& other) const {
            return left < other.right && other.left < right && top < other.bottom && other.top < bottom;
        }
    };
    std::vector<Placed> placed;  // the nearest come first, and what they hide is left out
    const auto write = [&](const glm::dvec3& place, const std::string& text, const Colour& colour,
                           double farthest) {
        const double far = glm::length(place - camera.eye);
        const std::optional<glm::dvec2> at = camera.project(place);
        if (!at || far > farthest || at->x < -0.2 || at->x > 1.2 || at->y < -0.2 || at->y > 1.2) {
            return;
        }
        const auto size = static_cast<float>(std::clamp(160.0 / far, 11.0, 18.0) * scale);
        ImFont* font = ImGui::GetFont();
        const ImVec2 extent = font->CalcTextSizeA(size, 1e9F, 0.0F, text.c_str());
        const ImVec2 corner{static_cast<float>(x + at->x * width) - 0.5F * extent.x,
                            static_cast<float>(y + at->y * height) - 0.5F * extent.y};
        const float pad = 0.25F * size;
        const Placed here{corner.x - pad, corner.y - pad, corner.x + extent.x + pad,
                          corner.y + extent.y + pad};
        if (std::any_of(placed.begin(), placed.end(),
                        [&](const Placed& other) { return other.overlaps(here); })) {
            return;
        }
        placed.push_back(here);
        draw->AddRectFilled({corner.x - pad, corner.y - 0.5F * pad},
                            {corner.x + extent.x + pad, corner.y + extent.y + 0.5F * pad},
                            panels::packed(tryout::panel.faded(0.8)), 2.0F);
        draw->AddText(font, size, corner, panels::packed(colour), text.c_str());
    };
    // Upward in the picture, and seen from above beside the body.
    const auto over = [&](const glm::dvec3& feet, double body, double more) {
        const double aside = 0.9 * (1.0 - camera.up.z);  // m
        return feet + glm::dvec3(0.0, 0.0, body) + camera.up * (more + aside);
    };
    if (const tryout::OverNetwork* net = session.net()) {
        if (net->playing()) {
            write(over(net->own_place(), 1.8, 0.25), "own", tryout::ink, 60.0);
            write(over(net->truth().position(), 1.8, 0.95), "server", tryout::ink, 60.0);
            if (const std::optional<link::Shown> seen = net->seen()) {
                write(over(seen->position, 1.8, 1.65), "as another sees it", tryout::ink, 60.0);
            }
        }
    } else if (const std::optional<tryout::GhostReading> ghost = session.play.ghost()) {
        write(over(ghost->runner.position(), 1.8, 0.3), ghost->name, tryout::ink, 60.0);
    }
    std::vector<std::pair<double, const tryout::Sign*>> signs;
    for (const tryout::Sign& sign : session.signs()) {
        const glm::dvec3 place(sign.place[0], sign.place[1], sign.place[2]);
        signs.emplace_back(glm::length(place - camera.eye), &sign);
    }
    std::sort(signs.begin(), signs.end());
    for (const auto& [far, sign] : signs) {
        write({sign->place[0], sign->place[1], sign->place[2]}, sign->text, tryout::ink, 40.0);
    }
    draw->PopClipRect();
}

void Stage::draw(const Session& session, View view, int x, int y, int width, int height, int window_height,
                 double scale) {
    const tryout::Tryout& play = session.play;
    const double part = session.clock.part();
    const bool net = session.net() != nullptr && session.net()->playing();
    const Runner& runner = net ? session.net()->own() : play.runner();
    const glm::dvec3 feet =
        net ? session.net()->own_place() : between(play.before().position(), play.runner().position(), part);
    const double time = net ? session.net()->client().now().value * play.tick_length().value
                            : play.world_time() - (1.0 - part) * play.tick_length().value;
    CourseTerrain terrain(*play.course(), play.chart());
    terrain.set_time(std::max(time, 0.0));
    const Camera camera = follow(view, feet, play.chart().body(runner.state()), session.look(),
                                 static_cast<double>(width) / std::max(height, 1), &terrain);
    renderer_.begin({x, window_height - y - height, width, height}, camera.matrix(), camera.eye);
    draw_course(session, std::max(time, 0.0));
    draw_shadow(terrain, feet, play.chart().body(runner.state()));
    draw_trail(session, camera.eye);
    draw_bodies(session, view, part, feet);
    if (!zones_.empty()) {
        renderer_.boxes(zones_);
    }
    renderer_.end();
    write_signs(session, camera, x, y, width, height, scale);
}

}  // namespace cursimeter::tool
