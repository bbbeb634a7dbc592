#include <catch2/catch.hpp>
#include <fstream>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;
using nlohmann::json;

TEST_CASE("sweep: a table in order, gone on with where it was left, and pictures") {
    const Folder folder("sweep");
    const std::string call =
        "sweep " + bearer_file +
        " --vary states.sprint.speed.forward=5:6:0.5 --figure sprint.top_forward --figure jump.height";
    const Outcome table = run_program(call);
    CHECK(table.code == 0);
    const std::string heading = "states.sprint.speed.forward,sprint.top_forward,jump.height,trouble (chart ";
    CHECK(table.out.find(heading) == 0);
    CHECK(contains(table.out, "\n5,5,1.3,\n5.5,5.5,1.3,\n6,6,1.3,\n"));
    const std::string out = folder.file("s.csv"), picture = folder.file("s.png");
    const Outcome first = run_program(call + " -o '" + out + "' --picture '" + picture + "'");
    CHECK(first.out == "3 rows, 0 of them known before\nwrote " + out + "\nwrote " + picture + "\n");
    CHECK(read_file(out) == table.out);
    CHECK(read_file(picture).substr(1, 3) == "PNG");
    // Interrupted in the middle of a row: the whole ones count.
    std::ofstream(out + ".part") << table.out.substr(0, table.out.size() - 4);
    std::remove(out.c_str());
    CHECK(run_program(call + " -o '" + out + "'").out ==
          "3 rows, 2 of them known before\nwrote " + out + "\n");
    CHECK(read_file(out) == table.out);
    CHECK(read_file(out + ".part").empty());
    // Of another chart nothing counts.
    CHECK(
        contains(run_program("sweep demo/charts/eel.toml --vary states.sprint.speed.forward=5:6:0.5 --figure "
                             "sprint.top_forward --figure jump.height -o '" +
                             out + "'")
                     .out,
                 "0 of them known before"));
    const Outcome heat =
        run_program("sweep " + bearer_file +
                    " --vary states.sprint.speed.forward=5:6:0.5 --vary "
                    "states.sprint.drain.stamina=10:12:1 --figure sprint.seconds --picture '" +
                    folder.file("h.svg") + "' --json");
    CHECK(json::parse(heat.out)["rows"].size() == 9);
    CHECK(contains(read_file(folder.file("h.svg")), "<svg"));
    refuses("sweep " + bearer_file + " --vary states.sprint.speed.forwards=5:9:1 --figure sprint.distance",
            "states.sprint.speed.forwards: is no number of this chart; did you mean "
            "'states.sprint.speed.forward'?");
    refuses("sweep " + bearer_file + " --vary states.sprint.speed.forward=5:9:1 --figure sprint.distanc",
            "sprint.distanc: is no figure of this chart; did you mean 'sprint.distance'?");
}

TEST_CASE("sweep: the rows that no other beats in two figures") {
    const Folder folder("best");
    // A faster sprint goes farther in a second and less long: each row is the best of its kind, but for dearer ones.
    const std::string call =
        "sweep " + bearer_file +
        " --vary states.sprint.speed.forward=5:7:1 --vary states.sprint.drain.stamina=10:14:2"
        " --figure sprint.top_forward --figure sprint.seconds";
    const std::string picture = folder.file("f.png");
    const Outcome best = run_program(
        call + " --best 'more sprint.top_forward' --best 'more sprint.seconds' --picture" + quoted(picture));
    REQUIRE(best.code == 0);
    CHECK(std::count(best.out.begin(), best.out.end(), '\n') ==
          3 + 2);  // heading, three rows, what was written
    CHECK(contains(best.out, "\n7,10,7,"));
    CHECK(contains(best.out, "\n5,10,5,"));
    CHECK_FALSE(contains(best.out, ",12,"));
    CHECK(read_file(picture).substr(1, 3) == "PNG");
    const json told = json::parse(
        run_program(call + " --best 'less sprint.top_forward' --best 'less sprint.seconds' --json").out);
    CHECK(told["rows"].size() == 9);
    CHECK(told["best"] == json::array({2, 5, 8}));  // 5, 6 and 7 m/s at the dearest
    refuses(call + " --best 'more sprint.top_forward'", "--best: weighs two figures against each other; ");
    refuses(call + " --best sprint.seconds", "--best: 'sprint.seconds' wants neither more nor less; ");
    refuses(call + " --best 'more jump.height' --best 'more sprint.seconds'",
            "--best: 'jump.height' is not told; add --figure jump.height\n");
}

TEST_CASE("sweep: legs of a course and kept expectations are figures of a run") {
    const Folder folder("legs");
    const std::string drill = "demo/drills/relay_bearer.toml", course = "demo/courses/relay.toml";
    const std::string of_run = " --drill " + drill + " --course " + course;
    const std::string call =
        "sweep " + bearer_file + " --vary states.sprint.speed.forward=6:6.5:0.5" + of_run;
    const Outcome table =
        run_program(call + " --figure sprint.top_forward --figure leg.sea_wall --figure trial.kept --json");
    REQUIRE(table.code == 0);
    const json rows = json::parse(table.out)["rows"];
    REQUIRE(rows.size() == 2);
    CHECK(rows[1]["values"][0] == 6.5);
    // As the run itself tells it, and the trial.
    double seconds = 0.0;
    const json run = json::parse(run_program("run " + bearer_file + of_run + " --json").out);
    for (const json& leg : run["legs"]) {
        seconds = leg["leg"] == "sea wall" ? leg["seconds"].get<double>() : seconds;
    }
    CHECK(rows[1]["values"][1].get<double>() == Approx(seconds).margin(1e-9));
    CHECK(rows[1]["values"][2] == 3.0);
    CHECK(rows[0]["values"][2].get<double>() < 3.0);  // slower: something that was agreed is broken
    // A table of another run is not gone on with.
    const std::string out = folder.file("s.csv");
    const std::string plain =
        "sweep " + bearer_file + " --vary states.sprint.speed.forward=6:6.5:0.5 --figure trial.kept ";
    CHECK(contains(run_program(plain + of_run + " -o" + quoted(out)).out, "2 rows, 0 of them known"));
    CHECK(contains(run_program(plain + of_run + " -o" + quoted(out)).out, "2 rows, 2 of them known"));
    CHECK(
        contains(run_program(plain + of_run + " --rate 50 -o" + quoted(out)).out, "2 rows, 0 of them known"));
    refuses(call + " --figure leg.sea_wal",
            "leg.sea_wal: is no figure of this chart or run; did you mean 'leg.sea_wall'?\n");
    refuses(plain, "trial.kept: is no figure of this chart; ");
    refuses(call + " --rate 5 --figure trial.kept", "rate: 5 ");
}
