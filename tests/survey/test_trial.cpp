#include <catch2/catch.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/trial.hpp>

#include "support/random_chart.hpp"
#include "support/share.hpp"
#include "support/worlds.hpp"

using namespace support;
using survey::Verdict;

/// Expectations held against runs whose times are known in closed form.
namespace {

/// Walks from 0 s on at 2.4 m/s, 10 m/s^2: 2 m/s at 0.2 s, 2.4 at 0.24 s; sprints from 1 s to 2 s.
DrillSpec walk_and_sprint() {
    DrillSpec drill;
    drill.name = "walk and sprint";
    drill.seconds = 3.0;
    StepSpec walk, sprint, stop;
    walk.move = Move{1.0, 0.0};
    sprint.at = 1.0;
    sprint.hold = {"sprint"};
    stop.at = 2.0;
    stop.release = {"sprint"};
    drill.steps = {walk, sprint, stop};
    return drill;
}

const ChartSpec& walker() {
    static const ChartSpec spec = bearer(ramp(10.0, 10.0, 10.0));
    return spec;
}

std::vector<Verdict> judged(const ExpectSpec& expect, double rate = 60.0, const ChartSpec& chart = walker(),
                            const Course* course = nullptr) {
    DrillSpec drill = walk_and_sprint();
    drill.expects = {expect};
    return survey::judge(chart, drill, course, survey::even_ticks(rate, Seconds{drill.seconds}));
}

ExpectSpec in_state(const char* state) {
    ExpectSpec expect;
    expect.state = state;
    return expect;
}
ExpectSpec at(ExpectSpec expect, double time) {
    expect.at = time;
    return expect;
}
ExpectSpec between(ExpectSpec expect, double from, double to) {
    expect.from = from;
    expect.to = to;
    return expect;
}
ExpectSpec after(ExpectSpec expect, const char* term, std::optional<double> within = {}) {
    expect.after = term;
    expect.within = within;
    return expect;
}
ExpectSpec terms(std::vector<std::string> holds) {
    ExpectSpec expect;
    expect.holds = std::move(holds);
    return expect;
}
ExpectSpec never(std::vector<std::string> together) {
    ExpectSpec expect;
    expect.never = std::move(together);
    return expect;
}

void keeps(const ExpectSpec& expect) {
    for (const double rate : {20.0, 60.0, 144.0, 240.0}) {
        const Verdict verdict = judged(expect, rate).at(0);
        CAPTURE(rate, verdict.said, verdict.at, verdict.instead);
        CHECK(verdict.kept);
    }
}
void breaks(const ExpectSpec& expect, double time, const std::string& instead) {
    for (const double rate : {20.0, 60.0, 144.0, 240.0}) {
        const Verdict verdict = judged(expect, rate).at(0);
        CAPTURE(rate, verdict.said);
        CHECK_FALSE(verdict.kept);
        CHECK(near(verdict.at, time, 2e-6));
        CHECK(verdict.instead == instead);
    }
}

}  // namespace

TEST_CASE("what is expected at a time, in a stretch and after something, at every tick rate") {
    keeps(at(in_state("walk"), 0.999));
    keeps(at(in_state("sprint"), 1.0));  // what happens at a time has happened then
    keeps(at(in_state("walk"), 2.0));
    keeps(between(in_state("walk"), 0.0, 1.0));  // and not yet at a stretch's end
    keeps(between(in_state("sprint"), 1.0, 2.0));
    keeps(after(in_state("sprint"), "sprint pressed"));
    keeps(after(in_state("walk"), "sprint pressed", 1.0));
    keeps(after(in_state("walk"), "sprint released"));
    keeps(terms({"grounded", "speed < 7"}));
    keeps(between(terms({"speed >= 2.4"}), 0.24, 3.0));
    keeps(never({"sprint on", "speed > 7"}));
    keeps(between(never({"sprint on"}), 0.0, 1.0));
    ExpectSpec soon = at(terms({"speed >= 2"}), 0.1);
    soon.within = 0.11;
    keeps(soon);
    ExpectSpec both = at(in_state("sprint"), 1.5);
    both.holds = {"sprint on", "moving forward"};
    both.never = {"speed < 2"};
    keeps(both);
}

