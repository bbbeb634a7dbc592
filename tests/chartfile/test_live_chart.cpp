#include <unistd.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/live_chart.hpp>
#include <cursimeter/chartfile/saved_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/reload.hpp>
#include <filesystem>
#include <string>

#include "support/folder.hpp"

using namespace cursimeter;
using support::Folder;

namespace {

/// A chart of one state that walks at `speed`.
std::string walking_at(const std::string& speed) {
    return "format = 1\nname = \"hopper\"\nrank = [\"walk\"]\n\n[states.walk]\nkind = \"ground\"\nspeed = { "
           "forward = " +
           speed + " }\ngain = { law = \"instant\" }\n";
}

/// Seconds by which an entry's time is put forward, so that no two writes of a test fall into one moment.
void put_forward(const std::string& file, int seconds) {
    std::filesystem::last_write_time(file,
                                     std::filesystem::last_write_time(file) + std::chrono::seconds(seconds));
}

/// Somebody for whom permissions count: the administrator reads everything.
class Anybody {
  public:
    Anybody() = default;
    Anybody(const Anybody&) = delete;
    Anybody& operator=(const Anybody&) = delete;
    ~Anybody() { end(); }
    void begin() const { REQUIRE((mine_ != 0 || ::seteuid(65534) == 0)); }
    void end() const { REQUIRE(::seteuid(mine_) == 0); }

  private:
    uid_t mine_ = ::geteuid();
};

}  // namespace

TEST_CASE("a saved file: each save is told once, however the editor saves") {
    const Folder folder("saved");
    const std::string file = folder.write("a.toml", "one");
    SavedFile saved(file);
    CHECK(saved.news() == FileNews::none);
    CHECK(saved.file() == file);

    SECTION("written over, to another length") {
        const std::string again = folder.write("a.toml", "three");
        CHECK(saved.news() == FileNews::saved);
        CHECK(saved.news() == FileNews::none);
    }
    SECTION("written over, as long, later") {
        const std::string again = folder.write("a.toml", "two");
        put_forward(file, 1);
        CHECK(saved.news() == FileNews::saved);
        CHECK(saved.news() == FileNews::none);
    }
    SECTION("put back to an older one, as a version control does") {
        put_forward(file, -3600);
        CHECK(saved.news() == FileNews::saved);
    }
    SECTION("replaced by another file of that name") {
        std::filesystem::rename(folder.write("b.toml", "another"), file);
        CHECK(saved.news() == FileNews::saved);
    }
    SECTION("gone, and there again as it was") {
        const auto time = std::filesystem::last_write_time(file);
        std::filesystem::remove(file);
        CHECK(saved.news() == FileNews::gone);
        CHECK(saved.news() == FileNews::none);
        const std::string again = folder.write("a.toml", "one");
        std::filesystem::last_write_time(file, time);
        CHECK(saved.news() == FileNews::saved);
        CHECK(saved.news() == FileNews::none);
    }
    SECTION("unreadable for a while, which its entry does not tell: told as saved again") {
        Anybody anybody;
        std::filesystem::permissions(file, std::filesystem::perms::none);
        anybody.begin();
        CHECK_THROWS_AS(saved.read(), ChartError);
        anybody.end();
        std::filesystem::permissions(file, std::filesystem::perms::owner_all);
        CHECK(saved.news() == FileNews::saved);
        CHECK(saved.read() == "one");
        CHECK(saved.news() == FileNews::none);
        std::filesystem::remove(file);
        CHECK(saved.news() == FileNews::gone);
        CHECK_THROWS_AS(saved.read(), ChartError);
        CHECK(saved.news() == FileNews::none);
    }
    SECTION("a copy sees for itself") {
        SavedFile other = saved;
        put_forward(file, 1);
        CHECK(saved.news() == FileNews::saved);
        CHECK(other.news() == FileNews::saved);
    }
}

TEST_CASE("a saved file may come to be only later") {
    const Folder folder("saved");
    SavedFile saved(folder.file("later.toml"));
    CHECK(saved.news() == FileNews::none);
    const std::string file = folder.write("later.toml", "");
    CHECK(saved.news() == FileNews::saved);
}

TEST_CASE("a live chart goes to work when its file is saved, under the runner that there is") {
    const Folder folder("live");
    const std::string file = folder.write("hopper.toml", walking_at("2.0"));
    LiveChart live(file);
    Runner runner = spawn(live.chart());
    Intent intent;
    intent.move.forward = 1.0;
    static_cast<void>(advance(live.chart(), runner, intent, Seconds{0.1}));
    CHECK(runner.speed() == 2.0);
    CHECK_FALSE(live.take_in());

    const std::string again = folder.write("hopper.toml", walking_at("3.25"));
    std::optional<ChartFile> before = live.take_in();
    REQUIRE(before);
    CHECK(before->spec.states.front().speed.forward == 2.0);
    CHECK(live.file().spec.states.front().speed.forward == 3.25);
    runner = carry_over(before->chart, runner, live.chart()).runner;
    static_cast<void>(advance(live.chart(), runner, intent, Seconds{0.1}));
    CHECK(runner.speed() == 3.25);
    CHECK(live.mistakes().empty());

    SECTION("one with mistakes stays out, and is told until it is mended") {
        const std::string broken = folder.write("hopper.toml", walking_at("fast"));
        CHECK_FALSE(live.take_in());
        REQUIRE(live.mistakes().size() == 1);
        CHECK(live.mistakes().front().file == file);
        CHECK(live.mistakes().front().line == 7);
        CHECK_FALSE(live.take_in());
        CHECK(live.mistakes().size() == 1);
        CHECK(live.file().spec.states.front().speed.forward == 3.25);
        const std::string mended = folder.write("hopper.toml", walking_at("4.125"));
        CHECK(live.take_in());
        CHECK(live.mistakes().empty());
        CHECK(live.file().spec.states.front().speed.forward == 4.125);
    }
    SECTION("one that cannot be read for a while is told, and taken in when it can be") {
        const std::string later = folder.write("hopper.toml", walking_at("5.0625"));
        std::filesystem::permissions(file, std::filesystem::perms::none);
        Anybody anybody;
        anybody.begin();
        CHECK_FALSE(live.take_in());
        anybody.end();
        REQUIRE(live.mistakes().size() == 1);
        CHECK(live.mistakes().front().what.find("cannot be read") != std::string::npos);
        std::filesystem::permissions(file, std::filesystem::perms::owner_all);
        CHECK(live.take_in());
        CHECK(live.mistakes().empty());
        CHECK(live.file().spec.states.front().speed.forward == 5.0625);
    }
    SECTION("one that is gone is told, and taken in when it is back") {
        std::filesystem::remove(file);
        CHECK_FALSE(live.take_in());
        REQUIRE(live.mistakes().size() == 1);
        CHECK(live.mistakes().front().file == file);
        CHECK(live.mistakes().front().what.find("No such file") != std::string::npos);
        const std::string back = folder.write("hopper.toml", walking_at("3.25"));
        CHECK(live.take_in());
        CHECK(live.mistakes().empty());
    }
}

TEST_CASE("a live chart begins only with a file that is usable") {
    const Folder folder("live");
    CHECK_THROWS_AS(LiveChart(folder.file("none.toml")), ChartError);
    CHECK_THROWS_AS(LiveChart(folder.write("broken.toml", "format = 1\nrank = [\n")), ChartError);
}
