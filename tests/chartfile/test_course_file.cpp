#include <catch2/catch.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <fstream>
#include <sstream>

#include "support/bearer.hpp"

using namespace support;

namespace {

const std::string quay = R"(format = 1
name   = "quay"
[[box]]
from = [0, 0, -1]
to   = [10, 4, 0]
[[platform]]
size  = [2, 2, 0.5]
path  = [[0, 0, 1], [5, 0, 1]]
speed = 2
[[zone]]
kind = "mud"
from = [0, 0, 0]
to   = [1, 1, 1]
pace = 0.5
push = { strength = 3 }
[[leg]]
name   = "all of it"
start  = { from = [0, 0, 0], to = [0, 4, 0] }
finish = { from = [9, 0, 0], to = [9, 4, 0] }
)";

/// What is said about the quay with one piece of text put in the place of another.
std::string told_of_quay(const std::string& old_text, const std::string& new_text) {
    std::string text = quay;
    const std::size_t at = text.find(old_text);
    REQUIRE(at != std::string::npos);
    text.replace(at, old_text.size(), new_text);
    return complaint([&] { static_cast<void>(parse_course(text, "c.toml")); });
}

}  // namespace

TEST_CASE("a course is read, written and read back equal") {
    const Course course = parse_course(quay, "c.toml");
    CHECK(course.solids().size() == 2);
    CHECK(course.spec().zones[0].push->strength == 3.0);
    CHECK(course.spec().legs[0].name == "all of it");
    CHECK(parse_course(format_course(course.spec()), "again").spec() == course.spec());
    const Course relay = load_course(std::string(CURSIMETER_SOURCE_DIR) + "/demo/courses/relay.toml");
    CHECK(parse_course(format_course(relay.spec()), "again").spec() == relay.spec());
}

TEST_CASE("what is wrong with a course is told with file, line, column and a mend") {
    CHECK(told_of_quay("to   = [10, 4, 0]", "to   = [10, 4, -1]") ==
          "c.toml:3:1: box[1]: has no size along z; let from and to differ by 0.001 m at least");
    CHECK(told_of_quay("to   = [10, 4, 0]", "to   = [10, nan, 0]") ==
          "c.toml:5:1: box[1].to: is not a finite number; -1000000 <= to <= 1000000 m");
    CHECK(told_of_quay("to   = [10, 4, 0]", "to   = [10, 4]") ==
          "c.toml:5:1: box[1].to: is not a list of three numbers; write [x, y, z] in m");
    CHECK(told_of_quay("pace = 0.5", "pce = 0.5") ==
          "c.toml:14:1: zone[1].pce: is not a known key here; did you mean 'pace'?");
    CHECK(told_of_quay("[[box]]", "[[boxes]]") ==
          "c.toml:3:3: boxes: is not a known key here; did you mean 'box'?");
    CHECK(told_of_quay("[[0, 0, 1], [5, 0, 1]]", "[[0, 0, 1]]") ==
          "c.toml:8:1: platform[1].path: leads nowhere; give two different points at least");
    CHECK(told_of_quay("size  = [2, 2, 0.5]", "size  = [2, 0, 0.5]") ==
          "c.toml:7:1: platform[1].size: has no size along y; 0.001 m at least");
    CHECK(told_of_quay("to = [0, 4, 0]", "to = [0, 0, 0]") ==
          "c.toml:18:1: leg[1].start: has no width; let from and to differ along x or y");
    CHECK(told_of_quay("speed = 2", "speed = 0") ==
          "c.toml:9:1: platform[1].speed: 0 is out of range; 0.001 <= speed <= 100 m/s");
    CHECK(told_of_quay("{ strength = 3 }", "{ strength = 3, lift = 2 }")
              .starts_with("c.toml:15:24: zone[1].push.lift: 2 is out of range"));
    CHECK(complaint([] { static_cast<void>(load_course("no/such/file.toml")); }).find("no/such/file.toml") !=
          std::string::npos);
}

TEST_CASE("the course reference in docs is the generated one") {
    std::ifstream in(std::string(CURSIMETER_SOURCE_DIR) + "/docs/course-reference.md");
    std::ostringstream text;
    text << in.rdbuf();
    CHECK(text.str() == course_reference());
}
