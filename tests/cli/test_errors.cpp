#include <catch2/catch.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;

TEST_CASE("a window that cannot be opened says what is missing") {
    refuses("try " + bearer_file + " --shot x.png",
            "--shot: is taken after a number of frames; give --frames N with it\n");
    refuses("try", "CHART is missing; see cursimeter try --help\n");
    refuses("try " + bearer_file + " --tab x",
            "--tab: there is no 'x'; known: numbers, keys, record, network, runner, time; see cursimeter try "
            "--help\n");
    const Outcome outcome = run_program("try " + bearer_file + " --frames 2 --size 5x5");
    CHECK(outcome.code == 2);
    const bool has_window =
        outcome.errors.find("was left out when this program was built") == std::string::npos;
    if (has_window) {
        CHECK(outcome.errors ==
              "cursimeter: error: --size: '5x5' is no size; write WIDTHxHEIGHT in pixels, from 480x320\n");
        refuses("try " + bearer_file + " --frames 2 --view top",
                "--view: 'top' is none; behind, own eyes, side or above\n");
        refuses("try " + bearer_file + " --frames 2 --set walk=3", "walk: is no number of this chart; ");
        refuses("try " + bearer_file + " --frames 2 --rate 5",
                "rate: 5 is out of range; 10 <= rate <= 1000\n");
        refuses("try none.toml --frames 2", "none.toml: cannot be read");
    } else {
        CHECK(outcome.errors.find("install libsdl2-dev, libimgui-dev and libgl-dev") != std::string::npos);
    }
}

TEST_CASE("calls that cannot be understood say how to call") {
    refuses("", "A subcommand is missing; see cursimeter --help\n");
    refuses("rum", "there is no subcommand 'rum'; did you mean 'run'? see cursimeter --help\n");
    refuses("completions",
            "there is no subcommand 'completions'; did you mean 'completion'? see cursimeter --help\n");
    refuses(
        "fly",
        "there is no subcommand 'fly'; known: run, check, figures, why, trial, sweep, scout, fit, draw, try, "
        "replay, "
        "report, "
        "watch, net, reference, schema, new; see cursimeter --help\n");
    refuses("run " + bearer_file + " --dril " + quay_file,
            "there is no option '--dril'; did you mean '--drill'? see cursimeter run --help\n");
    refuses("run", "CHART: is missing; give a chart file, or a take by --from FILE\n");
    refuses("draw diagram -o x.png", "CHART: is missing; give a chart file, or a take by --from FILE\n");
    refuses("run " + bearer_file, "--drill: is missing; give --drill FILE, or a take by --from FILE\n");
    refuses("run --from x.take --drill " + quay_file,
            "--drill does not go with --from; leave one of them out; see cursimeter run --help\n");
    refuses("run " + bearer_file + " --drill " + quay_file + " --colour",
            "there is no option '--colour'; known: ");
    refuses("run " + bearer_file + " --drill " + quay_file + " --rate fast",
            "--rate: 'fast' is not a number; write one such as 60; see cursimeter run --help\n");
    refuses("run " + bearer_file + " --drill " + quay_file + " --also-at 20,x",
            "--also-at: '20,x' is not a list of numbers; write them with commas between; see cursimeter run "
            "--help\n");
    refuses("net " + bearer_file + " --clients -3",
            "--clients: '-3' is not a whole number from 0 up; see cursimeter net --help\n");
    refuses("net " + bearer_file + " --clients",
            "--clients: needs a value; write one such as 3; see cursimeter net --help\n");
    refuses("run " + bearer_file + " -d " + quay_file + " --rate 60 -r 30",
            "--rate is given 2 times; give it once; see cursimeter run --help\n");
    refuses("check " + bearer_file + " my chart.toml",
            "'my' is one word too many; write a name with spaces in quotes; see cursimeter check --help\n");
    refuses("check " + bearer_file + " -x", "there is no option '-x'; see cursimeter check --help\n");
    refuses("--rate 60 run " + bearer_file,
            "there is no option '--rate' before the subcommand; options stand after it; see cursimeter run "
            "--help\n");
    refuses("net " + bearer_file + " --hands calmm",
            "--hands: there is no 'calmm'; did you mean 'calm'? see cursimeter net --help\n");
    refuses("scout " + bearer_file + " --seeds 0",
            "--seeds: 0 is out of range; give 1 to 100000; see cursimeter scout --help\n");
    for (const char* const call : {"net", "check", "scout"}) {
        refuses(
            call + (" " + bearer_file) + " --seed 18446744073709551616",
            std::string("--seed: 18446744073709551616 is too large; see cursimeter ") + call + " --help\n");
    }
    refuses("sweep " + bearer_file + " --threads 4294967296",
            "--threads: 4294967296 is too large; write one such as 0; see cursimeter sweep --help\n");
    refuses("run " + bearer_file + " --drill", "--drill: needs a value; see cursimeter run --help\n");
    refuses("sweep " + bearer_file + " --vary", "--vary: needs a value; see cursimeter sweep --help\n");
    refuses("net " + bearer_file + " --clients many",
            "--clients: 'many' is not a whole number from 0 up; write one such as 3; see cursimeter net "
            "--help\n");
    refuses("reference map",
            "FORMAT: there is no 'map'; known: chart, drill, course, controls, trials; see cursimeter "
            "reference --help\n");
}

