#include <catch2/catch.hpp>

#include "support/program.hpp"
#include "support/share.hpp"

using namespace support;

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
    for (const char* command : {"run", "check", "figures", "why", "draw", "sweep", "scout", "fit", "try",
                                "replay", "report", "watch", "net", "new"}) {
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

TEST_CASE("the examples that each --help shows work") {
    const std::string all = run_program("--help").out;
    const Folder folder("examples");
    std::size_t tried = 0;
    support::Share share;
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
            CHECK((!share.takes() ||
                   std::system(("cd '" + folder.file("") + "' && ln -sfn '" + CURSIMETER_SOURCE_DIR +
                                "/demo' demo && '" + CURSIMETER_PROGRAM + "' " + call + " > out 2> errors")
                                   .c_str()) == 0));
        }
        CHECK(help.find("Exit code: 0 fine") != std::string::npos);
    }
    CHECK(tried == 15);
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
    CHECK(run_program("net " + bearer_file + " --seconds 1 --loss '5 %'").out ==
          run_program("net " + bearer_file + " --seconds 1 --loss 5").out);
}

TEST_CASE("an option that several commands have has the same short name in each") {
    const std::string all = run_program("--help").out;
    std::size_t at = all.find("Subcommands:\n"), found = 0;
    REQUIRE(at != std::string::npos);
    for (at = all.find("\n  ", at); at != std::string::npos; at = all.find("\n  ", at + 1)) {
        const std::string command = all.substr(at + 3, all.find(' ', at + 3) - at - 3);
        const std::string help = run_program("help " + command).out;
        for (const auto& [long_name, short_name] : {std::pair{"--course", "-c"},
                                                    {"--drill", "-d"},
                                                    {"--rate", "-r"},
                                                    {"--seconds", "-s"},
                                                    {"--json", "-j"}}) {
            CAPTURE(command, long_name);
            if (help.find(std::string("\n  ") + long_name + ' ') != std::string::npos) {
                FAIL_CHECK("it has no short name");
            }
            found += help.find(std::string("\n  ") + short_name + ',' + long_name + ' ') != std::string::npos
                         ? 1
                         : 0;
        }
    }
    CHECK(found > 20);
}
