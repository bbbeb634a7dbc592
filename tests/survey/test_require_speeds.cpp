#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/require.hpp>

using namespace cursimeter;
using survey::Decision;
using survey::Ruling;

/// Requirements that are decided by how fast a runner can be.
namespace {

const std::string unless = "a push, a slope, an edge, a zone or moving ground makes it faster";

/// Walks at 2 m/s, sprints at 6, jumps 1 m high under 20 m/s^2, and falls at 40 at most; dashes at 15 and comes out of it at the pace of
/// what follows.
std::string skater(const std::string& more = "", const std::string& rank = "") {
    return "format = 1\nname = \"skater\"\nrank = [" + rank +
           "\"dash\", \"jump\", \"fall\", \"sprint\", \"walk\"]\n"
           "[actions]\nsprint = {}\ndash = {}\njump = {}\ncrouch = {}\n"
           "[states.walk]\nkind = \"ground\"\nspeed = { forward = 2 }\n"
           "gain = { law = \"ramp\", up = 10, down = 10, idle = 5 }\n"
           "[states.sprint]\nlike = \"walk\"\nspeed = { forward = 6 }\nenter = [\"sprint on\"]\n"
           "[states.fall]\nkind = \"air\"\nspeed = { forward = 4 }\n"
           "air = { rise_gravity = 20, fall_gravity = 20, terminal = 40, steer = 10 }\n"
           "enter = [\"not grounded\"]\n"
           "[states.jump]\nlike = \"fall\"\nlaunch = { heights = [1] }\n"
           "enter = [\"jump pressed\"]\nstay = [\"not grounded\", \"rise > 0\"]\n"
           "[states.dash]\nkind = \"burst\"\nburst = { along = [\"facing\"], metres = 3, seconds = 0.2 }\n"
           "enter = [\"dash pressed\"]\n" +
           more;
}

/// A slide that is entered at 6 m/s at most, is boosted to 7, and loses 4 m/s a second.
std::string slide(const std::string& boost = "boost = 2, boost_limit = 7",
                  const std::string& stay = "\"crouch on\", \"grounded\", \"speed > 1\"") {
    return skater("[states.slide]\nkind = \"slide\"\nslide = { " + boost +
                      ", friction = 4 }\nenter = [\"crouch on\", \"grounded\", \"speed > 3\"]\nstay = [" +
                      stay + "]\n",
                  "\"slide\", ");
}

Ruling rule(const std::string& chart, const std::string& words) {
    survey::RequirePlan plan;
    plan.ticks = 60'000;
    return survey::rule_on(parse_chart(chart, "skater.toml").spec, words, plan);
}

/// Proven, and only by how fast it can be.
void check_proven(const std::string& chart, const std::string& words) {
    CAPTURE(words);
    const Ruling ruling = rule(chart, words);
    CHECK(ruling.decision == Decision::proven);
    CHECK(ruling.unless == unless);
}
void check_open(const std::string& chart, const std::string& words) {
    CAPTURE(words);
    CHECK(rule(chart, words).decision != Decision::proven);
}

}  // namespace

TEST_CASE("require: no state is faster than its target and what came before it") {
    // Out of a sprint into a walk at 6 m/s; a dash ends at the walk's own pace. The number of the chart itself is no breach.
    check_proven(skater(), "never walk with speed > 6, grounded");
    check_open(skater(), "never walk with speed > 5.9, grounded");
    check_proven(skater(), "never sprint with speed > 6, grounded");
    check_proven(skater(), "never dash with speed > 15");
    check_open(skater(), "never dash with speed > 14.9");
    // 1 m high under 20 m/s^2 takes 6.3246 m/s
    check_proven(skater(), "never jump with rise > 6.3246");
    check_open(skater(), "never jump with rise > 6.32");
    // Thrown at 6 m/s level it falls at 40: 40.447 together
    check_proven(skater(), "never fall with rise < -40");
    check_proven(skater(), "never speed > 40.4476");
    check_open(skater(), "never speed > 40.447");
}

TEST_CASE("require: what speeds are not asked for is proven as before, whatever makes it faster") {
    const Ruling ruling = rule(slide(), "never slide with not crouch on");
    CHECK(ruling.decision == Decision::proven);
    CHECK(ruling.unless.empty());
}

TEST_CASE("require: after a dash the speed is what its chart says") {
    std::string keeps = skater();
    keeps.replace(keeps.find("seconds = 0.2"), 13, "seconds = 0.2, after = \"keep\"");
    check_proven(keeps, "never walk with speed > 15, grounded");
    check_open(keeps, "never walk with speed > 14, grounded");
    std::string stops = skater();
    stops.replace(stops.find("seconds = 0.2"), 13, "seconds = 0.2, after = \"stop\"");
    check_proven(stops, "never walk with speed > 6, grounded");
}

