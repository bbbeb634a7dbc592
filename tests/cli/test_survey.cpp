#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;
using nlohmann::json;

namespace {

const std::string with_quay = " --drill demo/drills/quay_boards.toml";
const std::string with_relay = " --drill demo/drills/relay_bearer.toml --course demo/courses/relay.toml";

/// The bearer with a sprint that is left at 20 and entered at 10.
std::string flickering(const Folder& folder) {
    std::string text = source(bearer_file);
    text.replace(text.find("\"stamina > 0\"]"), 14, "\"stamina >= 20\"]");
    return folder.write("flickering.toml", text);
}
}  // namespace

TEST_CASE("check: sound charts exit 0, others 1 with the lines, the mend and a drill that shows it",
          "[long]") {
    for (const char* name : {"bearer", "gannet", "eel", "keeper"}) {
        const Outcome sound = run_program("check demo/charts/" + std::string(name) + ".toml");
        CHECK(sound.code == 0);
        CHECK(contains(sound.out, "nothing to find"));
    }
    const Folder folder("check");
    const std::string chart = flickering(folder), proof = folder.file("proof.toml");
    const Outcome found = run_program("check '" + chart + "' --proof '" + proof + "'");
    CHECK(found.code == 1);
    CHECK(found.out.find(chart + ":45:1: error: walk, sprint lead back to one another without end") == 0);
    CHECK(contains(found.out, "    mend: let each `stay` hold wherever its own `enter` does\n"));
    CHECK(contains(found.out, "by " + proof));
    CHECK(contains(found.out, "bearer: 1 error, 0 warnings, 0 of advice"));
    const Outcome shown = run_program("run '" + chart + "' --drill '" + proof + "'");
    CHECK(shown.code == 0);
    CHECK(contains(shown.out, "changes, each state for less than 0.25 s"));

    const json told = json::parse(run_program("check '" + chart + "' --json").out);
    CHECK(told["sound"] == false);
    REQUIRE(told["findings"].size() == 1);
    CHECK(told["findings"][0]["kind"] == "flicker");
    CHECK(told["findings"][0]["places"][0]["line"] == 45);
    CHECK(contains(told["findings"][0]["proof"], "hold = [\"sprint\"]"));
    refuses("check gone.toml", "gone.toml: cannot be read");
}

TEST_CASE("figures: the manual page names each kind of figure that there is") {
    const std::string page = source("docs/tool.md");
    const std::size_t begin = page.find("## figures"), end = page.find("## why");
    const std::string table = page.substr(begin, end - begin);
    for (const std::string chart : {"bearer", "gannet", "eel", "keeper"}) {
        const json told = json::parse(
            run_program("figures demo/charts/" + chart + ".toml --course " + relay_file + " --json").out);
        for (const json& figure : told["figures"]) {
            const std::string name = figure["name"];
            std::string kind = name.substr(name.rfind('.') + 1);
            if (name.rfind("course.", 0) == 0) {
                kind = kind == "length" ? "course.LEG.length" : "course.LEG.STATE_seconds";
            } else if (kind.rfind("length_from_", 0) == 0 && kind != "length_from_standing") {
                kind = "length_from_STATE";
            } else if (kind.rfind("height_", 0) == 0) {
                kind = "height_2";
            }
            CAPTURE(chart, name);
            CHECK(contains(table, "`" + kind + "`"));
        }
    }
}

TEST_CASE("figures: a table, a comparison, JSON and CSV", "[long]") {
    const Outcome table = run_program("figures " + bearer_file);
    CHECK(table.code == 0);
    CHECK(contains(table.out,
                   "\njump.height                    1.300  m    how high it goes, key held; closed form"));
    const json told = json::parse(run_program("figures " + bearer_file + " --json").out);
    CHECK(told["chart"] == "bearer");
    bool found = false;
    for (const json& figure : told["figures"]) {
        if (figure["name"] == "stamina.recover") {
            CHECK(figure["value"].get<double>() == Approx(0.7 + 30.0 / 18.0));
            CHECK(figure["unit"] == "s");
            found = true;
        }
    }
    CHECK(found);
    const Outcome compared = run_program("figures " + bearer_file + " --compare demo/charts/eel.toml");
    CHECK(contains(compared.out, "sprint.top_forward                6.500      7.000  m/s   * +7.7 %\n"));
    CHECK(contains(compared.out, "figures differ\n"));
    CHECK(contains(run_program("figures " + bearer_file + " --compare " + bearer_file).out, "\n0 of "));
    const Outcome csv = run_program("figures " + bearer_file + " --csv --course demo/courses/relay.toml");
    CHECK(csv.out.find("figure,unit,bearer,how,meaning\n") == 0);
    CHECK(contains(csv.out, "course.quay_boards.length,m,"));
    // What there is none of is null and empty.
    const json eel = json::parse(run_program("figures demo/charts/eel.toml --json").out);
    for (const json& figure : eel["figures"]) {
        CHECK(figure["value"].is_null() == (figure["name"] == "slide.length_down_10"));
    }
}

