#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;

namespace {

/// Boards with a gap of 3 m, over which the bearer jumps, and a gate behind it.
const std::string boards_course =
    "format = 1\nname = \"boards\"\n[[box]]\nfrom = [-6, -2, -1]\nto = [0, 2, 0]\n[[box]]\nfrom = [3, -2, "
    "-1]\n"
    "to = [9, 2, 0]\n[[leg]]\nname = \"over\"\nstart = { from = [-4, -2, 0], to = [-4, 2, 0] }\n"
    "finish = { from = [5, -2, 0], to = [5, 2, 0] }\n";

}  // namespace

TEST_CASE("scout: the way, its take, its places and its picture are written, and play again") {
    const Folder folder("scout");
    const std::string course = folder.write("boards.toml", boards_course);
    const std::string drill = folder.file("way.toml"), take = folder.file("way.take");
    const std::string call = "scout " + bearer_file + " --course" + quoted(course) +
                             " --start -5,0,0 --leg over --seconds 10 --effort 0.3";
    const Outcome found =
        run_program(call + " -o" + quoted(drill) + " --take" + quoted(take) + " --places" +
                    quoted(folder.file("p.csv")) + " --picture" + quoted(folder.file("p.png")));
    CAPTURE(found.out, found.errors);
    REQUIRE(found.code == 0);
    CHECK(found.out.starts_with("bearer: "));
    CHECK(found.out.find("the end of leg \"over\": reached in ") != std::string::npos);
    for (const char* name : {"way.toml", "way.take", "p.csv", "p.png"}) {
        CHECK(found.out.find("wrote " + folder.file(name)) != std::string::npos);
    }
    const Outcome again = run_program("replay" + quoted(take));
    CHECK(again.code == 0);
    CHECK(again.out.find("the same, bit for bit") != std::string::npos);
    const Outcome run = run_program("run --json " + bearer_file + " --rate 50 --drill" + quoted(drill) +
                                    " --course" + quoted(course));
    REQUIRE(run.code == 0);
    const nlohmann::json ran = nlohmann::json::parse(run.out);
    CHECK(ran["legs"][0]["seconds"].is_number());
    const std::string digest = ran["digest"];
    CHECK(again.out.find(digest) != std::string::npos);
    const std::string places = read_file(folder.file("p.csv"));
    CHECK(places.starts_with("x_m,y_m,z_m,time_s,returns\n"));
    CHECK(std::count(places.begin(), places.end(), '\n') > 150);
    CHECK(read_file(folder.file("p.png")).starts_with("\x89PNG"));

    const Outcome told = run_program(call + " --json");
    const nlohmann::json as_json = nlohmann::json::parse(told.out);
    CHECK(as_json["chart"] == "bearer");
    CHECK(as_json["course"] == "boards");
    CHECK(as_json["goal"] == "the end of leg \"over\"");
    CHECK(as_json["way"]["misses_at"].empty());
    CHECK(as_json["way"]["drill"].get<std::string>().find("[[step]]") != std::string::npos);
    CHECK(as_json["way"]["seconds"].get<double>() ==
          Approx(ran["legs"][0]["ended"].get<double>()).margin(1e-9));
}

TEST_CASE("scout: a goal that is not reached is an exit code of its own, and says what that means") {
    const Folder folder("unreached");
    const std::string course = folder.write("boards.toml", boards_course);
    const Outcome none =
        run_program("scout " + bearer_file + " --course" + quoted(course) +
                    " --start -5,0,0 --leg over --seconds 5 --effort 0.1 --without jump --without dash");
    CHECK(none.code == 1);
    CHECK(none.out.find(
              "no way was found. That proves nothing: search with more --effort, or another --seed\n") !=
          std::string::npos);
}

TEST_CASE("scout: on open ground it tells what beats going on foot, and of two charts what differs",
          "[long]") {
    const Outcome open = run_program("scout demo/charts/eel.toml --distance 40 --effort 1 --seconds 20");
    CAPTURE(open.out, open.errors);
    CHECK(open.code == 0);
    CHECK(open.out.find("40 m ahead: reached in ") != std::string::npos);
    CHECK(open.out.find("by ground states alone ") != std::string::npos);
    CHECK(open.out.find("faster than on foot, by ") != std::string::npos);
    const Folder folder("compare");
    const std::string course = folder.write("boards.toml", boards_course);
    const Outcome two =
        run_program("scout " + bearer_file + " --compare demo/guide/01_walk.chart.toml --course" +
                    quoted(course) + " --start -5,0,0 --seconds 5 --effort 0.25");
    CAPTURE(two.out, two.errors);
    CHECK(two.code == 0);
    CHECK(two.out.find("only bearer gets to ") != std::string::npos);
    // What the other chart has not, it is without; the first one has to have it.
    CHECK(run_program("scout " + bearer_file +
                      " --compare demo/guide/01_walk.chart.toml --without dash --distance 5 "
                      "--seconds 5 --effort 0.1")
              .code == 0);
    const Outcome walker =
        run_program("scout demo/guide/01_walk.chart.toml --distance 5 --seconds 5 --effort 0.1");
    CHECK(walker.out.find("nothing was found that beats going on foot by 3 % or more\n") !=
          std::string::npos);
}

TEST_CASE("scout: a run of another chart may be known, whatever states it expects") {
    const std::string known = "demo/drills/relay_bearer.toml";
    const std::string eel =
        "scout demo/charts/eel.toml -c demo/courses/relay.toml --leg \"quay boards\" --effort 0.5";
    const Outcome found = run_program(eel + " --known " + known);
    CAPTURE(found.out, found.errors);
    CHECK(found.code == 0);
    CHECK(found.out.find("the end of leg \"quay boards\": reached in ") != std::string::npos);
    const Outcome run = run_program("run demo/charts/eel.toml --drill " + known);
    CHECK(run.code == 2);
    CHECK(run.errors.find("the chart has no state named 'wallrun'") != std::string::npos);
}

TEST_CASE("scout: calls that are wrong are told") {
    refuses("scout " + bearer_file + " --goal 1,2",
            "--goal: '1,2' is no place; write X,Y,Z in m, such as 148,0,10\n");
    refuses("scout " + bearer_file + " --start 1,2,x",
            "--start: '1,2,x' is no place; write X,Y,Z in m, with the yaw");
    refuses("scout " + bearer_file + " --leg over", "course: is missing: legs and zones are a course's");
    refuses("scout " + bearer_file + " --effort 0", "effort: 0 is out of range; 0.1 <= effort <= 2000\n");
    refuses("scout " + bearer_file + " --without dahs",
            "without: there is no action named 'dahs'; did you mean 'dash'?\n");
    refuses("scout " + bearer_file + " -c demo/courses/relay.toml --leg \"hole relay\"",
            "leg: there is no leg named 'hole relay'; did you mean 'whole relay'?\n");
    refuses("scout demo/courses/relay.toml", "demo/courses/relay.toml");
}
