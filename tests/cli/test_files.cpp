#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;

namespace {

const std::string bearer = "demo/charts/bearer.toml";
const std::string quay = "demo/drills/quay_boards.toml";
const std::string run = "run " + bearer + " --drill " + quay + " --seconds 2";
const std::string relay = "demo/courses/relay.toml";

const std::string source_folder = std::string(CURSIMETER_SOURCE_DIR) + "/";
std::string source(const std::string& file) {
    return read_file(source_folder + file);
}

std::string quoted(const std::string& file) {
    return " '" + file + "'";
}

/// A call that writes a file, whose name is put at the end.
struct Writer {
    std::string call;    ///< CHART stands for a chart
    std::string ending;  ///< that such a file has
};
/// Every option of every command that writes.
const std::vector<Writer> writers{
    {"run CHART --drill " + quay + " --seconds 2 --trace", ".csv"},
    {"run CHART --drill " + quay + " --seconds 2 --take", ".take"},
    {"run CHART --drill " + quay + " --seconds 2 --picture", ".png"},
    {"run CHART --drill " + quay + " --seconds 2 --map", ".svg"},
    {"run CHART --drill " + quay + " --seconds 1 --movie", ".png"},
    {"draw timeline CHART --drill " + quay + " --seconds 2 -o", ".svg"},
    {"draw diagram CHART -o", ".dot"},
    {"check CHART --proof", ".toml"},
    {"sweep CHART --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward -o", ".csv"},
    {"sweep CHART --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward --picture", ".png"},
    {"fit CHART --want 'sprint.top_forward = 7 m/s' --vary states.sprint.speed.forward -o", ".toml"},
    {"report CHART --drill " + quay + " --seconds 2 -o", ".html"},
    {"net CHART --seconds 1 --picture", ".png"},
    {"net CHART --seconds 1 --match", ".match"},
};

std::string with_chart(std::string call, const std::string& chart) {
    const std::size_t at = call.find("CHART");
    return call.replace(at, 5, "'" + chart + "'");
}

mode_t mode_of(const std::string& file) {
    struct stat there {};
    REQUIRE(::stat(file.c_str(), &there) == 0);
    return there.st_mode & 07777;
}

}  // namespace

TEST_CASE("no output replaces an input, under any of its names") {
    const Folder folder("inputs");
    const std::string text = source(bearer);
    const std::string chart = folder.write("c.toml", text);
    REQUIRE(::symlink(chart.c_str(), folder.file("link.toml").c_str()) == 0);
    REQUIRE(::link(chart.c_str(), folder.file("twin.toml").c_str()) == 0);
    for (const Writer& writer : writers) {
        for (const std::string& name :
             {chart, folder.file("link.toml"), folder.file("twin.toml"), folder.file("./c.toml")}) {
            const Outcome outcome = run_program(with_chart(writer.call, chart) + quoted(name));
            CAPTURE(writer.call, name, outcome.errors);
            CHECK(outcome.code == 2);
            CHECK(read_file(chart) == text);
        }
    }
    refuses(with_chart(writers[0].call, chart) + quoted(chart),
            chart + ": --trace: would replace what CHART reads; name another file\n");
}

TEST_CASE("no output replaces another output, or a file of another kind") {
    const Folder folder("kinds");
    const std::string a = folder.file("a.png");
    refuses(run + " --picture" + quoted(a) + " --map" + quoted(a),
            a + ": --map: would replace what --picture writes; name another file\n");
    for (const char* name : {"only_here.png", "./only_here.png", "demo/../only_here.png"}) {
        const Outcome outcome =
            run_program(run + " --picture only_here.png --map" +
                        quoted(std::string(name)[0] == 'o' ? source_folder + name : name));
        CAPTURE(name);
        CHECK(outcome.code == 2);
        CHECK_FALSE(std::filesystem::exists(source_folder + "only_here.png"));
    }
    CHECK_FALSE(std::filesystem::exists(a));
    const std::string drill = folder.write("d.txt", source(quay)),
                      picture = folder.write("p.dat", "\x89PNG\r\n"),
                      take = folder.write("t.dat", "curstake..");
    for (const Writer& writer : writers) {
        if (writer.ending == ".toml" && writer.call.find("--proof") != std::string::npos) {
            continue;  // it writes drills
        }
        for (const std::string& name : {drill, take}) {
            if (name == take && writer.call.find("--take") != std::string::npos) {
                continue;
            }
            const std::string before = read_file(name);
            CAPTURE(writer.call, name);
            CHECK(run_program(with_chart(writer.call, bearer) + quoted(name)).code == 2);
            CHECK(read_file(name) == before);
        }
    }
    refuses("sweep " + bearer + " --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward -o" +
                quoted(drill),
            drill +
                ": --out: is a drill file now, and a table would replace it; name another file, or remove "
                "this one first\n");
    refuses(run + " --trace" + quoted(folder.file("t.toml")),
            folder.file("t.toml") +
                ": --trace: writes a table, which does not belong in a .toml file; give it another ending\n");
    refuses(run + " --trace" + quoted(picture), picture + ": --trace: is a PNG picture now");
}

