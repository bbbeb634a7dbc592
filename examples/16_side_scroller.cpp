// A game seen from the side: runners stay in the plane y = 0 to the bit, ledges let them through from below, and a held
// crouch drops through. Right is +x, up is +z; what the game draws is (x, z).
#include <cmath>
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/cursimeter.hpp>

using namespace cursimeter;

namespace {

/// Boxes that are solid, and flat ledges that hold only who comes from above.
class Level final : public Terrain {
  public:
    Level(const CourseSpec& solid, const CourseSpec& ledges, const Chart& chart)
        : ledges_(ledges), solid_world_(Course(solid), chart), ledge_world_(ledges_, chart) {}
    bool drops = false;  ///< the runner that moves now lets itself through

    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        const bool met = solid_world_.sweep(sweep, hit);
        Hit ledge;
        if (!drops && sweep.motion.z < 0.0 && ledge_world_.sweep(sweep, ledge) &&
            (!met || ledge.fraction < hit.fraction) && stands_above(ledge, sweep.from.z)) {
            hit = ledge;
            hit.surface += 1000;  // another surface than the solid of that number
            return true;
        }
        return met;
    }
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                               Overlap& overlap) const noexcept override {
        return solid_world_.overlap(body, feet, at, overlap);
    }

  private:
    [[nodiscard]] bool stands_above(const Hit& hit, double feet) const {
        const Solid& ledge = ledges_.solids()[hit.surface - 1];
        return feet >= ledge.middle.z + ledge.half.z - 0.001;
    }
    Course ledges_;
    CourseTerrain solid_world_, ledge_world_;
};

/// A box of the picture, deep enough that nobody gets round it.
BoxSpec box(double left, double right, double bottom, double top) {
    return {{left, -50.0, bottom}, {right, 50.0, top}, Degrees{0.0}};
}

/// The stick's way along x, exactly in the plane: it looks along +x and goes backward.
Intent intent_of(double stick) {
    Intent intent;
    intent.move.forward = stick;
    intent.facing = Facing::movement;  // forward is wherever it goes, so both ways are as fast
    return intent;
}

}  // namespace

int main() {
    const Chart chart = load_chart("demo/charts/eel.toml").chart;
    CourseSpec solid, ledges;
    solid.name = ledges.name = "breakwater";
    solid.boxes = {box(-20.0, 40.0, -1.0, 0.0), box(20.0, 21.0, 0.0, 4.0)};
    ledges.boxes = {box(6.0, 9.0, 0.9, 1.0)};
    Level level(solid, ledges, chart);
    Runner eel = spawn(chart, {{0.0, 0.0, 0.0}, 0.0});
    const ActionId jump = chart.action("jump"), crouch = chart.action("crouch"), dash = chart.action("dash");
    double farthest_from_plane = 0.0;
    const auto play = [&](const char* what, double stick, std::uint32_t held, double seconds) {
        Intent intent = intent_of(stick);
        intent.held = held;
        level.drops = (held & key_bit(crouch)) != 0;
        for (int tick = 0; tick < static_cast<int>(seconds * 60.0 + 0.5); ++tick) {
            static_cast<void>(advance(chart, eel, intent, level, Seconds{1.0 / 60.0}));
            farthest_from_plane = std::max(farthest_from_plane, std::fabs(eel.position().y));
        }
        std::printf("%-32s x %5.2f, z %4.2f, %s\n", what, eel.position().x, eel.position().z,
                    chart.name(eel.state()).c_str());
    };
    play("walks under the ledge", 1.0, 0, 2.9);
    play("jumps up through it", 0.0, key_bit(jump), 0.4);
    play("stands on it", 0.0, 0, 1.0);
    play("crouches: drops through", 0.0, key_bit(crouch), 0.6);
    play("goes back", -1.0, 0, 0.6);
    play("turns", 1.0, 0, 1.5);
    play("dashes along the breakwater", 1.0, key_bit(dash), 1.0);
    play("and into the wall", 1.0, 0, 4.0);
    push(eel, {.direction = {-1.0, 0.0, 0.0}, .strength = 6.0, .lift = 0.5, .seconds = 0.4});
    play("thrown back by a wave", 0.0, 0, 2.0);
    std::printf("away from the plane: %g m\n", farthest_from_plane);
}
// expected output:
// walks under the ledge            x  7.24, z 0.00, walk
// jumps up through it              x  8.28, z 1.03, fall
// stands on it                     x  8.55, z 1.00, walk
// crouches: drops through          x  8.55, z 0.00, crouch
// goes back                        x  7.29, z 0.00, walk
// turns                            x 10.66, z 0.00, walk
// dashes along the breakwater      x 19.35, z 0.00, walk
// and into the wall                x 19.70, z 0.00, walk
// thrown back by a wave            x 18.66, z 0.00, walk
// away from the plane: 0 m