TEST_CASE("files that are missing or wrong are named with what is wrong") {
    refuses("run demo/charts/gone.toml --drill " + quay_file,
            "demo/charts/gone.toml: cannot be read: No such file or directory; check the path and its "
            "permissions\n");
    refuses("run " + bearer_file + " --drill gone.toml",
            "gone.toml: cannot be read: No such file or directory; check the path and its permissions\n");
    refuses("run " + quay_file + " --drill " + bearer_file,
            "demo/drills/quay_boards.toml: is a drill file, not a chart file; check which file goes where\n");
    refuses("run " + bearer_file + " --drill demo/courses/relay.toml",
            "demo/courses/relay.toml: is a course file, not a drill file; check which file goes where\n");
    const Folder folder("broken");
    std::string text = source(bearer_file);
    text.replace(text.find("moving forward"), 14, "moving forwards");
    const std::string broken = folder.write("broken.toml", text);
    refuses("run '" + broken + "' --drill " + quay_file,
            broken +
                ":44:23: states.sprint.enter[2]: 'moving forwards' is not a known fact or comparison; "
                "did you mean 'moving forward'?\n");
}

TEST_CASE("a broken course is named with its place, and nothing is written") {
    const Folder folder("course");
    const std::string run = "run " + bearer_file + " --drill " + quay_file;
    refuses(run + " --course gone.toml", "gone.toml: cannot be read");
    const std::string flat = folder.write("flat.toml",
                                          "format = 1\nname = \"flat\"\n[[box]]\nfrom = [0, 0, 0]\n"
                                          "to = [4, 4, 0]\n");
    refuses(run + " --course '" + flat + "' --map '" + folder.file("m.png") + "'",
            flat + ":3:1: box[1]: has no size along z; let from and to differ by 0.001 m at least\n");
    CHECK(read_file(folder.file("m.png")).empty());
    refuses(run + " --map m.gif",
            "m.gif: --map: is neither a .png nor a .svg file; end its name in one of them\n");
}

TEST_CASE("numbers out of range") {
    const std::string run = "run " + bearer_file + " --drill " + quay_file;
    refuses(run + " --rate 5", "rate: 5 ticks a second is out of range; 10 <= rate <= 100000\n");
    refuses(run + " --rate nan", "rate: nan ticks a second is out of range");
    refuses(run + " --rate 100000 --seconds 86400",
            "rate: 8640000000 ticks in 86400 s would be too many to keep; 2000000 at most: take a lower "
            "rate, or fewer "
            "seconds\n");
    refuses(run + " --seconds 0", "seconds: 0 s is out of range; 0 < seconds <= 86400\n");
}

TEST_CASE("outputs that cannot be written, and old files that stay") {
    const std::string run = "run " + bearer_file + " --drill " + quay_file;
    refuses(run + " --picture p.gif",
            "p.gif: --picture: is neither a .png nor a .svg file; end its name in one of them\n");
    for (const std::string option :
         {"--trace /nowhere/t.csv", "--picture /nowhere/p.png", "--picture /nowhere/p.svg"}) {
        refuses(run + " " + option, "/nowhere/");
    }
    const Folder folder("old");
    const std::string old = folder.write("t.csv", "old");
    CHECK(run_program(run + " --rate 1 --trace '" + old + "'").code == 2);
    CHECK(read_file(old) == "old");
}
