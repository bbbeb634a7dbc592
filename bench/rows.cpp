#include "rows.hpp"

#include <cursimeter/chartfile/course_file.hpp>
#include <span>
#include <utility>

#include "crowd.hpp"

/// Both sides read the same frames; making an input of a frame is part of both.
namespace bench {
namespace {

using namespace cursimeter;
using rival::Law;
using rival::Sine;
using rival::Style;

/// Fills what a player of the crowd wants in a frame, in place: an intent that is made aside and copied is read back before its parts
/// have reached memory, which costs more than filling it.
void fill(Intent& intent, const Frame& frame, std::span<const Change> tread_tap) {
    intent.move = {frame.forward, frame.side};
    intent.look = {frame.yaw, 0.0};
    intent.held = std::uint32_t{frame.sprint} << 0U | std::uint32_t{frame.crouch} << 2U |
                  std::uint32_t{frame.jump} << 3U | std::uint32_t{frame.dash} << 4U |
                  std::uint32_t{frame.cape} << 5U;
    intent.changes = frame.tread_pressed ? tread_tap : std::span<const Change>();
}

struct Options {
    Law law = Law::ramp;
    bool footsteps = false;
    std::uint8_t modifiers = 0;
};

class Ours final : public Loop {
  public:
    Ours(std::size_t crowd, Looking looking, const Options& options)
        : chart_(bearer_chart(options.law, options.footsteps)),
          script_(looking),
          tread_press_(Change::press(chart_.action("tread"), 0.0)),
          tread_tap_{tread_press_, Change::release(chart_.action("tread"), bench::tick)} {
        Runner spawned = spawn(chart_);
        for (std::uint8_t i = 0; i < options.modifiers; ++i) {
            static_cast<void>(grant(chart_, spawned, ModifierId{i}));
        }
        runners_.assign(crowd, spawned);
    }
    double tick(std::size_t number) override {
        double sum = 0.0;
        for (std::size_t i = 0; i < runners_.size(); ++i) {
            const Frame& frame = script_.frame(i, number);
            Intent intent;
            fill(intent, frame, tread_tap_);
            const Report report = advance(chart_, runners_[i], intent, Seconds{bench::tick});
            sum += report.displacement.x;
        }
        return sum;
    }

  private:
    Chart chart_;
    Script script_;
    Change tread_press_, tread_tap_[2];
    std::vector<Runner> runners_;
};

/// The same in one call for all.
class OursInACrowd final : public Loop {
  public:
    OursInACrowd(std::size_t crowd, Looking looking)
        : crowd_(bearer_chart()),
          script_(looking),
          tread_press_(Change::press(crowd_.charts().front().action("tread"), 0.0)),
          tread_tap_{tread_press_, Change::release(crowd_.charts().front().action("tread"), bench::tick)},
          intents_(crowd),
          report_(crowd + 16) {
        crowd_.reserve(crowd);
        const Runner spawned = spawn(crowd_.charts().front());
        for (std::size_t i = 0; i < crowd; ++i) {
            crowd_.add(spawned);
        }
    }
    double tick(std::size_t number) override {
        for (std::size_t i = 0; i < intents_.size(); ++i) {
            fill(intents_[i], script_.frame(i, number), tread_tap_);
        }
        advance_all(crowd_, intents_, Seconds{bench::tick}, report_);
        return crowd_.position(number % intents_.size()).x + static_cast<double>(report_.events().size());
    }

  private:
    Crowd crowd_;
    Script script_;
    Change tread_press_, tread_tap_[2];
    std::vector<Intent> intents_;
    CrowdReport report_;
};

/// Walking on: nobody wants anything new, or everybody's look turns a little in every tick, up to 72 degrees a second, now left and
/// now right.
class WalkersIntents {
  public:
    WalkersIntents(std::size_t crowd, bool turning) : turning_(turning), intents_(crowd) {
        for (std::size_t i = 0; i < crowd; ++i) {
            intents_[i].move = {1.0, 0.0};
            intents_[i].look.yaw = static_cast<double>(i);
        }
    }
    const std::vector<Intent>& of_tick(std::size_t number) {
        for (std::size_t i = 0; turning_ && i < intents_.size(); ++i) {
            const double turn = 0.001 * static_cast<double>(1 + i % 20);
            intents_[i].look.yaw += (i + number / 20) % 2 == 0 ? turn : -turn;
        }
        return intents_;
    }