TEST_CASE("links are followed, and mode, twins and strangers' files stay") {
    const Folder folder("links");
    for (const Writer& writer : writers) {
        if (writer.call.find("--proof") != std::string::npos) {
            continue;  // the demo's chart is sound
        }
        CAPTURE(writer.call);
        const std::string target = folder.file("target" + writer.ending),
                          link = folder.file("link" + writer.ending),
                          twin = folder.file("twin" + writer.ending);
        for (const std::string& file : {target, link, twin}) {
            std::filesystem::remove(file);
        }
        REQUIRE(::symlink(("target" + writer.ending).c_str(), link.c_str()) == 0);
        CHECK(run_program(with_chart(writer.call, bearer) + quoted(link)).code ==
              0);  // one that leads nowhere yet
        CHECK(std::filesystem::is_symlink(link));
        const std::string written = read_file(target);
        REQUIRE_FALSE(written.empty());
        REQUIRE(::chmod(target.c_str(), 0640) == 0);
        REQUIRE(::link(target.c_str(), twin.c_str()) == 0);
        const std::string stranger = folder.write("target" + writer.ending + ".new", "mine");
        CHECK(run_program(with_chart(writer.call, bearer) + quoted(link)).code == 0);
        CHECK(read_file(twin).size() == read_file(target).size());
        CHECK(mode_of(target) == 0640);
        CHECK(std::filesystem::hard_link_count(target) == 2);
        CHECK(read_file(stranger) == "mine");
    }
    std::size_t left = 0;
    for (const auto& entry : std::filesystem::directory_iterator(folder.file(""))) {
        left += entry.path().filename().string().starts_with(".cursimeter") ? 1 : 0;
    }
    CHECK(left == 0);
}

TEST_CASE("what is read-only stays, and the system's reason is told") {
    const Folder folder("reasons");
    const std::string old = folder.write("t.csv", "a,b\n");
    REQUIRE(::chmod(old.c_str(), 0444) == 0);
    refuses(run + " --trace" + quoted(old),
            old + ": is read-only; allow writing to it (chmod u+w), or name another file\n");
    CHECK(read_file(old) == "a,b\n");
    refuses(run + " --trace /nowhere/t.csv",
            "/nowhere/t.csv: cannot be written: No such file or directory; check the path; its folder must "
            "exist\n");
    refuses(run + " --trace" + quoted(folder.file("")),
            folder.file("") + ": is a folder; name a file in it\n");
    refuses(run + " --trace /dev/full",
            "/dev/full: cannot be written: No space left on device; free some space");
    REQUIRE(::access("/dev/full", F_OK) == 0);
    struct stat device {};
    REQUIRE(::stat("/dev/full", &device) == 0);
    CHECK(S_ISCHR(device.st_mode));
}