TEST_CASE("why: at a time, for one state, over a whole run, and for programs") {
    const Outcome at = run_program("why " + bearer_file + with_quay + " --at 18");
    CHECK(at.code == 0);
    CHECK(at.out.find(
              "bearer, quay boards, at 18.000 s: walk, since 17.354 s (stay failed: stamina > 0)\n") == 0);
    CHECK(contains(at.out, "  9  sprint       no: stamina >= 10 does not hold\n"));
    CHECK(contains(at.out, "now stamina 0\n"));
    CHECK(contains(at.out,
                   "demo/charts/bearer.toml:44:53: stamina >= 10 fails since 16.521 s, until 18.610 s\n"));
    const Outcome one = run_program("why " + bearer_file + with_quay + " --at 18 --state sprint");
    CHECK(contains(one.out, "sprint       no:"));
    CHECK_FALSE(contains(one.out, "tread        no:"));
    const Outcome run = run_program("why " + bearer_file + with_quay + " --state sprint");
    CHECK(contains(run.out,
                   "    8.000      9.000     1.000  no: moving forward does not hold  "
                   "(demo/charts/bearer.toml:44:23)\n"));
    CHECK(contains(run_program("why " + bearer_file + with_quay + " --state walk").out,
                   "never: whenever its keys asked for it"));
    const json told = json::parse(run_program("why " + bearer_file + with_quay + " --at 18 --json").out);
    CHECK(told["state"] == "walk");
    REQUIRE(told["rank"].size() == 11);
    CHECK(told["rank"][8]["failing"] == "stamina >= 10");
    CHECK(told["rank"][8]["clauses"][0][3]["now"] == "stamina 0");
    const json denied =
        json::parse(run_program("why " + bearer_file + with_quay + " --state sprint --json").out);
    CHECK(denied["denials"].size() == 6);
    refuses("why " + bearer_file + with_quay, "--at: is missing, and so is --state; give");
    refuses("why " + bearer_file + with_quay + " --at 61", "at: 61 s is outside the run; give 0 to 60");
    refuses("why " + bearer_file + with_quay + " --state sprnt",
            "the chart has no state named 'sprnt'; did you mean 'sprint'?");
}

TEST_CASE("draw: timeline, path and diagram as PNG, SVG and DOT") {
    const Folder folder("draw");
    const auto draws = [&](const std::string& what, const std::string& file, const std::string& arguments) {
        const Outcome outcome =
            run_program("draw " + what + " " + bearer_file + arguments + " -o '" + folder.file(file) + "'");
        CAPTURE(what, outcome.errors);
        CHECK(outcome.code == 0);
        CHECK(outcome.out == "wrote " + folder.file(file) + "\n");
        return read_file(folder.file(file));
    };
    CHECK(draws("timeline", "t.png", with_quay).substr(1, 3) == "PNG");
    CHECK(contains(draws("path", "p.svg", with_relay), "<svg"));
    CHECK(draws("diagram", "d.png", "").substr(1, 3) == "PNG");
    const std::string svg = draws("diagram", "d.svg", with_relay);
    CHECK(contains(svg, ">wallrun</text>"));
    const std::string dot = draws("diagram", "d.dot", with_relay);
    CHECK(contains(dot, "wallrun -> leap [label=\"jump pressed \u00d71\""));
    CHECK(contains(dot, "any_fall -> fall [style=dashed, label=\"not grounded\"]"));
    refuses("draw diagram " + bearer_file + " -o x.gif", "x.gif: --out: is none of .png, .svg and .dot");
    refuses("draw path " + bearer_file + " -o x.png", "--drill: is missing: a path is drawn of a run");
    refuses("draw map " + bearer_file + " -o x.png", "WHAT: there is no 'map'; known: timeline,");
}