TEST_CASE("require: a slide lasts as long as friction takes") {
    // From 7 m/s down to 1 at 4 m/s^2: 1.5 s.
    const Ruling ruling = rule(slide(), "slide ends within 1.5 s");
    CHECK(ruling.decision == Decision::proven);
    CHECK(ruling.because == "what keeps slide is over after 1.5 s");
    CHECK(ruling.unless == unless);
    check_open(slide(), "slide ends within 1.49 s");
    check_proven(slide("boost = 0"), "slide ends within 1.25 s");  // from 6
    // In the air nothing slows it down, and whether it stays on the ground is not known.
    check_open(slide("boost = 0", "\"crouch on\", \"speed > 1\""), "slide ends within 5 s");
}

TEST_CASE("require: who coasts comes to rest by the gain") {
    // From 6 m/s down to 1 at 5 m/s^2: 1 s. Who steers may go on for ever.
    const auto skid = [](const std::string& stay) {
        return skater(
            "[states.skid]\nlike = \"walk\"\nenter = [\"not moving\", \"speed > 3\", \"grounded\"]\nstay = "
            "[" +
                stay + "]\n",
            "\"skid\", ");
    };
    check_proven(skid("\"not moving\", \"speed > 1\", \"grounded\""), "skid ends within 1 s");
    check_open(skid("\"not moving\", \"speed > 1\", \"grounded\""), "skid ends within 0.99 s");
    check_open(skid("\"speed > 1\", \"grounded\""), "skid ends within 5 s");
}

TEST_CASE("require: a flight goes where it looks, and as its keys say") {
    // 8 m/s along the look; up 3, down 2 by keys; it sinks at 1. Entered from a walk, and left for it on the ground.
    const auto flight = [](const std::string& fly, const std::string& gain = "up = 10, down = 10") {
        return skater("[states.fly]\nkind = \"fly\"\nspeed = { forward = 8 }\ngain = { law = \"ramp\", " +
                          gain +
                          " }\nfly = { up = \"jump\", down = \"crouch\", climb = 3, dive = 2, sink = 1, " +
                          fly + " }\nenter = [\"dash on\", \"not grounded\"]\n",
                      "\"fly\", ");
    };
    const std::string by_look = flight("by_look = true"), level = flight("by_look = false");
    // It may have been falling at 40 before.
    check_proven(by_look, "never fly with rise > 10");
    check_open(by_look, "never fly with rise > 9.9");
    check_proven(level, "never fly with rise > 6.3246");  // that of the jump before
    check_open(level, "never fly with rise > 6.3");
    check_proven(by_look, "never fly with rise < -40");
    check_open(by_look, "never fly with rise < -39");
    // What turns at once takes the speed of a fall along, and falls again: each time it is faster.
    const std::string at_once = flight("by_look = true", "turn = \"at_once\", up = 10, down = 10");
    check_open(at_once, "never fly with rise > 39");
    check_open(at_once, "never fly with rise > 1000");
}

TEST_CASE("require: a flight from the ground falls no faster than it dives") {
    const auto swift = [](const std::string& by_look) {
        return "format = 1\nname = \"swift\"\nrank = [\"fly\"]\n[actions]\ndive = {}\nclimb = "
               "{}\n[states.fly]\nkind = "
               "\"fly\"\nspeed = { forward = 8 }\ngain = { law = \"instant\" }\nfly = { down = \"dive\", "
               "dive = 2, sink = 1, "
               "by_look = " +
               by_look + " }\n";
    };
    check_proven(swift("true"), "never fly with rise < -11");
    check_open(swift("true"), "never fly with rise < -10.9");
    check_proven(swift("false"), "never fly with rise < -3");
    check_open(swift("false"), "never fly with rise < -2.9");
}

TEST_CASE("require: a wall run climbs as its chart says, and falls for as long as it lasts") {
    const std::string chart = skater(
        "[states.run]\nkind = \"wall\"\nspeed = { forward = 6 }\ngain = { law = \"ramp\", up = 6, down = 6 "
        "}\n"
        "wall = { seconds = 1.5, climb = 8, gravity = 5, growth = 6 }\nenter = [\"not grounded\"]\n",
        "\"run\", ");
    check_proven(chart, "never run with rise > 8");
    check_open(chart, "never run with rise > 7.9");
    // (5 + 6 * 1.51) * 1.51 m/s at most, in truth 14.4 - 8.
    check_proven(chart, "never run with rise < -21.3");
    check_open(chart, "never run with rise < -6.3");
}

