#include <fmt/format.h>

#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/chartfile/trials_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <fstream>
#include <sstream>

#include "controls/controls_keys.hpp"
#include "core/chart/chart_keys.hpp"
#include "course/course_keys.hpp"
#include "drill/drill_keys.hpp"
#include "support/bearer.hpp"

using namespace cursimeter;

namespace {

std::string read(const std::string& file) {
    std::ifstream in(std::string(CURSIMETER_SOURCE_DIR) + "/" + file);
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}

/// Compares the default that the table promises with the default that a fresh spec has.
class DefaultCheck {
  public:
    int checked = 0;

    void meet(const keys::Key& key, const keys::Value<double>& value, const void* spec) {
        compare(key, value.optional, value.said(spec));
    }
    void meet(const keys::Key& key, const keys::Value<int>& value, const void* spec) {
        compare(key, value.optional, value.said(spec));
    }
    void meet(const keys::Key& key, const keys::Value<bool>& value, const void* spec) {
        if (value.optional) {
            CHECK(value.said(spec) == nullptr);
        } else {
            CHECK(*value.said(spec) == (key.fallback == "true"));
            ++checked;
        }
    }
    void meet(const keys::Key& key, const keys::Choice& choice, const void* spec) {
        CHECK(choice.said(spec).has_value() == !choice.optional);
        for (const keys::Word& word : choice.words) {
            if (!choice.optional && word.name == key.fallback) {
                CHECK(word.value == *choice.said(spec));
                ++checked;
            }
        }
    }
    void meet(const keys::Key& /*key*/, const keys::Choices& choices, const void* spec) {
        CHECK_FALSE(choices.said(spec));
    }
    void meet(const keys::Key& key, const keys::Value<keys::Vector3>& value, const void* spec) {
        if (value.optional) {
            CHECK(value.said(spec) == nullptr);
        } else if (!key.required()) {
            const keys::Vector3& said = *value.said(spec);
            CAPTURE(key.name);
            CHECK(fmt::format("[{}, {}, {}]", said[0], said[1], said[2]) == key.fallback);
            ++checked;
        }
    }
    /// Lists, texts, conditions: not said, or empty.
    template <class T>
    void meet(const keys::Key& /*key*/, const keys::Value<T>& value, const void* spec) {
        CHECK((value.said(spec) == nullptr) == value.optional);
        if (!value.optional) {
            CHECK(*value.said(spec) == T{});
        }
    }
    void meet(const keys::Key& /*key*/, const keys::Inner& inner, const void* spec) {
        if (const void* said = inner.said(spec)) {
            keys::walk(inner.rows, said, *this);
        }
    }
    template <class List>
    void meet_all(const List& list, const void* spec) {
        for (std::size_t i = 0; i < list.count(spec); ++i) {
            keys::walk(list.rows, list.at(spec, i), *this);
        }
    }
    void meet(const keys::Key& /*key*/, const keys::Named& named, const void* spec) { meet_all(named, spec); }
    void meet(const keys::Key& /*key*/, const keys::Listed& listed, const void* spec) {
        meet_all(listed, spec);
    }

  private:
    template <class T>
    void compare(const keys::Key& key, bool optional, const T* value) {
        if (optional) {
            CHECK(value == nullptr);
        } else if (!key.required() &&
                   key.fallback.find_first_not_of("0123456789.") == std::string_view::npos) {
            CAPTURE(key.name);
            CHECK(*value == std::stod(std::string(key.fallback)));
            ++checked;
        }
    }
};

template <class Spec>
void check_defaults(DefaultCheck& check, const keys::Table<Spec>& table, const Spec& fresh) {
    keys::walk(table.rows, static_cast<const void*>(&fresh), check);
}

}  // namespace

TEST_CASE("the references in docs/ are those of the key table") {
    // Write them anew with: cursimeter reference chart > docs/chart-reference.md (and drill likewise).
    CHECK(read("docs/chart-reference.md") == chart_reference());
    CHECK(read("docs/drill-reference.md") == drill_reference());
    CHECK(read("docs/course-reference.md") == course_reference());
    CHECK(read("docs/controls-reference.md") == controls_reference());
    CHECK(read("docs/trials-reference.md") == trials_reference());
}