TEST_CASE("fit: values that give the wishes, in a chart whose comments stay") {
    const Folder folder("fit");
    const std::string out = folder.file("fitted.toml");
    const Outcome met = run_program("fit " + bearer_file +
                                    " --want 'sprint.distance = 40 m' --want 'stamina.recover = 6 s' --vary "
                                    "states.sprint.drain.stamina --vary meters.stamina.refill.rate -o '" +
                                    out + "'");
    CHECK(met.code == 0);
    CHECK(contains(
        met.out, "sprint.distance                             40.0000      51.8010      40.0000 m    met\n"));
    const std::string before = source(bearer_file), after = read_file(out);
    CHECK(contains(after, "# The bearer carries the lit lantern of Skerry Quay: an all-rounder.\n"));
    CHECK(contains(
        after, "drain = { stamina = 15.3426 }                  # per second, only while really moving\n"));
    CHECK(std::count(before.begin(), before.end(), '\n') == std::count(after.begin(), after.end(), '\n'));
    const json figures = json::parse(run_program("figures '" + out + "' --json").out);
    for (const json& figure : figures["figures"]) {
        if (figure["name"] == "sprint.distance") {
            CHECK(figure["value"].get<double>() == Approx(40.0).epsilon(1e-4));
        }
    }
    const Outcome missed =
        run_program("fit " + bearer_file +
                    " --want sprint.distance=40 --want sprint.seconds=12 --vary states.sprint.drain.stamina");
    CHECK(missed.code == 1);
    CHECK(contains(missed.out, "these pull against each other: sprint.distance and sprint.seconds"));
    const json told =
        json::parse(run_program("fit " + bearer_file +
                                " --want sprint.distance=400 --vary states.sprint.drain.stamina=11:13 --json")
                        .out);
    CHECK(told["met"] == false);
    CHECK(told["values"][0]["at_bound"] == true);
    refuses("fit " + bearer_file + " --want 'sprint.distance = 40 s' --vary states.sprint.drain.stamina",
            "sprint.distance: 's' is not its unit; it is in m");
    refuses("fit " + bearer_file +
                " --want sprint.distance=40 --vary states.sprint.drain.stamina --keep-within 0",
            "--keep-within: 0 % leaves nothing to choose");
}

TEST_CASE("a take is written and replayed, with its own chart and with another") {
    const Folder folder("take");
    const std::string take = folder.file("relay.take");
    const Outcome run = run_program("run " + bearer_file + with_relay + " --take '" + take + "'");
    CHECK(contains(run.out, "wrote " + take + "\n"));
    const std::string digest =
        json::parse(run_program("run " + bearer_file + with_relay + " --json").out)["digest"];
    const Outcome again = run_program("replay '" + take + "'");
    CHECK(again.code == 0);
    CHECK(again.out == take +
                           ": bearer, relay of the bearer, 3120 ticks, 52.000 s, on course relay\nthe same, "
                           "bit for bit; digest " +
                           digest + "\n");
    const Outcome other = run_program("replay '" + take + "' --chart demo/charts/gannet.toml");
    CHECK(other.code == 1);
    CHECK(contains(other.out,
                   "differs first in tick 32, at 0.533 s: position\n  recorded (-1.993, 0.000, 0.000)\n"));
    const json told = json::parse(run_program("replay '" + take + "' --json").out);
    CHECK(told["exact"] == true);
    CHECK(told["differing"] == 0);
    CHECK_FALSE(told.contains("first"));
    // A byte of a digest in the middle.
    std::string broken = read_file(take);
    broken[broken.size() - 3] = static_cast<char>(broken[broken.size() - 3] ^ 1);
    const Outcome last = run_program("replay '" + folder.write("broken.take", broken) + "'");
    CHECK(last.code == 1);
    CHECK(contains(last.out, "differs first in tick 3120, at 52.000 s: digest\n"));
    refuses("replay " + bearer_file,
            bearer_file + ": byte 1: is no take; record one with `cursimeter run --take`");
    // Wherever a drill can stand, a take can.
    for (const std::string& question :
         {std::string("run --json"), std::string("why --at 12.3"), std::string("why --state sprint")}) {
        CAPTURE(question);
        const std::size_t space = question.find(' ');
        const std::string word = question.substr(0, space), rest = question.substr(space);
        const Outcome drilled = run_program(word + " " + bearer_file + with_relay + rest);
        CHECK(drilled.code == 0);
        const Outcome taken = run_program(word + " " + bearer_file + " --from '" + take + "'" + rest);
        CHECK(taken.out == drilled.out);
        CHECK(taken.errors.empty());
    }
    // Without its chart's file the lines are those of the chart in it.
    CHECK(contains(run_program("why --from '" + take + "' --at 12.3").out, take + ": chart:"));
    // In another world it comes out otherwise, and that is told.
    const Folder yard("yard");
    const std::string boards = yard.write(
        "yard.toml", "format = 1\nname = \"yard\"\nbox = [{ from = [-50, -50, -1], to = [500, 50, 0] }]\n");
    const Outcome elsewhere = run_program("run --from '" + take + "' --course '" + boards + "'");
    CHECK(elsewhere.code == 0);
    CHECK(contains(elsewhere.errors, take + ": caution: it comes out otherwise from tick "));
    refuses("why --from gone.take --at 1", "gone.take: cannot be read: No such file or directory");
    refuses("why --from '" + take + "' --at 52.1", "at: 52.1 s is outside the run; give 0 to 52");
    refuses("replay gone.take", "gone.take: cannot be read: No such file or directory");
}

