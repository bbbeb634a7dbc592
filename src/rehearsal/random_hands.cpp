#include <cmath>
#include <cursimeter/numbers/detmath.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

namespace cursimeter::rehearsal {

DrillSpec random_hands(const Chart& chart, Seconds length, Random& random) {
    DrillSpec drill;
    drill.name = "random hands";
    drill.seconds = length.value;
    std::vector<bool> down(chart.action_count());
    double yaw = 360.0 * random.part();
    for (double at = 0.2; at < length.value; at += random.between(0.3, 1.5)) {
        StepSpec step;
        step.at = at;
        for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
            const std::string& name = chart.name(ActionId{i});
            if (down[i] ? random.chance(0.6) : random.chance(0.15)) {
                (down[i] ? step.release : step.hold).push_back(name);
                down[i] = !down[i];
            } else if (!down[i] && random.chance(0.12)) {
                step.press.push_back(name);
            }
        }
        if (random.chance(0.6)) {
            // Mostly ahead, as people go.
            const double angle = random.chance(0.6) ? 0.0 : random.between(-3.14, 3.14);
            const detmath::SineCosine to = detmath::sine_cosine(angle);
            const double stick = random.chance(0.15) ? 0.0 : 1.0;
            step.move = Move{stick * to.cosine, stick * to.sine};
        }
        if (random.chance(0.7)) {
            yaw += random.between(-60.0, 60.0);
            step.look = LookSpec{Degrees{yaw}, Degrees{random.between(-20.0, 20.0)}};
        }
        drill.steps.push_back(step);
    }
    return drill;
}

}  // namespace cursimeter::rehearsal