  private:
    bool turning_;
    std::vector<Intent> intents_;
};

class Walkers final : public Loop {
  public:
    Walkers(std::size_t crowd, bool turning)
        : crowd_(bearer_chart()), intents_(crowd, turning), report_(crowd) {
        for (std::size_t i = 0; i < crowd; ++i) {
            crowd_.add({{0.0, 0.0, 0.0}, static_cast<double>(i)});
        }
    }
    double tick(std::size_t number) override {
        advance_all(crowd_, intents_.of_tick(number), Seconds{bench::tick}, report_);
        return crowd_.position(number % crowd_.size()).x;
    }

  private:
    Crowd crowd_;
    WalkersIntents intents_;
    CrowdReport report_;
};

/// The same, one by one.
class WalkersAlone final : public Loop {
  public:
    WalkersAlone(std::size_t crowd, bool turning) : chart_(bearer_chart()), intents_(crowd, turning) {
        for (std::size_t i = 0; i < crowd; ++i) {
            runners_.push_back(spawn(chart_, {{0.0, 0.0, 0.0}, static_cast<double>(i)}));
        }
    }
    double tick(std::size_t number) override {
        const std::vector<Intent>& intents = intents_.of_tick(number);
        double sum = 0.0;
        for (std::size_t i = 0; i < runners_.size(); ++i) {
            sum += advance(chart_, runners_[i], intents[i], Seconds{bench::tick}).displacement.x;
        }
        return sum;
    }

  private:
    Chart chart_;
    std::vector<Runner> runners_;
    WalkersIntents intents_;
};

template <class Real, Style style>
class Rivals final : public Loop {
  public:
    Rivals(std::size_t crowd, Looking looking) : script_(looking), runners_(crowd) {}
    double tick(std::size_t number) override {
        double sum = 0.0;
        for (std::size_t i = 0; i < runners_.size(); ++i) {
            const rival::Input input = rival_input(script_.frame(i, number));
            const Real before = runners_[i].x;
            rival::advance<Real, style>(runners_[i], input, Real(bench::tick));
            sum += static_cast<double>(runners_[i].x - before);
        }
        return sum;
    }

  private:
    Script script_;
    std::vector<rival::Runner<Real>> runners_;
};

/// Where a crowd walks about, with a mouse.
enum class Place : std::uint8_t {
    quay,       ///< the relay's quay, the lamp hoist taken away
    relay,      ///< the same with the hoist, which moves 100 m away
    warehouse,  ///< a floor with 1,000 crates
};

Course course_of(Place place) {
    CourseSpec spec = load_course(CURSIMETER_SOURCE_DIR "/demo/courses/relay.toml").spec();
    if (place == Place::quay) {
        spec.platforms.clear();
    }
    if (place == Place::warehouse) {
        spec = {};
        spec.name = "warehouse";
        spec.boxes.push_back({{-200.0, -200.0, -1.0}, {200.0, 200.0, 0.0}, Degrees{0.0}});
        for (int i = 0; i < 1000; ++i) {
            const double x = -180.0 + 11.0 * (i % 32), y = -180.0 + 11.0 * (i / 32);
            const double size = 1.0 + 0.1 * (i % 17), height = 0.2 + 0.1 * (i % 13);
            spec.boxes.push_back({{x, y, 0.0}, {x + size, y + size, height}, Degrees{7.0 * (i % 11)}});
        }
    }
    return Course(spec);
}

/// Everybody begins in one place and goes another way.
Frame turned(Frame frame, std::size_t runner) {
    frame.yaw += static_cast<float>(runner);
    return frame;
}
constexpr double begin = 25.0, lowest = -3.0;  ///< m; who has fallen so far begins anew

class OursOnCourse final : public Loop {
  public:
    OursOnCourse(std::size_t crowd, Place place)
        : chart_(bearer_chart()),
          terrain_(course_of(place), chart_),
          script_(Looking::every_tick),
          spawned_(spawn(chart_, {{begin, 0.0, 0.0}, 0.0})),
          runners_(crowd, spawned_) {}
    double tick(std::size_t number) override {
        double sum = 0.0;
        for (std::size_t i = 0; i < runners_.size(); ++i) {
            const Frame frame = turned(script_.frame(i, number), i);
            Intent intent;
            intent.move = {frame.forward, frame.side};
            intent.look = {frame.yaw, 0.0};
            intent.held = std::uint32_t{frame.sprint} << 0U | std::uint32_t{frame.jump} << 3U;
            if (runners_[i].position().z < lowest) {
                runners_[i] = spawned_;
            }
            sum += advance(chart_, runners_[i], intent, terrain_, Seconds{bench::tick}).displacement.x;
        }
        return sum;
    }