TEST_CASE("what was not so is told with its time, and what was instead") {
    breaks(at(in_state("sprint"), 0.5), 0.5, "walk");
    breaks(in_state("walk"), 1.0, "sprint");
    breaks(between(in_state("sprint"), 1.0, 2.5), 2.0, "walk");
    breaks(terms({"speed < 2"}), 0.2, "speed 2 m/s");
    breaks(between(terms({"grounded", "speed >= 2.4"}), 0.1, 3.0), 0.1, "speed 1 m/s");
    breaks(never({"sprint on", "grounded"}), 1.0, "sprint on, grounded");
    breaks(after(in_state("sprint"), "sprint released", 0.5), 2.5, "walk");
    ExpectSpec soon = at(terms({"speed >= 2"}), 0.05);
    soon.within = 0.1;
    breaks(soon, 0.15, "speed 1.5 m/s");
    const Verdict never_pressed = judged(after(in_state("walk"), "not grounded", 1.0)).at(0);
    CHECK(never_pressed.instead == "'not grounded' never came to hold");
    const Verdict why = judged(at(in_state("sprint"), 0.5)).at(0);
    CHECK(why.said == "sprint at 0.5 s");
    CHECK(why.why == "sprint: no: sprint on does not hold");
    CHECK(judged(in_state("walk")).at(0).why == "sprint: enter: sprint on");
    CHECK(judged(between(in_state("sprint"), 1.0, 2.5)).at(0).why == "sprint: no: sprint on does not hold");
}

TEST_CASE("terms that are wrong are told where the drill says them") {
    const auto refusal = [](const ExpectSpec& expect) -> std::string {
        try {
            static_cast<void>(judged(expect));
        } catch (const ChartError& error) {
            return error.what();
        }
        return "";
    };
    CHECK_THAT(refusal(terms({"grounded", "stamia > 3"})),
               Catch::Contains("expect[1].holds[2]: 'stamia > 3'") && Catch::Contains("stamina"));
    CHECK_THAT(refusal(never({"sprint"})), Catch::Contains("expect[1].never[1]: "));
    CHECK_THAT(refusal(after(in_state("walk"), "sprnt pressed")), Catch::Contains("expect[1].after: "));
    CHECK_THAT(refusal(in_state("sprnt")),
               Catch::Contains("expect[1].state: the chart has no state named 'sprnt'") &&
                   Catch::Contains("did you mean 'sprint'?"));
    ExpectSpec leg;
    leg.leg = "quay";
    CHECK(refusal(leg) == "expect[1].leg: 'quay' is a leg of no course; give the course");
}

TEST_CASE("expectations that say nothing, or too much, are refused") {
    const Chart chart = compile(walker());
    const auto refusal = [&](const ExpectSpec& expect) -> std::string {
        DrillSpec drill = walk_and_sprint();
        drill.expects = {in_state("walk"), expect};
        try {
            static_cast<void>(Drill(drill, chart));
        } catch (const ChartError& error) {
            return error.what();
        }
        return "";
    };
    CHECK(refusal({}) == "expect[2]: asks for nothing; say `state`, `holds` or `never`, or `leg`");
    ExpectSpec leg = in_state("walk");
    leg.leg = "quay";
    CHECK_THAT(refusal(leg), Catch::StartsWith("expect[2]: asks for a leg and for a state at once"));
    CHECK_THAT(refusal(at(between(in_state("walk"), 0.0, 1.0), 0.5)),
               Catch::StartsWith("expect[2]: says in more than one way when"));
    CHECK_THAT(refusal(at(in_state("walk"), 3.5)),
               Catch::StartsWith("expect[2].at: 3.5 s lies beyond the drill's end"));
    CHECK_THAT(refusal(between(in_state("walk"), 2.0, 1.0)),
               Catch::StartsWith("expect[2]: nothing lies between 2 and 1 s"));
    CHECK(refusal(between(in_state("walk"), 20.0, 2.0)) ==
          "expect[2].from: 20 s lies beyond the drill's end; the drill lasts `seconds` = 3");
    ExpectSpec within = in_state("walk");
    within.within = 1.0;
    CHECK_THAT(refusal(within), Catch::StartsWith("expect[2].within: counts from nothing"));
    ExpectSpec bounds = in_state("walk");
    bounds.most = 1.0;
    CHECK_THAT(refusal(bounds), Catch::StartsWith("expect[2]: bounds a time of no leg"));
}