TEST_CASE("pipes and devices are written into, not replaced") {
    const Folder folder("pipes");
    const std::string pipe = folder.file("pipe.csv");
    REQUIRE(::mkfifo(pipe.c_str(), 0600) == 0);
    const std::string copy = folder.file("copy.csv");
    REQUIRE(std::system(("cat '" + pipe + "' > '" + copy + "' &").c_str()) == 0);
    CHECK(run_program(run + " --trace" + quoted(pipe)).code == 0);
    CHECK(std::filesystem::is_fifo(pipe));
    for (int i = 0; i < 200 && read_file(copy).empty(); ++i) {
        ::usleep(10'000);
    }
    CHECK(read_file(copy).starts_with("time_s,state"));
    CHECK(run_program(run + " --trace /dev/null --picture /dev/null").code == 0);
    CHECK(std::filesystem::is_character_file("/dev/null"));
}

TEST_CASE("a dash is a standard stream, and data are alone in it") {
    for (const Writer& writer : writers) {
        CAPTURE(writer.call);
        const Folder folder("dash");
        const std::string file =
            folder.file("x" + (writer.ending == ".svg" || writer.ending == ".dot" ? ".png" : writer.ending));
        const Outcome to_file = run_program(with_chart(writer.call, bearer) + quoted(file)),
                      to_stream = run_program(with_chart(writer.call, bearer) + " -");
        CHECK(to_stream.code == to_file.code);
        const std::string data = to_stream.out;
        if (std::filesystem::exists(file)) {
            CHECK(data.size() == read_file(file).size());
        }
        CHECK(data.find("wrote") == std::string::npos);
    }
    const Outcome piped = run_program("run - --drill " + quay + " --seconds 2 < " + bearer);
    CHECK(piped.code == 0);
    CHECK(piped.out == run_program(run).out);
    refuses("run - --drill - < " + bearer,
            "--drill: reads standard input, which CHART reads already; name a file for one of them\n");
    refuses("run - --drill " + bearer + " < " + quay, "<stdin>: is a drill file, not a chart file");
    const Outcome both = run_program(run + " --trace - --json");
    CHECK(both.code == 2);
    CHECK(both.errors ==
          "cursimeter: error: --trace: writes to standard output, which --json writes to already; name a "
          "file for one of them\n");
    refuses("try -", "CHART: cannot be standard input: the window saves to it; name a file\n");
}

TEST_CASE("a full disk on standard output is noticed by every command") {
    const Folder folder("full");
    const std::string take = folder.file("t.take");
    REQUIRE(run_program(run + " --take" + quoted(take)).code == 0);
    const std::vector<std::string> calls{
        run,
        run + " --json",
        "check " + bearer,
        "figures " + bearer,
        "why " + bearer + " --drill " + quay + " --at 1",
        "draw diagram " + bearer + " -o -",
        "sweep " + bearer + " --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward",
        "fit " + bearer + " --want 'sprint.top_forward = 7 m/s' --vary states.sprint.speed.forward",
        "replay '" + take + "'",
        "report " + bearer + " --drill " + quay + " -o -",
        "net " + bearer + " --seconds 1",
        "reference chart",
        "schema drill",
        "help run",
        "--version"};
    for (const std::string& call : calls) {
        const Outcome outcome = run_program(call + " > /dev/full");
        CAPTURE(call, outcome.errors);
        CHECK(outcome.code == 2);
        CHECK(outcome.errors.find(
                  "cursimeter: error: standard output: cannot be written: No space left on device; "
                  "what was printed is not whole\n") != std::string::npos);
    }
}

TEST_CASE("two writers at once both succeed, and one wins whole") {
    const Folder folder("race");
    const std::string file = folder.file("t.csv");
    REQUIRE(run_program(run + " --rate 500 --trace" + quoted(file)).code == 0);
    const std::string slow = read_file(file);
    REQUIRE(run_program(run + " --rate 250 --trace" + quoted(file)).code == 0);
    const std::string quick = read_file(file);
    for (int i = 0; i < 5; ++i) {
        const std::string program =
            std::string("'") + CURSIMETER_PROGRAM + "' " + run + " --trace '" + file + "'";
        CHECK(
            std::system(("cd '" + std::string(CURSIMETER_SOURCE_DIR) + "' && (" + program +
                         " --rate 500 > /dev/null & a=$!; " + program + " --rate 250 > /dev/null && wait $a)")
                            .c_str()) == 0);
        const std::string left = read_file(file);
        CHECK((left == slow || left == quick));
    }
}

TEST_CASE("errors are JSON where JSON was asked for, and all missing files are told at once") {
    const Outcome outcome = run_program("run gone.toml --drill away.toml --course nowhere.toml --json");
    CHECK(outcome.code == 2);
    CHECK(outcome.errors ==
          "gone.toml: error: cannot be read: No such file or directory; check the path and its permissions\n"
          "away.toml: error: cannot be read: No such file or directory; check the path and its permissions\n"
          "nowhere.toml: error: cannot be read: No such file or directory; check the path and its "
          "permissions\n");
    const nlohmann::json told = nlohmann::json::parse(outcome.out);
    REQUIRE(told["errors"].size() == 3);
    CHECK(told["errors"][1]["file"] == "away.toml");
    CHECK(told["errors"][1]["what"] == "cannot be read: No such file or directory");
    CHECK(nlohmann::json::parse(run_program("run --colour --json").out)["errors"].size() == 1);
}

TEST_CASE("a file that nobody wrote by hand is refused, quickly and in a few lines") {
    const Folder folder("bounds");
    refuses("run /dev/zero --drill " + quay,
            "/dev/zero: holds more than 16 MB; check that it is the file that you meant\n");
    std::string keys = "format = 1\nname = \"x\"\n";
    for (int i = 0; i < 400'000; ++i) {
        keys += "unknown_key_" + std::to_string(i) + " = 1\n";
    }
    const Outcome many = run_program("check" + quoted(folder.write("keys.toml", keys)));
    CHECK(many.code == 2);
    CHECK(std::count(many.errors.begin(), many.errors.end(), '\n') == 51);
    CHECK(many.errors.find("more mistakes are not listed; correct these first\n") != std::string::npos);
    std::string dots = "a";
    for (int i = 0; i < 50'000; ++i) {
        dots += ".a";
    }
    const std::string deep = folder.write("deep.toml", "format = 1\n" + dots + " = 1\n");
    refuses("check" + quoted(deep),
            deep + ":2:1: has a key of more than 32 parts; no key of these files has more than five\n");
    refuses("check" + quoted(folder.write("head.toml", "[" + dots + "]\n")),
            folder.file("head.toml") + ":1:1: has a key of more");
    refuses("check" + quoted(folder.write("inline.toml", "x = { " + dots + " = 1 }\n")),
            folder.file("inline.toml") + ":1:1: has a key of more");
    std::string text = source(bearer);
    text.replace(text.find("moving forward"), 14, std::string(1'000'000, 'x'));
    const Outcome term = run_program("check" + quoted(folder.write("term.toml", text)));
    CHECK(term.code == 2);
    CHECK(term.errors.size() < 5000);
    text = source(bearer);
    text.replace(text.find("moving forward"), 14, "\\u001b[31mred\\u009b");
    const Outcome control = run_program("check" + quoted(folder.write("control.toml", text)));
    CHECK(control.errors.find("'\\x1b[31mred\\x9b' is not a known fact") != std::string::npos);
    CHECK(control.errors.find('\x1b') == std::string::npos);
}

TEST_CASE("completion and the manual name every command and option that --help names") {
    const std::string bash = run_program("completion bash").out, manual = run_program("manual").out;
    const Folder folder("completion");
    const std::string script = folder.write("bash", bash);
    const auto complete = [&](const std::string& words, int at) {
        const std::string out = folder.file("out");
        const std::string call = "bash -c 'compopt() { :; }; source \"" + script + "\"; COMP_WORDS=(" +
                                 words + "); COMP_CWORD=" + std::to_string(at) +
                                 "; _cursimeter; printf \"%s\\n\" \"${COMPREPLY[@]}\"' > '" + out + "'";
        CHECK(std::system(call.c_str()) == 0);
        return read_file(out);
    };
    CHECK(complete("cursimeter fig", 1) == "figures\n");
    CHECK(complete("cursimeter run --dr", 2) == "--drill\n");
    CHECK(complete("cursimeter run demo/charts/ee", 2).empty() == false);
    for (const char* command : {"run", "check", "figures", "why", "draw", "sweep", "fit", "try", "replay",
                                "report", "watch", "net", "new"}) {
        const std::string help = run_program(std::string("help ") + command).out;
        const std::string section = std::string("\n.SH ") + command + "\n";
        REQUIRE(manual.find(section) != std::string::npos);
        for (std::size_t at = help.find(" --"); at != std::string::npos; at = help.find(" --", at + 1)) {
            const std::size_t end = help.find_first_of(" ,=:\n", at + 1);
            const std::string option = help.substr(at + 1, end - at - 1);
            if (option.size() > 2 && help.rfind("\n  -", at) != std::string::npos &&
                help.find("For example") > at) {
                CAPTURE(command, option);
                CHECK(bash.find(option) != std::string::npos);
            }
        }
    }
}

TEST_CASE("a course on which a run is hardly meant is cautioned of") {
    const Folder folder("cautions");
    const auto cautions = [&](const std::string& text) {
        const std::string file = folder.write("c.toml", "format = 1\nname = \"c\"\n" + text);
        const Outcome outcome = run_program(
            "run demo/charts/gannet.toml --seconds 1 --drill demo/drills/relay_gannet.toml --course" +
            quoted(file));
        CHECK(outcome.code == 0);
        return outcome.errors;
    };
    const std::string ground = "[[box]]\nfrom = [-50, -50, -1]\nto = [50, 50, 0]\n";
    CHECK(cautions(ground).empty());
    CHECK(cautions("[[box]]\nfrom = [10, 10, 0]\nto = [12, 12, 1]\n") ==
          "caution: there is no ground below the start, [-2, 0, 0]: the runner falls for ever\n");
    CHECK(cautions("[[box]]\nfrom = [-5, -5, -1]\nto = [5, 5, 0.5]\n")
              .find("caution: the start, [-2, 0, 0], is 0.50 m deep in a solid\n") == 0);
    CHECK(cautions(ground + "[[zone]]\nkind = \"updraf\"\nfrom = [5, 5, 0]\nto = [6, 6, 2]\n") ==
          "caution: zone[1]: the chart knows no zone 'updraf'; did you mean 'updraft'?\n");
    CHECK(cautions(ground + "[[zone]]\nkind = \"harbour\"\nfrom = [5, 5, 0]\nto = [6, 6, 2]\n").empty());
}

TEST_CASE("the examples that each --help shows work") {
    const std::string all = run_program("--help").out;
    const Folder folder("examples");
    std::size_t tried = 0;
    for (std::string command : {"run", "check", "figures", "why", "draw", "sweep", "fit", "report", "net",
                                "reference", "schema", "new"}) {
        const std::string help = run_program("help " + command).out;
        const std::string heading = "For example:\n";
        std::size_t at = help.find(heading);
        CAPTURE(command, help);
        REQUIRE(at != std::string::npos);
        at += heading.size();
        for (std::size_t end = help.find('\n', at); help.compare(at, 13, "  cursimeter ") == 0;
             end = help.find('\n', at)) {
            const std::string call = help.substr(at + 13, end - at - 13);
            at = end + 1;
            ++tried;
            CAPTURE(call);
            CHECK(std::system(("cd '" + folder.file("") + "' && ln -sfn '" + CURSIMETER_SOURCE_DIR +
                               "/demo' demo && '" + CURSIMETER_PROGRAM + "' " + call + " > out 2> errors")
                                  .c_str()) == 0);
        }
        CHECK(help.find("Exit code: 0 fine") != std::string::npos);
    }
    CHECK(tried == 13);
}

TEST_CASE("a chart's drill and course stand beside it") {
    const Folder folder("beside");
    REQUIRE(run_program("new wader --folder" + quoted(folder.file(""))).code == 0);
    const std::string chart = folder.file("wader.chart.toml");
    const Outcome found = run_program("run" + quoted(chart)),
                  named = run_program("run" + quoted(chart) + " --drill" +
                                      quoted(folder.file("wader.drill.toml")) + " --course" +
                                      quoted(folder.file("wader.course.toml")));
    CHECK(found.code == 0);
    CHECK(found.out == named.out);
    CHECK(run_program("help run").out == run_program("run --help").out);
    CHECK(run_program("help").out == run_program("--help").out);
    CHECK(run_program("net " + bearer + " --seconds 1 --loss '5 %'").out ==
          run_program("net " + bearer + " --seconds 1 --loss 5").out);
}
