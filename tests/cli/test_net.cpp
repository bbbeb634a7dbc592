#include <catch2/catch.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;
using nlohmann::json;

namespace {
const std::string net_call = "net demo/charts/bearer.toml --drill demo/drills/quay_boards.toml";
}

TEST_CASE("net tells how each client did, and that nothing went wrong") {
    const Outcome outcome =
        run_program(net_call + " --seconds 15 --delay 75 --jitter 20 --loss 5 --duplicate 1 --reorder 2");
    CHECK(outcome.code == 0);
    CHECK(outcome.errors.empty());
    for (const char* line :
         {"bearer, 3 clients, \"quay boards\": 15 s at 60 ticks and 20 snapshots a second",
          "round trip 150 ms, jitter 20 ms, loss 5 %, duplication 1 %, reordering 2 %, clients at 144 "
          "frames a second; seed 1",
          "corrections   0, of which 0 of more than 5 cm",
          "inputs        0 missed by the server after each client's first second",
          "acknowledged states differ from the server's"}) {
        CAPTURE(line);
        CHECK(outcome.out.find(line) != std::string::npos);
    }
}

TEST_CASE("net --json has every figure, and the same call gives the same digest") {
    const std::string call = net_call + " --clients 2 --seconds 8 --delay 40 --loss 10 --json --seed 3";
    const Outcome outcome = run_program(call);
    CHECK(outcome.code == 0);
    const json result = json::parse(outcome.out);
    REQUIRE(result.at("clients").size() == 2);
    for (const json& client : result.at("clients")) {
        CHECK(client.at("joined") == true);
        CHECK(client.at("corrections") == 0);
        CHECK(client.at("correction_max_m") == 0.0);
        CHECK(client.at("missing_inputs") == 0);
        CHECK(client.at("bytes_up_per_s").get<double>() > 100.0);
        CHECK(client.at("bytes_up_per_s").get<double>() < 1500.0);
        CHECK(client.at("bytes_down_per_s").get<double>() > 100.0);
        CHECK(client.at("remote_error_median_m").get<double>() <= 0.02);
        CHECK(client.at("remote_error_p99_m").get<double>() <= 0.15);
        CHECK(client.at("digests_differing") == 0);
        CHECK(client.at("digests_compared").get<int>() > 100);
        // A round trip of 80 ms lies between an intent and its tick, less what is on the way back.
        CHECK(client.at("input_delay_s").get<double>() > 0.04);
    }
    CHECK(result.at("bytes_per_remote_snapshot").get<double>() > 0.0);
    CHECK(run_program(call).out == outcome.out);
}

TEST_CASE("net plays human hands without a drill, or calm ones, and draws what three saw") {
    const auto picture = std::filesystem::temp_directory_path() / "cursimeter_net_views.png";
    const Outcome outcome =
        run_program("net demo/charts/eel.toml --seconds 6 --clients 2 --picture " + picture.string());
    CHECK(outcome.code == 0);
    CHECK(outcome.out.find("\"human hands\"") != std::string::npos);
    CHECK(run_program("net demo/charts/eel.toml --seconds 6 --hands calm").out.find("\"random hands\"") !=
          std::string::npos);
    CHECK(outcome.out.find("wrote " + picture.string()) != std::string::npos);
    CHECK(std::filesystem::file_size(picture) > 10000);
    std::filesystem::remove(picture);
}

TEST_CASE("net says how many snapshots a second there are, not how many were wished") {
    const std::string text = run_program(net_call + " --seconds 2 --rate 30 --snapshots 20").out;
    CHECK(text.find("at 30 ticks and 15 snapshots a second") != std::string::npos);
}

TEST_CASE("net stands still when told to, seals when told to, and goes on") {
    const std::string call = "net demo/charts/bearer.toml --seconds 20 --clients 2 --delay 50 --json";
    const json sealed = json::parse(run_program(call + " --sealed").out);
    const json plain = json::parse(run_program(call).out);
    CHECK(sealed.at("digest") == plain.at("digest"));
    for (std::size_t i = 0; i < 2; ++i) {
        const json &one = sealed.at("clients").at(i), &other = plain.at("clients").at(i);
        const double more = one.at("bytes_up_per_s").get<double>() - other.at("bytes_up_per_s").get<double>();
        CHECK(more / one.at("packets_up_per_s").get<double>() == Approx(16.0).margin(0.5));
    }
    const json stalls = json::parse(run_program(call + " --stall 900").out);
    for (const json& client : stalls.at("clients")) {
        CHECK(client.at("missing_inputs").get<int>() >= 50);
        CHECK(client.at("missing_inputs").get<int>() <= 2 * 54);
        CHECK(client.at("corrections").get<int>() <= 6);
    }
}