TEST_CASE("one mistake in an expectation is one error, in its line") {
    const std::string head = "format = 1\nname = \"d\"\nseconds = 3\n";
    const std::vector<std::string> sound{
        "state = \"walk\"\nat = 0.5\nwithin = 0.2\n", "holds = [\"grounded\"]\nfrom = 0.5\nto = 1\n",
        "never = [\"grounded\", \"speed > 9\"]\n", "leg = \"boards\"\nleast = 1\nmost = 2\n",
        "state = \"walk\"\nafter = \"sprint released\"\nwithin = 1\n"};
    const Chart chart = compile(walker());
    std::size_t tried = 0;
    for (const std::string& lines : sound) {
        REQUIRE_NOTHROW(parse_drill(head + "[[expect]]\n" + lines, "d.toml", chart));
        std::size_t begin = 0;
        for (int line = 5; begin < lines.size(); ++line) {
            const std::size_t equal = lines.find(" = ", begin), end = lines.find('\n', begin);
            for (const int way : {0, 1, 2}) {
                std::string wrong = lines;
                way == 0   ? wrong.insert(begin + 1, "q")                     // the key
                : way == 1 ? wrong.replace(equal + 3, end - equal - 3, "{}")  // the kind of value
                           : wrong.replace(equal + 3, end - equal - 3, "-77777777");
                CAPTURE(wrong);
                try {
                    static_cast<void>(parse_drill(head + "[[expect]]\n" + wrong, "d.toml", chart));
                    FAIL("taken");
                } catch (const ChartError& error) {
                    CAPTURE(std::string(error.what()));
                    CHECK(error.diagnostics().size() == 1);
                    CHECK(error.diagnostics().front().line == line);
                }
                ++tried;
            }
            begin = end + 1;
        }
    }
    CHECK(tried > 30);
}

TEST_CASE("a term holds whatever room there is for the body, and legs take their time") {
    ChartSpec chart = walker();
    chart.body.low_height = 0.9;
    CourseSpec spec = floor_only();
    spec.ceilings.push_back({{1.0, -2.0, 1.0}, {4.0, 2.0, 1.0}, 0.3});
    spec.legs.push_back({"boards", {{1.0, -2.0, 0.0}, {1.0, 2.0, 0.0}}, {{2.2, -2.0, 0.0}, {2.2, 2.0, 0.0}}});
    StateSpec crawl = state("crawl", {.forward = 2.4, .side = {}, .back = {}}, ramp(10.0, 10.0, 10.0));
    crawl.low = true;
    crawl.enter = Condition{"grounded"};
    add_first(chart, crawl);
    const Course course(spec);
    const Verdict holds = judged(terms({"grounded", "speed < 3"}), 60.0, chart, &course).at(0);
    CHECK(holds.kept);
    ExpectSpec leg;
    leg.leg = "boards";
    leg.most = 0.51;
    leg.least = 0.49;  // 1.2 m at 2.4 m/s
    CHECK(judged(leg, 60.0, chart, &course).at(0).kept);
    leg.most = 0.4;
    leg.least.reset();
    const Verdict slow = judged(leg, 60.0, chart, &course).at(0);
    CHECK_FALSE(slow.kept);
    CHECK(slow.said == "leg boards, in 0.4 s at most");
    CHECK(slow.instead == "0.500 s");
}

TEST_CASE("a chart that is nearly full is judged in several copies, a full one not at all") {
    ChartSpec chart = walker();
    while (chart.states.size() < limits::states - 1) {
        StateSpec more = state("more", {.forward = 1.0, .side = {}, .back = {}}, ramp(10.0, 10.0, 10.0));
        more.name += std::to_string(chart.states.size());
        more.enter = Condition{"sprint on", "not grounded"};
        add_first(chart, more);
    }
    DrillSpec drill = walk_and_sprint();
    drill.expects = {terms({"grounded"}), terms({"speed < 2"}), never({"sprint on"})};
    const std::vector<double> ends = survey::even_ticks(60.0, Seconds{3.0});
    const std::vector<Verdict> verdicts = survey::judge(chart, drill, nullptr, ends);
    CHECK(verdicts[0].kept);
    CHECK(near(verdicts[1].at, 0.2, 2e-6));
    CHECK(near(verdicts[2].at, 1.0, 2e-6));
    StateSpec last = chart.states.back();
    last.name = "last";
    add_first(chart, last);
    CHECK_THROWS_WITH(survey::judge(chart, drill, nullptr, ends),
                      Catch::Contains("leave no room for the terms of expectations"));
    drill.expects = {at(in_state("walk"), 0.5)};  // needs no room
    CHECK(survey::judge(chart, drill, nullptr, ends).at(0).kept);
}

TEST_CASE("hundreds of terms that compare something else each are judged as one is") {
    DrillSpec drill = walk_and_sprint();
    for (int i = 0; i < 300; ++i) {
        drill.expects.push_back(terms({"speed < " + std::to_string(0.5 + 0.005 * i), "grounded"}));
    }
    const std::vector<Verdict> verdicts =
        survey::judge(walker(), drill, nullptr, survey::even_ticks(60.0, Seconds{3.0}));
    for (int i = 0; i < 300; ++i) {
        CHECK_FALSE(verdicts[static_cast<std::size_t>(i)].kept);
        CHECK(near(verdicts[static_cast<std::size_t>(i)].at, 0.05 + 0.0005 * i, 2e-6));  // at 10 m/s^2
    }
}