TEST_CASE("report: one page with everything in it") {
    const Folder folder("report");
    const std::string out = folder.file("r.html");
    CHECK(run_program("report " + bearer_file + with_relay + " -o '" + out + "'").out ==
          "wrote " + out + "\n");
    const std::string page = read_file(out);
    CHECK(page.find("<!DOCTYPE html>") == 0);
    for (const char* part :
         {"id=\"path\"", "id=\"timeline\"", "id=\"states\"", "id=\"diagram\"", "id=\"findings\"",
          "id=\"figures\"", "id=\"chart\"", "default-src 'none'", "data:image/png;base64,iVBOR",
          "data:image/svg+xml;base64,", "sprint.best_average"}) {
        CAPTURE(part);
        CHECK(contains(page, part));
    }
    CHECK_FALSE(contains(page, "src=\"http"));
    CHECK_FALSE(contains(page, "href=\"http"));
    refuses("report " + bearer_file + with_quay + " -o r.pdf", "r.pdf: --out: is no .html file");
}

TEST_CASE("new: three files that load, pass the check and run, and none that is there is touched") {
    const Folder folder("new");
    const std::string at = " --folder '" + folder.file("") + "'";
    CHECK(run_program("new wader" + at).code == 0);
    const std::string chart = "'" + folder.file("wader.chart.toml") + "'";
    CHECK(run_program("check " + chart).code == 0);
    const Outcome run = run_program("run " + chart + " --drill '" + folder.file("wader.drill.toml") +
                                    "' --course '" + folder.file("wader.course.toml") + "' --json");
    const json told = json::parse(run.out);
    CHECK_FALSE(told["legs"][0]["seconds"].is_null());  // over the gap and through the gate
    const std::string before = read_file(folder.file("wader.chart.toml"));
    refuses("new wader" + at, folder.file("wader.chart.toml") + ": is there already and was left as it is");
    CHECK(read_file(folder.file("wader.chart.toml")) == before);
    refuses("new " + std::string(65, 'w') + at, "NAME: ");  // as a chart would
    refuses("new Wader" + at, "NAME: 'Wader' cannot be a name");
}

TEST_CASE("watch tells what each save has changed, and keeps to the last version that was whole") {
    const Folder folder("watch");
    const std::string chart = folder.write("c.toml", source(bearer_file)), out = folder.file("out.txt");
    const std::string call = std::string("cd '") + CURSIMETER_SOURCE_DIR + "' && '" + CURSIMETER_PROGRAM +
                             "' watch '" + chart + "'" + with_quay + " --saves 3 > '" + out + "'";
    FILE* watch = popen(call.c_str(), "r");
    // Each step waits for the program's word, however long that takes.
    const auto save = [&](const std::string& now) {  // as editors do: whole, or not at all
        std::filesystem::rename(folder.write("c.toml.new", now), chart);
    };
    const auto wait_for = [&](const std::string& word) {
        while (!contains(read_file(out), word)) {
            usleep(5000);
        }
    };
    wait_for("watching");
    std::string text = source(bearer_file);
    text.replace(text.find("forward = 6.5"), 13, "forward = 7.25");
    save(text);
    wait_for("save 1");
    std::string broken = text;
    broken.replace(broken.find("stamina > 0"), 11, "stamna > 0");
    save(broken);
    wait_for("save 2");
    save(text);
    CHECK(WEXITSTATUS(pclose(watch)) == 0);
    const std::string told = read_file(out);
    CHECK(contains(told, "  figure  sprint.top_forward                6.500 ->      7.250 m/s\n"));
    CHECK(contains(told, "save 2: not usable, the version before it stays\n  " + chart +
                             ":45:53: error: states.sprint.stay[4]: 'stamna > 0'"));
    CHECK(contains(told, ": nothing has changed\n"));
}

TEST_CASE("schemas are JSON, one for each format") {
    for (const char* format : {"chart", "drill", "course", "controls"}) {
        const json schema = json::parse(run_program(std::string("schema ") + format).out);
        CHECK(schema["$schema"] == "https://json-schema.org/draft/2020-12/schema");
        CHECK(schema["additionalProperties"] == false);
    }
    refuses("schema keys", "FORMAT: there is no 'keys'; known: chart,");
}
