#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/tryout/figure_watch.hpp>
#include <cursimeter/tryout/tuning.hpp>
#include <fstream>
#include <random>
#include <sstream>
#include <thread>

#include "support/bearer.hpp"
#include "support/share.hpp"
#include "tryout/demo.hpp"

using namespace support;
using tryout::Tuning;

namespace {

std::string text_of(const std::string& name) {
    std::ifstream in(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/" + name + ".toml");
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}

double value(const Tuning& tuning, const std::string& path) {
    return survey::chart_value(tuning.spec(), path).value.value();
}

}  // namespace

TEST_CASE("a number that was turned is saved among the comments and the layout of its file", "[tryout]") {
    const std::string text = text_of("bearer");
    Tuning tuning(text, "bearer.toml");
    CHECK(tuning.text_to_save() == text);
    tuning.set("states.sprint.speed.forward", 7.25);
    tuning.set("meters.stamina.capacity", 120.0);
    std::string wanted = text;
    wanted.replace(wanted.find("forward = 6.5"), 13, "forward = 7.25");
    wanted.replace(wanted.find("capacity = 100"), 14, "capacity = 120");
    CHECK(tuning.text_to_save() == wanted);
    CHECK(tuning.chart().digest() == parse_chart(wanted, "").chart.digest());
    const std::vector<tryout::ChangedValue> changed = tuning.changed();
    REQUIRE(changed.size() == 2);
    CHECK(changed[0].path == "meters.stamina.capacity");
    CHECK(changed[0].saved == 100.0);
    CHECK(changed[0].now == 120.0);
    tuning.mark_saved(wanted);
    CHECK(tuning.changed().empty());
    CHECK(tuning.saved_text() == wanted);
    REQUIRE(tuning.undo());
    CHECK(tuning.is_changed("meters.stamina.capacity"));
    CHECK(tuning.text_to_save().find("capacity = 100") != std::string::npos);
}

TEST_CASE("turns are undone and done again, a drag in one step", "[tryout]") {
    Tuning tuning(text_of("bearer"), "bearer.toml");
    const std::uint64_t begun = tuning.chart().digest();
    for (int i = 1; i <= 50; ++i) {
        tuning.set("states.walk.speed.forward", 2.4 + 0.01 * i);
    }
    tuning.end_turn();
    tuning.set("states.walk.speed.forward", 4.0);
    tuning.set("states.walk.gain.up", 20.0);
    CHECK(value(tuning, "states.walk.gain.up") == 20.0);
    CHECK(tuning.undo());
    CHECK(value(tuning, "states.walk.gain.up") == 12.0);
    CHECK(tuning.undo());
    CHECK(value(tuning, "states.walk.speed.forward") == Approx(2.9));
    CHECK(tuning.redo());
    CHECK(value(tuning, "states.walk.speed.forward") == 4.0);
    CHECK(tuning.undo());
    CHECK(tuning.undo());
    CHECK(tuning.chart().digest() == begun);
    CHECK_FALSE(tuning.undo());
    CHECK(tuning.changed().empty());
    CHECK(tuning.redo());
    tuning.set("states.walk.gain.up", 20.0);
    CHECK_FALSE(tuning.redo());  // another way was taken
    CHECK(tuning.undo());
    CHECK(tuning.take_in(tuning.saved_text()).empty());
    CHECK_FALSE(tuning.redo());  // it was of the file as it was
    CHECK_FALSE(tuning.undo());
}

TEST_CASE("what cannot be is refused by name and changes nothing", "[tryout]") {
    Tuning tuning(text_of("bearer"), "bearer.toml");
    const std::uint64_t edition = tuning.edition();
    CHECK(complaint([&] {
              tuning.set("states.walk.speed.forwards", 3.0);
          }).find("states.walk.speed.forward") != std::string::npos);
    CHECK(complaint([&] { tuning.set("states.walk.speed.forward", -3.0); }).find("out of range") !=
          std::string::npos);
    CHECK(complaint([&] { tuning.set("states.walk.speed.forward", std::nan("")); }).find("out of range") !=
          std::string::npos);
    // In range by itself, and wrong with the rest of the chart.
    CHECK(complaint([&] { tuning.set("meters.stamina.capacity", 20.0); }).find("above the capacity") !=
          std::string::npos);
    CHECK(tuning.edition() == edition);
    CHECK_FALSE(tuning.can_undo());
    CHECK(tuning.changed().empty());
    CHECK(complaint([] { Tuning("format = 1\n", "empty.toml"); }).find("empty.toml") != std::string::npos);
}

TEST_CASE("numbers go back to what the file says one by one, also those that it does not say", "[tryout]") {
    Tuning tuning(text_of("bearer"), "bearer.toml");
    const std::uint64_t begun = tuning.chart().digest();
    tuning.set("states.sprint.speed.side", 3.0);  // taken over from walk until now
    tuning.set("body.radius", 0.4);               // a default
    tuning.set("states.walk.gain.up", 9.0);
    CHECK(tuning.changed().size() == 3);
    CHECK_FALSE(tuning.revert("states.walk.gain.down"));
    CHECK(tuning.revert("states.walk.gain.up"));
    CHECK(tuning.revert("states.sprint.speed.side"));
    CHECK(tuning.changed().size() == 1);
    CHECK(tuning.revert("body.radius"));
    CHECK(tuning.chart().digest() == begun);
    CHECK(tuning.undo());
    CHECK(value(tuning, "body.radius") == 0.4);
    CHECK(tuning.text_to_save().find("radius = 0.4") != std::string::npos);
    CHECK(tuning.revert_all());
    CHECK_FALSE(tuning.revert_all());
    CHECK(tuning.chart().digest() == begun);
}

TEST_CASE("a file that somebody else writes is taken in, and what was turned stays turned", "[tryout]") {
    Tuning tuning(text_of("bearer"), "bearer.toml");
    tuning.set("states.walk.gain.up", 9.0);
    tuning.set("states.leap.air.steer", 3.0);
    std::string text = text_of("bearer");
    text.replace(text.find("forward = 6.5"), 13, "forward = 7.5");
    CHECK(tuning.take_in(text).empty());
    CHECK(value(tuning, "states.sprint.speed.forward") == 7.5);
    CHECK(value(tuning, "states.walk.gain.up") == 9.0);
    CHECK(tuning.changed().size() == 2);
    const std::uint64_t before = tuning.chart().digest();
    const std::string mistake = complaint([&] { tuning.take_in(text + "\n[states.walk]\nspeed = 3\n"); });
    CHECK(mistake.find("bearer.toml:") != std::string::npos);
    CHECK(tuning.chart().digest() == before);
    CHECK(tuning.saved_text() == text);
    // A state that is gone takes its number with it, and says so.
    const std::size_t leap = text.find("[states.leap]");
    text.erase(leap, text.find("[states.dash]") - leap);
    text.replace(text.find("\"leap\", "), 8, "");
    const std::vector<std::string> lost = tuning.take_in(text);
    REQUIRE(lost.size() == 1);
    CHECK(lost[0] == "states.leap.air.steer");
    CHECK(tuning.changed().size() == 1);
}

TEST_CASE("numbers are found by parts of their names and meanings", "[tryout]") {
    const Tuning tuning(text_of("bearer"), "bearer.toml");
    const auto found = tuning.find("SPRINT speed");
    REQUIRE_FALSE(found.empty());
    for (const survey::ChartValue* one : found) {
        CHECK(one->path.find("sprint") != std::string::npos);
        CHECK_FALSE(one->meaning.empty());
    }
    CHECK(tuning.find("").size() == tuning.values().size());
    CHECK(tuning.find("no such number").empty());
    const auto radius = tuning.find("body.radius");
    REQUIRE(radius.size() == 1);
    CHECK(radius[0]->fallback == "0.35");
    CHECK(radius[0]->unit == "m");
}

TEST_CASE("whatever is turned at random, what is saved is the chart that was at work", "[tryout]") {
    const unsigned tries = support::share_of(60);
    for (const std::string name : {"bearer", "eel", "gannet", "keeper"}) {
        std::mt19937 random(7);
        Tuning tuning(text_of(name), name);
        const std::vector<survey::ChartValue> values = tuning.values();
        unsigned turned = 0;
        for (unsigned i = 0; i < tries; ++i) {
            const survey::ChartValue& one = values[random() % values.size()];
            const double part = static_cast<double>(random() % 1000) / 1000.0;
            const double wanted =
                one.whole ? 1.0 : std::round((one.value.value_or(1.0) * (0.5 + part)) * 100.0) / 100.0;
            try {
                tuning.set(one.path, wanted);
                ++turned;
            } catch (const ChartError&) {
                continue;
            }
            std::string text;
            try {
                text = tuning.text_to_save();
            } catch (const ChartError& error) {  // a list that is taken over: told, and nothing saved
                CHECK(std::string(error.what()).find("list") != std::string::npos);
                CHECK(tuning.undo());
                continue;
            }
            REQUIRE(parse_chart(text, name).chart.digest() == tuning.chart().digest());
        }
        CHECK(turned * 2 > tries);  // most are taken: what is compared is not a few
        while (tuning.undo()) {
        }
        CHECK(tuning.changed().empty());
    }
}

TEST_CASE("figures of the newest chart are found beside the game, those that differ", "[tryout][long]") {
    const ChartFile file = demo_chart("bearer");
    tryout::FigureWatch watch;
    CHECK_FALSE(watch.answer().whole);
    ChartSpec spec = file.spec;
    for (int i = 0; i < 20; ++i) {  // a drag
        survey::set_chart_value(spec, "meters.stamina.capacity", 100.0 + i);
        watch.ask(file.spec, spec);
    }
    while (!watch.answer().whole) {
        std::this_thread::yield();
    }
    const tryout::FigureWatch::Answer answer = watch.answer();
    CHECK(answer.figures > 20);
    bool seconds = false;
    for (const tryout::FigureChange& change : answer.changes) {
        CHECK(change.name.find("jump.height") == std::string::npos);
        if (change.name == "sprint.seconds") {
            seconds = true;
            CHECK(change.before == Approx(survey::figure(file.spec, "sprint.seconds").value));
            CHECK(change.after == Approx(survey::figure(spec, "sprint.seconds").value));
            CHECK(change.unit == "s");
        }
    }
    CHECK(seconds);
}
