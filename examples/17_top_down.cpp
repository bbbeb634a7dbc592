// A game seen from above: the stick says where to go on the screen, the mouse where to look. Walking away from where one
// looks is slower, by the chart's speeds for side and back. The screen's right is +x, its top +y.
#include <cmath>
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/numbers/detmath.hpp>

using namespace cursimeter;

namespace {

struct Stick {
    double right = 0.0, up = 0.0;  ///< of the screen
};

/// The intent of a player who moves by the screen's directions and aims at a point.
Intent intent_of(const Runner& runner, Stick stick, const glm::dvec2& aim) {
    Intent intent;
    const glm::dvec2 way = aim - glm::dvec2(runner.position());
    if (way.x * way.x + way.y * way.y > 0.01) {  // a cursor on the runner itself turns nothing
        intent.look.yaw = detmath::arc_tangent(way.y, way.x);
    } else {
        intent.look.yaw = runner.yaw();
    }
    // Moves are relative to the look: turn the stick back by it.
    const detmath::SineCosine look = detmath::sine_cosine(intent.look.yaw);
    intent.move.forward = stick.right * look.cosine + stick.up * look.sine;
    intent.move.side = stick.right * look.sine - stick.up * look.cosine;
    return intent;
}

}  // namespace

int main() {
    const Chart chart = load_chart("demo/charts/keeper.toml").chart;
    const auto show = [&](const char* what, const Runner& runner, const glm::dvec2& from) {
        const glm::dvec2 way = glm::dvec2(runner.position()) - from;
        std::printf("%-34s %.2f m/s, %+5.2f right %+5.2f up\n", what, runner.speed(), way.x, way.y);
    };
    Runner keeper = spawn(chart);
    const auto walk = [&](const char* what, Stick stick, const glm::dvec2& aim, std::uint32_t held = 0) {
        const glm::dvec2 from(keeper.position());
        for (int tick = 0; tick < 120; ++tick) {
            Intent intent = intent_of(keeper, stick, aim);
            intent.held = held;
            static_cast<void>(advance(chart, keeper, intent, Seconds{1.0 / 60.0}));
        }
        show(what, keeper, from);
    };
    walk("right, looking far to the right", {1.0, 0.0}, {1000.0, 0.0});
    walk("right, looking far up", {1.0, 0.0}, {keeper.position().x, 1000.0});
    walk("right, looking far to the left", {1.0, 0.0}, {-1000.0, 0.0});
    walk("up, looking far to the right", {0.0, 1.0}, {1000.0, keeper.position().y});
    walk("up, half a stick", {0.0, 0.5}, {keeper.position().x, 1000.0});
    // A dash goes where the stick says, wherever it looks.
    walk("a dash to the left, looking up", {-1.0, 0.0}, {keeper.position().x, 1000.0},
         key_bit(chart.action("dash")));

    // In a game that does not aim, the character faces where it goes, and the chart's forward speed counts in every direction.
    Runner other = spawn(chart);
    Intent intent;
    intent.facing = Facing::movement;
    intent.move = {.forward = -0.6,
                   .side = 0.8};  // of a look that stays along +x: forward is right, side is down
    for (int tick = 0; tick < 120; ++tick) {
        static_cast<void>(advance(chart, other, intent, Seconds{1.0 / 60.0}));
    }
    show("facing where it goes", other, {0.0, 0.0});
}
// expected output:
// right, looking far to the right    2.40 m/s, +4.56 right +0.00 up
// right, looking far up              2.10 m/s, +4.20 right -0.00 up
// right, looking far to the left     1.60 m/s, +3.21 right +0.00 up
// up, looking far to the right       2.10 m/s, +0.15 right +4.00 up
// up, half a stick                   1.20 m/s, +0.00 right +2.43 up
// a dash to the left, looking up     2.10 m/s, -5.94 right +0.00 up
// facing where it goes               2.40 m/s, -2.74 right -3.65 up