  private:
    Chart chart_;
    CourseTerrain terrain_;
    Script script_;
    Runner spawned_;
    std::vector<Runner> runners_;
};

class RivalsOnCourse final : public Loop {
  public:
    RivalsOnCourse(std::size_t crowd, Place place)
        : terrain_(course_of(place), bearer_chart()), script_(Looking::every_tick) {
        spawned_.x = begin;
        runners_.assign(crowd, spawned_);
    }
    double tick(std::size_t number) override {
        double sum = 0.0;
        for (std::size_t i = 0; i < runners_.size(); ++i) {
            Frame frame = turned(script_.frame(i, number), i);
            frame.crouch = frame.dash = frame.cape = frame.tread_pressed = false;
            if (runners_[i].z < lowest) {
                runners_[i] = spawned_;
            }
            const double before = runners_[i].x;
            advance_rival(runners_[i], rival_input(frame), terrain_);
            sum += runners_[i].x - before;
        }
        return sum;
    }

  private:
    CourseTerrain terrain_;
    Script script_;
    rival::Runner<double> spawned_;
    std::vector<rival::Runner<double>> runners_;
};

template <class Made, class... More>
std::function<std::unique_ptr<Loop>(std::size_t)> make(const More&... more) {
    return [=](std::size_t crowd) { return std::make_unique<Made>(crowd, more...); };
}

/// A mouse in every tick, with another law or with footsteps.
template <Style style>
void add_style(std::vector<Row>& rows, const std::string& input) {
    rows.push_back({"rivals", input, {1000}, make<Rivals<double, style>>(Looking::every_tick)});
    rows.push_back(
        {"ours", input, {1000}, make<Ours>(Looking::every_tick, Options{style.law, style.footsteps})});
}

}  // namespace

std::vector<Row> rows() {
    constexpr Style by_polynomial{Law::ramp, false, Sine::polynomial};
    std::vector<Row> rows;
    for (const Looking looking : {Looking::every_tick, Looking::at_times}) {
        const std::string input = looking == Looking::every_tick ? "mouse" : "at_times";
        const std::vector<std::size_t> crowds{1, 1000, 100000};
        rows.push_back({"rivals", input, crowds, make<Rivals<double, Style{}>>(looking)});
        rows.push_back({"ours", input, crowds, make<Ours>(looking, Options{})});
        rows.push_back({"crowd", input, crowds, make<OursInACrowd>(looking)});
        rows.push_back({"polynomial", input, {1000}, make<Rivals<double, by_polynomial>>(looking)});
        rows.push_back({"floats", input, {1000}, make<Rivals<float, by_polynomial>>(looking)});
    }
    for (const bool turning : {false, true}) {
        const std::string input = turning ? "turning_on" : "walking_on";
        rows.push_back({"crowd", input, {1000, 100000}, make<Walkers>(turning)});
        rows.push_back({"ours", input, {1000, 100000}, make<WalkersAlone>(turning)});
    }
    add_style<Style{Law::ramp, true}>(rows, "footsteps");
    add_style<Style{Law::ease}>(rows, "ease");
    add_style<Style{Law::instant}>(rows, "at_once");
    rows.push_back({"rivals", "modifiers", {1000}, make<Rivals<double, Style{}>>(Looking::every_tick)});
    rows.push_back(
        {"ours", "modifiers", {1000}, make<Ours>(Looking::every_tick, Options{Law::ramp, false, 4})});
    for (const auto& [input, place] : {std::pair<std::string, Place>{"quay", Place::quay},
                                       {"platform_far", Place::relay},
                                       {"boxes_1000", Place::warehouse}}) {
        rows.push_back({"rivals", input, {1000}, make<RivalsOnCourse>(place)});
        rows.push_back({"ours", input, {1000}, make<OursOnCourse>(place)});
    }
    return rows;
}

}  // namespace bench
