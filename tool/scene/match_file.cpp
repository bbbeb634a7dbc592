#include "scene/match_file.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <cursimeter/survey/take.hpp>
#include <memory>

#include "files/files.hpp"

namespace cursimeter::tool {
namespace {

/// Steps as another does, and records one runner meanwhile.
class Following final : public link::Advancer {
  public:
    Following(link::Advancer& world, double dt) : world_(world), dt_(dt) {}
    void follow(link::RunnerKey runner, survey::TakeOrigin origin) {
        runner_ = runner;
        origin_ = std::move(origin);
    }
    Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                          const link::AdvanceContext& context) noexcept override {
        if (!runner_ || !(context.runner == *runner_)) {
            return world_.advance_runner(chart, runner, intent, context);
        }
        if (!recorder_) {
            recorder_.emplace(chart, runner, origin_);
        }
        static_cast<void>(recorder_->begin(runner, intent, context.dt, (context.tick.value - 1) * dt_));
        const Report report = world_.advance_runner(chart, runner, intent, context);
        static_cast<void>(recorder_->end(runner));
        const auto bytes = recorder_->bytes();
        take_.append(reinterpret_cast<const char*>(bytes.data()), bytes.size());
        recorder_->clear();
        return report;
    }
    [[nodiscard]] const std::string& take() const { return take_; }

  private:
    link::Advancer& world_;
    double dt_;
    std::optional<link::RunnerKey> runner_;
    survey::TakeOrigin origin_;
    std::optional<survey::TakeRecorder> recorder_;
    std::string take_;
};

std::vector<Chart> charts_of(const link::Match& match, const std::string& file,
                             const std::vector<std::string>& given) {
    std::vector<Chart> charts;
    for (const std::string& name : given) {
        charts.push_back(open_chart(name).chart);
    }
    for (std::size_t i = 0; given.empty() && i < match.origin.charts.size(); ++i) {
        if (match.origin.charts[i].empty()) {
            throw ChartError(
                {{"", "has no charts in it",
                  fmt::format("give the {} that it was recorded with by --chart FILE, in their order",
                              match.origin.charts.size()),
                  file, 0, 0}});
        }
        charts.push_back(parse_chart(match.origin.charts[i], fmt::format("{}: chart {}", file, i)).chart);
    }
    return charts;
}

/// The match's world.
class World {
  public:
    World(const link::Match& match, const std::string& file, const std::vector<Chart>& charts) {
        if (!match.origin.course.empty()) {
            const Course course = parse_course(match.origin.course, file + ": course");
            name = course.spec().name;
            on_course_ = std::make_unique<rehearsal::OnCourse>(course, charts, match.tick_rate);
        }
    }
    [[nodiscard]] link::Advancer& advancer() {
        return on_course_ ? static_cast<link::Advancer&>(*on_course_) : ground_;
    }
    std::string name;

  private:
    std::unique_ptr<rehearsal::OnCourse> on_course_;
    link::OpenGround ground_;
};

std::size_t index_of(const MatchResult& result, link::RunnerKey key) {
    return static_cast<std::size_t>(std::find_if(result.runners.begin(), result.runners.end(),
                                                 [&](const MatchRunner& one) { return one.key == key; }) -
                                    result.runners.begin());
}

void note(const link::MatchPlayer& player, MatchResult& result) {
    for (const link::RunnerKey key : player.runners()) {
        const Runner& now = player.runner(key);
        const std::size_t index = index_of(result, key);
        if (index == result.runners.size()) {
            result.runners.push_back(
                {key, player.chart(key), player.owner(key), player.now().value, 0, 0.0, {}, {}});
        }
        MatchRunner& runner = result.runners[index];
        runner.last = player.now().value;
        runner.walked = now.distance();
        runner.place = now.position();
        runner.state = now.state();
    }
    for (const link::MatchDifference& difference : player.differences()) {
        ++result.differing;
        if (!result.first) {
            result.first = {difference.tick.value, index_of(result, difference.runner)};
        }
    }
}

}  // namespace

bool is_match(const std::string& bytes) {
    return bytes.starts_with("curmatch");
}

MatchResult play_match(const std::string& bytes, const std::string& file,
                       const std::vector<std::string>& given, std::optional<std::size_t> runner) {
    MatchResult result;
    result.match = link::read_match(std::as_bytes(std::span(bytes.data(), bytes.size())), file);
    const std::vector<Chart> charts = charts_of(result.match, file, given);
    World world(result.match, file, charts);
    result.course = world.name;
    link::MatchPlayer player(result.match, charts);
    while (player.next(world.advancer())) {
        result.first_tick = result.first_tick == 0 ? player.now().value : result.first_tick;
        note(player, result);
    }
    if (!runner) {
        return result;
    }
    if (*runner < 1 || *runner > result.runners.size()) {
        throw ChartError({{"--runner", fmt::format("there is no runner {}", *runner),
                           fmt::format("give 1 to {}", result.runners.size()), file, 0, 0}});
    }
    // Once more, now that it is known whom to follow.
    const MatchRunner& followed = result.runners[*runner - 1];
    link::MatchPlayer again(result.match, charts);
    World fresh(result.match, file, charts);
    Following following(fresh.advancer(), 1.0 / result.match.tick_rate);
    std::string chart;
    for (std::size_t i = 0; i < charts.size(); ++i) {
        if (charts[i].digest() == followed.chart.digest()) {
            chart = given.empty() ? result.match.origin.charts[i] : format_chart(open_chart(given[i]).spec);
        }
    }
    following.follow(followed.key,
                     {chart, result.match.origin.course,
                      fmt::format("runner {} of {}", *runner,
                                  result.match.origin.note.empty() ? file : result.match.origin.note)});
    while (again.next(following)) {
    }
    result.take = following.take();
    return result;
}

}  // namespace cursimeter::tool