TEST_CASE("net says so if a client cannot get in") {
    const Outcome outcome = run_program(net_call + " --seconds 2 --clients 2 --loss 95");
    CHECK(outcome.code == 0);
    CHECK(outcome.out.find("1       has not joined") != std::string::npos);
    CHECK(outcome.out.find("2 of 2 clients could not join over this link") != std::string::npos);
    const json result = json::parse(run_program(net_call + " --seconds 2 --clients 2 --loss 95 --json").out);
    CHECK(result.at("clients").at(0).at("joined") == false);
}

TEST_CASE("net refuses what it cannot do, by option and range") {
    const struct {
        const char* arguments;
        const char* wrong;
        const char* mend;
    } cases[] = {
        {" --clients 0", "--clients", "1 to 256"},
        {" --loss 120", "--loss", "0 to 95 %"},
        {" --delay -1", "--delay", "0 to 1000 ms"},
        {" --snapshots 90", "--snapshots", "10 to 60 a second"},
        {" --rate 5", "--rate", "10 to 1000 ticks a second"},
        {" --picture views.bmp", "views.bmp", "end its name in one of them"},
        {" --clients 1 --picture views.png", "--picture", "give --clients 2 or more"},
        {" --frames 2000", "--frames", "0 to 1000 frames a second"},
        {" --stall 9000", "--stall", "0 to 4000 ms"},
        {" --hands wild", "--hands", "human, calm"},
        {" --los 3", "there is no option '--los'", "did you mean '--loss'?"},
    };
    for (const auto& one : cases) {
        CAPTURE(one.arguments);
        const Outcome outcome = run_program(net_call + one.arguments);
        CHECK(outcome.code == 2);
        CHECK(outcome.out.empty());
        CHECK(outcome.errors.find(one.wrong) != std::string::npos);
        CHECK(outcome.errors.find(one.mend) != std::string::npos);
    }
}

TEST_CASE("any seed is good, and one bad number is told once") {
    CHECK(run_program("net " + bearer_file + " --seconds 1 --clients 1 --seed 18446744073709551615").code ==
          0);
    CHECK(run_program("net " + bearer_file + " --seconds 1 --peers 2 --seed 18446744073709551615").code == 0);
    CHECK(run_program("net " + bearer_file + " --rate 7").errors ==
          "cursimeter: error: --rate: 7 is out of range; give 10 to 1000 ticks a second\n");
}