TEST_CASE("require: a burst that falls gathers speed while it lasts, and one that is aimed goes anywhere") {
    std::string falls = skater();
    falls.replace(falls.find("seconds = 0.2"), 13, "seconds = 0.2, gravity = true");
    falls += "air = { rise_gravity = 20, fall_gravity = 20 }\n";
    check_proven(falls,
                 "never dash with rise < -4.21");  // 20 m/s^2 for 0.2 s and the 10 ms that do not count
    check_open(falls, "never dash with rise < -3.9");
    check_proven(skater(), "never dash with rise > 0.001");
    std::string aimed = skater();
    aimed.replace(aimed.find("\"facing\""), 8, "\"look\"");
    check_proven(aimed, "never dash with rise > 15");
    check_open(aimed, "never dash with rise > 14.9");
}

TEST_CASE("require: boosts that each slide adds anew end at their limit, or nowhere") {
    // Slide, jump, slide again: each time 2 m/s more.
    check_proven(slide(), "never slide with speed > 7");
    check_open(slide(), "never slide with speed > 6.99");
    check_open(slide("boost = 2"), "never slide with speed > 30");
    // Nor need there be another state in between.
    const std::string kicks =
        "format = 1\nname = \"kicks\"\nrank = [\"skate\"]\n[actions]\nkick = {}\n[states.skate]\nkind = "
        "\"slide\"\n"
        "slide = { boost = 2, friction = 1 }\nagain = true\nenter = [[\"kick pressed\"], [\"speed < "
        "1\"]]\nstay = []\n";
    CHECK(rule(kicks, "never skate with speed > 5, grounded").decision == Decision::refuted);
}

TEST_CASE("require: what asks for less speed lets nobody in that is faster") {
    const std::string chart = skater(
        "[states.creep]\nlike = \"walk\"\nspeed = { forward = 1 }\n"
        "enter = [\"crouch on\", \"grounded\", \"speed < 3\"]\nstay = [\"crouch on\", \"grounded\"]\n",
        "\"creep\", ");
    check_proven(chart, "never creep with speed > 3");
    check_open(chart, "never creep with speed > 2.9");
}

TEST_CASE("require: a state that only a speed out of reach leads to is never entered") {
    const auto tumble = [](const std::string& from) {
        std::string chart = skater("[states.tumble]\nlike = \"walk\"\nenter = [\"grounded\", \"speed > " +
                                       from + "\"]\nstay = [\"grounded\", \"speed > 5\"]\n",
                                   "\"tumble\", ");
        return chart.replace(chart.find("seconds = 0.2"), 13, "seconds = 0.2, after = \"keep\"");
    };
    check_proven(tumble("15"), "never tumble");
    CHECK(rule(tumble("15"), "never tumble").because == "no moment brings tumble about");
    CHECK(rule(tumble("14"), "never tumble").decision == Decision::refuted);
}

TEST_CASE("require: modifiers count at their strongest") {
    // Granted at 2.55 times its strength, half again as fast is 2.275 times: 13.65 m/s.
    const std::string haste = "[modifiers.haste]\nseconds = 5\naffects = [{ what = \"speed\", times = 1.5";
    check_proven(skater(haste + " }]\n"), "never sprint with speed > 13.651, grounded");
    check_open(skater(haste + " }]\n"), "never sprint with speed > 13.64, grounded");
    check_proven(skater(haste + ", at_most = 8 }]\n"), "never sprint with speed > 8, grounded");
    const std::string slowed =
        "[modifiers.slowed]\nseconds = 5\naffects = [{ what = \"speed\", times = 0.5 }]\n";
    check_proven(skater(slowed), "never sprint with speed > 6, grounded");
    // Three stacks of each of sixteen granters: 6 + 48 * 2.55 * 0.5 m/s. What is set counts where it is more.
    const std::string drive =
        "[modifiers.drive]\nstacking = \"count\"\nmost = 3\naffects = [{ what = \"speed\", adds = 0.5 }]\n";
    check_proven(skater(drive), "never sprint with speed > 67.21, grounded");
    check_open(skater(drive), "never sprint with speed > 67.1, grounded");
    const std::string tow = "[modifiers.tow]\nseconds = 1\naffects = [{ what = \"speed\", sets = 9 }]\n";
    check_proven(skater(tow), "never sprint with speed > 9, grounded");
    check_open(skater(tow), "never sprint with speed > 8.9, grounded");
    // Who walks aside may be faster than ahead.
    std::string crab = skater();
    crab.replace(crab.find("forward = 2"), 11, "forward = 2, side = 7");
    check_open(crab, "never walk with speed > 6.9, grounded");
}