TEST_CASE("what is proposed of a run is kept by it at every other tick rate, for random charts") {
    std::size_t proposed = 0;
    for (unsigned seed = 1; seed <= support::share_of(40); ++seed) {
        CAPTURE(seed);
        RandomChart random(seed);
        const ChartSpec chart = random.chart();
        DrillSpec drill = random.drill(chart, 6.0);
        drill.expects =
            survey::propose_expectations(chart, drill, nullptr, survey::even_ticks(60.0, Seconds{6.0}));
        proposed += drill.expects.size();
        for (const double rate : {20.0, 144.0}) {
            for (const Verdict& verdict :
                 survey::judge(chart, drill, nullptr, survey::even_ticks(rate, Seconds{6.0}))) {
                CAPTURE(rate, verdict.said, verdict.instead);
                CHECK(verdict.kept);
            }
        }
    }
    CHECK(proposed > support::share_of(80));
}

TEST_CASE("terms that are expected change nothing of a run, for random charts") {
    std::size_t visits = 0;
    for (unsigned seed = 1; seed <= support::share_of(40); ++seed) {
        CAPTURE(seed);
        RandomChart random(seed);
        const ChartSpec spec = random.chart();
        const Chart chart = compile(spec);
        DrillSpec drill = random.drill(spec, 6.0);
        const std::vector<double> ends = survey::even_ticks(60.0, Seconds{6.0});
        const survey::Run run = survey::run(chart, Drill(drill, chart), ends, false);
        for (const survey::Visit& visit : run.visits) {
            if (visit.seconds > 1e-3) {
                drill.expects.push_back(
                    between(in_state(chart.name(visit.state).c_str()), visit.at, visit.at + visit.seconds));
            }
        }
        const std::size_t stretches = drill.expects.size();
        drill.expects.push_back(terms({"speed > 0.37", "speed < 3.3", "time > 0.21"}));
        drill.expects.push_back(never({"rise > 0.5", "not grounded", "moving sideways"}));
        const std::vector<Verdict> verdicts = survey::judge(spec, drill, nullptr, ends);
        for (std::size_t i = 0; i < stretches; ++i) {
            CAPTURE(verdicts[i].said, verdicts[i].at, verdicts[i].instead);
            CHECK(verdicts[i].kept);
        }
        visits += stretches;
    }
    CHECK(visits > support::share_of(150));
}

TEST_CASE("terms of random charts hold where why says that they do") {
    std::size_t compared = 0, held = 0;
    for (unsigned seed = 1; seed <= support::share_of(60); ++seed) {
        RandomChart random(seed);
        const ChartSpec spec = random.chart();
        const Chart chart = compile(spec);
        DrillSpec drill = random.drill(spec, 4.0);
        const std::vector<double> ends = survey::even_ticks(60.0, Seconds{4.0});
        for (const double time : {0.3137, 1.0371, 2.2713, 3.7119}) {
            const survey::Explanation told =
                survey::explain(chart, Drill(drill, chart), nullptr, ends, Seconds{time});
            std::vector<survey::TermReading> readings;
            drill.expects.clear();
            for (const survey::StateExplanation& state : told.rank) {
                for (const std::vector<survey::TermReading>& clause : state.standing.clauses) {
                    for (const survey::TermReading& term : clause) {
                        const bool written = term.path.ends_with(']');
                        const bool of_state = term.text.find("time") != std::string::npos;
                        if (written && !term.momentary && !of_state && readings.size() < 40) {
                            readings.push_back(term);
                            drill.expects.push_back(at(terms({term.text}), time));
                        }
                    }
                }
            }
            const std::vector<Verdict> verdicts = survey::judge(spec, drill, nullptr, ends);
            for (std::size_t i = 0; i < readings.size(); ++i) {
                CAPTURE(seed, time, readings[i].text);
                CHECK(verdicts[i].kept == readings[i].holds);
                held += readings[i].holds ? 1 : 0;
                ++compared;
            }
        }
    }
    CHECK(compared > support::share_of(500));
    CHECK(held > support::share_of(100));
    CHECK(held + support::share_of(100) < compared);
}

TEST_CASE("expectations are written and read back equal") {
    DrillSpec drill = walk_and_sprint();
    ExpectSpec leg;
    leg.leg = "boards";
    leg.most = 2.5;
    drill.expects = {at(in_state("walk"), 0.5), between(terms({"grounded", "speed < 7"}), 0.5, 2.0),
                     after(never({"sprint on"}), "sprint released", 0.1), leg};
    CHECK(parse_drill(format_drill(drill), "drill", compile(walker())).spec == drill);
}