TEST_CASE("a match is recorded, played again, and gives a take of any runner, which answers like any run") {
    const Folder folder("match");
    const std::string match = folder.file("night.match"), take = folder.file("second.take");
    const std::string call =
        "net demo/charts/bearer.toml --clients 3 --seconds 12 --delay 60 --loss 5 --course "
        "demo/courses/relay.toml";
    const Outcome recorded = run_program(call + " --match '" + match + "'");
    CHECK(recorded.out.find("wrote " + match + "\n") != std::string::npos);
    const Outcome plain = run_program(call);
    CHECK(recorded.out.starts_with(plain.out));  // recording changes nothing
    const Outcome again = run_program("replay '" + match + "'");
    CHECK(again.code == 0);
    CHECK(again.out.starts_with(match + ": 3 clients, human hands, 3 runners, "));
    CHECK(again.out.find(" at 60 ticks a second, on course relay\nthe same, bit for bit\n\nrunner  chart") !=
          std::string::npos);
    const json told = json::parse(run_program("replay '" + match + "' --json").out);
    CHECK(told["runners"].size() == 3);
    CHECK(told["differing"] == 0);
    CHECK_FALSE(told.contains("first"));
    const Outcome made = run_program("replay '" + match + "' --runner 2 --take '" + take + "'");
    CHECK(made.code == 0);
    CHECK(made.out.ends_with("wrote " + take + "\n"));
    const json run = json::parse(run_program("run --from '" + take + "' --json").out);
    CHECK(run["distance"].get<double>() == Approx(told["runners"][1]["walked"].get<double>()).margin(1e-9));
    CHECK(run_program("replay '" + take + "'").out.find("the same, bit for bit") != std::string::npos);
    CHECK(run_program("why --from '" + take + "' --at 5").code == 0);

    refuses("replay '" + match + "' --runner 4 --take x.take",
            match + ": --runner: there is no runner 4; give 1 to 3");
    refuses("replay '" + match + "' --runner 2",
            "--take: is missing; give both: the runner whose take it is to be, and the file");
    refuses("replay '" + match + "' --take x.take",
            "--runner: is missing; give both: the runner whose take it is to be, and the file");
    refuses("replay '" + take + "' --runner 1",
            take + ": --runner: is for matches, and this is a take; leave it out");
    refuses(
        "run --from '" + match + "'",
        match +
            ": is a match, not a take; make a take of one of its runners: cursimeter replay MATCH --runner N "
            "--take FILE");
    refuses("replay '" + match + "' --chart demo/charts/eel.toml",
            "chart 0: is not the match's; give the 1 charts");
    // Damage is found, and the rest is still of use.
    std::string broken = read_file(match);
    broken[broken.size() - 300] = static_cast<char>(broken[broken.size() - 300] ^ 1);
    const Outcome damaged = run_program("replay '" + folder.write("broken.match", broken) + "'");
    CHECK(damaged.code == 2);
    CHECK(damaged.errors.find("is damaged in tick ") != std::string::npos);
    const Outcome cut =
        run_program("replay '" + folder.write("cut.match", broken.substr(0, broken.size() - 400)) + "'");
    CHECK(cut.code == 0);
    CHECK(cut.out.find("the last tick of the match is not whole and was left out\n") != std::string::npos);
    // Over another course, the quay turned a little, it comes out otherwise.
    std::string other = read_file(match);
    const std::string quay = "to = [50, 4, 0]\nyaw = 0";
    const std::size_t at = other.find(quay);
    REQUIRE(at != std::string::npos);
    other[at + quay.size() - 1] = '9';
    const Outcome elsewhere = run_program("replay '" + folder.write("other.match", other) + "'");
    CHECK(elsewhere.code == 1);
    CHECK(elsewhere.out.find("differs first in tick ") != std::string::npos);
}

TEST_CASE("net --peers: players without a server come to the same, and say how often they played again") {
    const std::string call =
        "net demo/charts/bearer.toml --peers 3 --seconds 10 --delay 60 --jitter 10 --loss 5";
    const Outcome outcome = run_program(call);
    CHECK(outcome.code == 0);
    CHECK(outcome.out.starts_with(
        "bearer, 3 players without a server, human hands: 10 s at 60 ticks a second\n"
        "round trip 120 ms, jitter 10 ms, loss 5 %, programs at 144 frames a second; seed 1\n"));
    CHECK(outcome.out.find(" ticks known for good, the same to the bit; ") != std::string::npos);
    CHECK(run_program(call).out == outcome.out);
    const json told = json::parse(run_program(call + " --course demo/courses/relay.toml --json").out);
    CHECK(told["same"] == true);
    REQUIRE(told["peers"].size() == 3);
    for (const json& end : told["peers"]) {
        CHECK(end["playing"] == true);
        CHECK(end["replayed_ticks"].get<int>() > 100);
        CHECK(end["deepest_ticks"].get<int>() <= 12);
        CHECK(end["compared"].get<int>() >= 14);
        CHECK(end["round_trip_s"].get<double>() == Approx(0.12).margin(0.04));
    }
    CHECK(told["confirmed_ticks"].get<int>() > 560);
    CHECK(run_program("net demo/charts/eel.toml --peers 2 --seconds 5 --rate 10").code == 0);
    refuses(call + " --clients 2",
            "--clients does not go with --peers; leave one of them out; see cursimeter net --help\n");
    refuses("net demo/charts/bearer.toml --peers 5", "--peers: 5 is out of range; give 2 to 4 players");
    refuses(call + " --hands calm", "--hands: peers have human hands only; leave it out");
    refuses(call + " --rate 300", "--rate: 300 is out of range; give 10 to 240 ticks a second among peers");
}