TEST_CASE("a reference has a row for every key, with its unit, default and range") {
    const std::string chart = chart_reference();
    for (const char* row :
         {"| `format` | whole number |  | required | from 1 to 1 | version of the file format |",
          "| `forward_within` | number | deg | 60 | from 1 to 89 |",
          "| `press` | text |  | hold | \"hold\", \"toggle\" |",
          "| `capacity` | number |  | required | from 0.001 to 1000000 |",
          "| `wait` | number | s | 0 | from 0 to 500 |", "## `[states.NAME.gain]`",
          "| `up` | number | m/s^2 | required for ramp | above 0 to 10000 |",
          "| `drain` | table: meter = number | per second | none | from 0 to 1000000 |"}) {
        CAPTURE(row);
        CHECK(chart.find(row) != std::string::npos);
    }
    CHECK(drill_reference().find("## `[repeat.step]`") != std::string::npos);
    CHECK(course_reference().find("## `[zone.push]`") != std::string::npos);
    CHECK(course_reference().find("| `pace` | number |  | 1 | from 0 to 10 |") != std::string::npos);
}

TEST_CASE("the complete charts and drills in the guide load") {
    const std::string guide = read("docs/guide.md");
    std::vector<std::string> files;
    for (std::size_t at = guide.find("```toml\nformat"); at != std::string::npos;
         at = guide.find("```toml\nformat", at + 1)) {
        files.push_back(guide.substr(at + 8, guide.find("```", at + 8) - at - 8));
    }
    REQUIRE(files.size() == 2);
    CHECK(parse_chart(files[0], "guide.md").chart.name() == "bearer");
    const Chart demo = load_chart(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/bearer.toml").chart;
    CHECK(parse_drill(files[1], "guide.md", demo).drill.name() == "two sprints");
}

TEST_CASE("the defaults that the table promises are those of the specs") {
    DefaultCheck check;
    ChartSpec chart;
    chart.actions.resize(1);
    chart.meters.resize(1);
    chart.meters[0].refill.emplace();
    chart.meters[0].spent.emplace();
    chart.cooldowns.resize(1);
    chart.modifiers.resize(1);
    chart.blocks.resize(1);
    chart.states.resize(1);
    check_defaults(check, keys::chart_table(), chart);
    DrillSpec drill;
    drill.repeats.resize(1);
    check_defaults(check, keys::drill_table(), drill);
    check_defaults(check, keys::controls_table(), ControlsSpec());
    CourseSpec course;
    course.boxes.resize(1);
    course.ramps.resize(1);
    course.walls.resize(1);
    course.ceilings.resize(1);
    course.platforms.resize(1);
    course.zones.resize(1);
    course.zones[0].push.emplace();
    course.legs.resize(1);
    check_defaults(check, keys::course_table(), course);
    CHECK(check.checked >= 40);
}

TEST_CASE("the bounds that pages state are those of the code") {
    const std::string tool = read("docs/tool.md"), security = read("SECURITY.md");
    const auto states = [](const std::string& page, const std::string& text) {
        CAPTURE(text);
        CHECK(page.find(text) != std::string::npos);
    };
    const std::string megabytes = std::to_string(most_text_bytes / 1'000'000) + " MB",
                      gigabytes = std::to_string(most_recording_bytes / 1'000'000'000) + " GB",
                      errors = std::to_string(most_diagnostics);
    states(tool,
           "Texts of more than " + megabytes + " are refused, and recordings of more than " + gigabytes);
    states(tool, "The first " + errors + " are listed");
    states(security, "at most " + megabytes);
    states(security, "at most " + gigabytes);
    states(security, "at most " + errors + " errors listed");
    states(security, "a tick is cut at most " + std::to_string(limits::instants_per_tick) + " times");
    const std::string modifiers = std::to_string(limits::modifiers);
    states(read("docs/guide.md"), "Up to " + modifiers + " modifiers work at once");
    states(read("docs/embedding.md"), "one modifier more than " + modifiers + " at work");
    for (const char* page : {"README.md", "docs/other-languages.md"}) {
        states(read(page), "1,280 bytes");
    }
    CHECK(sizeof(Runner) == 1280);
    for (const char* page : {"docs/embedding.md", "include/cursimeter/crowd.hpp"}) {
        states(read(page), "1,467 bytes for each");
    }
    CHECK(sizeof(Runner) + sizeof(detail::LaneBlock) / detail::lanes_of_block + 3 == 1467);
}

TEST_CASE("what the reference says of a limit is what compile does") {
    using Fill = void (*)(ChartSpec & spec, std::size_t count);
    const std::vector<std::pair<std::string, Fill>> lists{
        {"actions",
         [](ChartSpec& spec, std::size_t count) {
             while (spec.actions.size() < count) {
                 spec.actions.push_back({.name = "n" + std::to_string(spec.actions.size())});
             }
         }},
        {"meters",
         [](ChartSpec& spec, std::size_t count) {
             while (spec.meters.size() < count) {
                 spec.meters.push_back({.name = "n" + std::to_string(spec.meters.size()), .capacity = 1.0});
             }
         }},
        {"cooldowns",
         [](ChartSpec& spec, std::size_t count) {
             while (spec.cooldowns.size() < count) {
                 spec.cooldowns.push_back(
                     {.name = "n" + std::to_string(spec.cooldowns.size()), .seconds = 1.0});
             }
         }},
        {"modifiers",
         [](ChartSpec& spec, std::size_t count) {
             while (spec.modifiers.size() < count) {
                 spec.modifiers.push_back({.name = "n" + std::to_string(spec.modifiers.size()),
                                           .seconds = 1.0,
                                           .affects = {{.what = "speed", .times = 2.0}}});
             }
         }},
        {"blocks",
         [](ChartSpec& spec, std::size_t count) {
             while (spec.blocks.size() < count) {
                 spec.blocks.push_back(
                     {.name = "n" + std::to_string(spec.blocks.size()), .bans = {"movement"}});
             }
         }},
        {"states",
         [](ChartSpec& spec, std::size_t count) {
             while (spec.states.size() < count) {
                 StateSpec state = spec.states.front();
                 state.name = "n" + std::to_string(spec.states.size());
                 spec.rank.push_back(state.name);
                 spec.states.push_back(state);
             }
         }},
        {"thresholds", [](ChartSpec& spec, std::size_t count) {
             spec.meters = {{.name = "stamina", .capacity = 100.0}};
             while (spec.meters[0].thresholds.size() < count) {
                 const std::size_t i = spec.meters[0].thresholds.size();
                 spec.meters[0].thresholds.push_back(
                     {.name = "n" + std::to_string(i), .level = 1.0 + static_cast<double>(i)});
             }
         }}};
    const std::string reference = chart_reference();
    for (const auto& [list, fill] : lists) {
        CAPTURE(list);
        const std::string row = "| `" + list + "` | tables by name |";
        const std::size_t at = reference.find(row);
        REQUIRE(at != std::string::npos);
        const std::size_t said = reference.find("up to ", at);
        const auto most = static_cast<std::size_t>(std::stoul(reference.substr(said + 6)));
        ChartSpec full = support::walker({.forward = 1.0, .side = {}, .back = {}});
        fill(full, most);
        CHECK_NOTHROW(static_cast<void>(compile(full)));
        ChartSpec over = support::walker({.forward = 1.0, .side = {}, .back = {}});
        fill(over, most + 1);
        CHECK(support::complaint([&] {
                  static_cast<void>(compile(over));
              }).find("there can be " + std::to_string(most)) != std::string::npos);
    }
}

TEST_CASE("limits that meanings speak of are those of the code") {
    const std::string reference = chart_reference();
    CHECK(reference.find("up to " + std::to_string(limits::modifiers) + " at work at once") !=
          std::string::npos);
    CHECK(reference.find("at most " + std::to_string(limits::buffers) + " actions of a chart can have one") !=
          std::string::npos);
    CHECK(reference.find("at most " + std::to_string(limits::derived_facts) + " different") !=
          std::string::npos);
}
