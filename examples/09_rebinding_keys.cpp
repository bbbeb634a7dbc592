// The player's own settings: two keys for one action, a chord, a toggle in place of a hold; saved and loaded.
#include <cstdio>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/controls_file.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/keeper.toml").chart;
    ControlsSpec settings;
    settings.name = "left_handed";
    settings.bindings = {{"move_forward", {"key.i"}},
                         {"sprint", {"key.shift"}},
                         {"sprint", {"pad.left_stick"}},
                         {"dash", {"key.shift", "key.space"}}};
    settings.presses = {{"sprint", PressMode::toggle}};
    const std::string file = format_controls(settings);
    Controls controls(chart, parse_controls(file, "settings.toml", chart));

    Runner keeper = spawn(chart);
    controls.apply_press_modes(chart, keeper);
    const auto tick = [&](const char* what) {
        static_cast<void>(advance(chart, keeper, controls.intent(), Seconds{0.1}));
        controls.next_tick(Seconds{0.1});
        std::printf("%-28s %s\n", what, chart.name(keeper.state()).c_str());
    };
    controls.press(controls.input("key.i"));
    controls.press(controls.input("key.shift"), 0.02);
    tick("shift goes down: on");
    controls.release(controls.input("key.shift"), 0.01);
    tick("and up again: still on");
    controls.press(controls.input("pad.left_stick"));
    tick("the pad's stick: off");
    controls.press(controls.input("key.shift"), 0.0, Consumed::yes);
    tick("shift used by the chat: no");
    controls.release_all();
    tick("the window loses its focus");

    settings.bindings.push_back({"oar", {"key.space", "key.shift"}});
    for (const std::string& conflict : conflicts(settings)) {
        std::printf("%s\n", conflict.c_str());
    }
}
// expected output:
// shift goes down: on          sprint
// and up again: still on       sprint
// the pad's stick: off         walk
// shift used by the chat: no   walk
// the window loses its focus   walk
// 'dash' and 'oar' are both on key.shift + key.space
