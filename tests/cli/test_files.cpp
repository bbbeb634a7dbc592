#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"
#include "support/share.hpp"

using namespace support;

namespace {

const std::string quay_run = "run " + bearer_file + " --drill " + quay_file + " --seconds 2";

/// A call that writes a file, whose name is put at the end.
struct Writer {
    std::string call;    ///< CHART stands for a chart
    std::string ending;  ///< that such a file has
};
/// Every option of every command that writes.
const std::vector<Writer> writers{
    {"run CHART --drill " + quay_file + " --seconds 2 --trace", ".csv"},
    {"run CHART --drill " + quay_file + " --seconds 2 --take", ".take"},
    {"run CHART --drill " + quay_file + " --seconds 2 --picture", ".png"},
    {"run CHART --drill " + quay_file + " --seconds 2 --map", ".svg"},
    {"run CHART --drill " + quay_file + " --seconds 1 --movie", ".png"},
    {"draw timeline CHART --drill " + quay_file + " --seconds 2 -o", ".svg"},
    {"draw diagram CHART -o", ".dot"},
    {"check CHART --proof", ".toml"},
    {"sweep CHART --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward -o", ".csv"},
    {"sweep CHART --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward --picture", ".png"},
    {"sweep CHART --vary states.sprint.speed.forward=6:7 --sample 3 --figure sprint.top_forward --picture",
     ".png"},
    {"scout CHART --distance 5 --seconds 5 --effort 0.1 -o", ".toml"},
    {"scout CHART --distance 5 --seconds 5 --effort 0.1 --take", ".take"},
    {"scout CHART --distance 5 --seconds 5 --effort 0.1 --places", ".csv"},
    {"scout CHART --distance 5 --seconds 5 --effort 0.1 --picture", ".png"},
    {"fit CHART --want 'sprint.top_forward = 7 m/s' --vary states.sprint.speed.forward -o", ".toml"},
    {"trial CHART --drill " + quay_file + " --junit", ".xml"},
    {"report CHART --drill " + quay_file + " --seconds 2 -o", ".html"},
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

TEST_CASE("no output replaces an input, under any of its names", "[long]") {
    const Folder folder("inputs");
    const std::string text = source(bearer_file);
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
    refuses(quay_run + " --picture" + quoted(a) + " --map" + quoted(a),
            a + ": --map: would replace what --picture writes; name another file\n");
    for (const char* name : {"only_here.png", "./only_here.png", "demo/../only_here.png"}) {
        const Outcome outcome = run_program(
            quay_run + " --picture only_here.png --map" +
            quoted(std::string(name)[0] == 'o' ? std::string(CURSIMETER_SOURCE_DIR) + "/" + name : name));
        CAPTURE(name);
        CHECK(outcome.code == 2);
        CHECK_FALSE(std::filesystem::exists(std::string(CURSIMETER_SOURCE_DIR) + "/" + "only_here.png"));
    }
    CHECK_FALSE(std::filesystem::exists(a));
    const std::string drill = folder.write("d.txt", source(quay_file)),
                      picture = folder.write("p.dat", "\x89PNG\r\n"),
                      take = folder.write("t.dat", "curstake..");
    for (const Writer& writer : writers) {
        const bool writes_drills = writer.call.find("--proof") != std::string::npos ||
                                   (writer.call.starts_with("scout") && writer.call.ends_with("-o"));
        if (writes_drills) {
            continue;
        }
        for (const std::string& name : {drill, take}) {
            if (name == take && writer.call.find("--take") != std::string::npos) {
                continue;
            }
            const std::string before = read_file(name);
            CAPTURE(writer.call, name);
            CHECK(run_program(with_chart(writer.call, bearer_file) + quoted(name)).code == 2);
            CHECK(read_file(name) == before);
        }
    }
    refuses("sweep " + bearer_file +
                " --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward -o" + quoted(drill),
            drill +
                ": --out: is a drill file now, and a table would replace it; name another file, or remove "
                "this one first\n");
    refuses(quay_run + " --trace" + quoted(folder.file("t.toml")),
            folder.file("t.toml") +
                ": --trace: writes a table, which does not belong in a .toml file; give it another ending\n");
    refuses(quay_run + " --trace" + quoted(picture), picture + ": --trace: is a PNG picture now");
}

TEST_CASE("links are followed, and mode, twins and strangers' files stay") {
    const Folder folder("links");
    support::Share share;
    for (const Writer& writer : writers) {
        if (!share.takes()) {
            continue;
        }
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
        CHECK(run_program(with_chart(writer.call, bearer_file) + quoted(link)).code ==
              0);  // one that leads nowhere yet
        CHECK(std::filesystem::is_symlink(link));
        const std::string written = read_file(target);
        REQUIRE_FALSE(written.empty());
        REQUIRE(::chmod(target.c_str(), 0640) == 0);
        REQUIRE(::link(target.c_str(), twin.c_str()) == 0);
        const std::string stranger = folder.write("target" + writer.ending + ".new", "mine");
        CHECK(run_program(with_chart(writer.call, bearer_file) + quoted(link)).code == 0);
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
    refuses(quay_run + " --trace" + quoted(old),
            old + ": is read-only; allow writing to it (chmod u+w), or name another file\n");
    CHECK(read_file(old) == "a,b\n");
    refuses(quay_run + " --trace /nowhere/t.csv",
            "/nowhere/t.csv: cannot be written: No such file or directory; check the path; its folder must "
            "exist\n");
    refuses(quay_run + " --trace" + quoted(folder.file("")),
            folder.file("") + ": is a folder; name a file in it\n");
    refuses(quay_run + " --trace /dev/full",
            "/dev/full: cannot be written: No space left on device; free some space");
    REQUIRE(::access("/dev/full", F_OK) == 0);
    struct stat device {};
    REQUIRE(::stat("/dev/full", &device) == 0);
    CHECK(S_ISCHR(device.st_mode));
}

TEST_CASE("the rows that a sweep keeps while it runs take nobody's place") {
    const Folder folder("part");
    const std::string out = folder.file("s.csv"), part = out + ".part";
    const std::string call = "sweep " + bearer_file +
                             " --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward -o" +
                             quoted(out);
    const std::string told =
        part + ": --out: is where the rows are kept until the sweep ends, and holds something else";
    REQUIRE(folder.write("s.csv.part", "mine\n") == part);
    refuses(call, told);
    CHECK(read_file(part) == "mine\n");
    std::filesystem::remove(part);
    const std::string other = folder.write("other", "mine too\n");
    REQUIRE(::symlink(other.c_str(), part.c_str()) == 0);
    refuses(call, told);
    CHECK(read_file(other) == "mine too\n");
    std::filesystem::remove(part);
    REQUIRE(::mkfifo(part.c_str(), 0600) == 0);
    refuses(call, told);
    std::filesystem::remove(part);
    CHECK(run_program(call).code == 0);
    CHECK_FALSE(std::filesystem::exists(part));
}

TEST_CASE("pipes and devices are written into, not replaced") {
    const Folder folder("pipes");
    const std::string pipe = folder.file("pipe.csv");
    REQUIRE(::mkfifo(pipe.c_str(), 0600) == 0);
    const std::string copy = folder.file("copy.csv");
    REQUIRE(std::system(("cat '" + pipe + "' > '" + copy + "' &").c_str()) == 0);
    CHECK(run_program(quay_run + " --trace" + quoted(pipe)).code == 0);
    CHECK(std::filesystem::is_fifo(pipe));
    for (int i = 0; i < 200 && read_file(copy).empty(); ++i) {
        ::usleep(10'000);
    }
    CHECK(read_file(copy).starts_with("time_s,state"));
    CHECK(run_program(quay_run + " --trace /dev/null --picture /dev/null").code == 0);
    CHECK(std::filesystem::is_character_file("/dev/null"));
}

TEST_CASE("a dash is a standard stream, and data are alone in it") {
    support::Share share;
    for (const Writer& writer : writers) {
        if (!share.takes()) {
            continue;
        }
        CAPTURE(writer.call);
        const Folder folder("dash");
        const std::string file =
            folder.file("x" + (writer.ending == ".svg" || writer.ending == ".dot" ? ".png" : writer.ending));
        const Outcome to_file = run_program(with_chart(writer.call, bearer_file) + quoted(file)),
                      to_stream = run_program(with_chart(writer.call, bearer_file) + " -");
        CHECK(to_stream.code == to_file.code);
        const std::string data = to_stream.out;
        if (std::filesystem::exists(file)) {
            CHECK(data.size() == read_file(file).size());
        }
        CHECK(data.find("wrote") == std::string::npos);
    }
    const Outcome piped = run_program("run - --drill " + quay_file + " --seconds 2 < " + bearer_file);
    CHECK(piped.code == 0);
    CHECK(piped.out == run_program(quay_run).out);
    refuses("run - --drill - < " + bearer_file,
            "--drill: reads standard input, which CHART reads already; name a file for one of them\n");
    refuses("run - --drill " + bearer_file + " < " + quay_file, "<stdin>: is a drill file, not a chart file");
    const Outcome both = run_program(quay_run + " --trace - --json");
    CHECK(both.code == 2);
    CHECK(both.errors ==
          "cursimeter: error: --trace: writes to standard output, which --json writes to already; name a "
          "file for one of them\n");
    refuses("try -", "CHART: cannot be standard input: the window saves to it; name a file\n");
}

TEST_CASE("a full disk on standard output is noticed by every command", "[long]") {
    const Folder folder("full");
    const std::string take = folder.file("t.take");
    REQUIRE(run_program(quay_run + " --take" + quoted(take)).code == 0);
    const std::vector<std::string> calls{
        quay_run,
        quay_run + " --json",
        "check " + bearer_file,
        "figures " + bearer_file,
        "why " + bearer_file + " --drill " + quay_file + " --at 1",
        "draw diagram " + bearer_file + " -o -",
        "sweep " + bearer_file + " --vary states.sprint.speed.forward=6:7:1 --figure sprint.top_forward",
        "scout " + bearer_file + " --distance 5 --seconds 5 --effort 0.1",
        "fit " + bearer_file + " --want 'sprint.top_forward = 7 m/s' --vary states.sprint.speed.forward",
        "replay '" + take + "'",
        "report " + bearer_file + " --drill " + quay_file + " -o -",
        "net " + bearer_file + " --seconds 1",
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
    REQUIRE(run_program(quay_run + " --rate 500 --trace" + quoted(file)).code == 0);
    const std::string slow = read_file(file);
    REQUIRE(run_program(quay_run + " --rate 250 --trace" + quoted(file)).code == 0);
    const std::string quick = read_file(file);
    for (int i = 0; i < 5; ++i) {
        const std::string program =
            std::string("'") + CURSIMETER_PROGRAM + "' " + quay_run + " --trace '" + file + "'";
        CHECK(
            std::system(("cd '" + std::string(CURSIMETER_SOURCE_DIR) + "' && (" + program +
                         " --rate 500 > /dev/null & a=$!; " + program + " --rate 250 > /dev/null && wait $a)")
                            .c_str()) == 0);
        const std::string left = read_file(file);
        CHECK((left == slow || left == quick));
    }
}
