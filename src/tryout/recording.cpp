#include <cmath>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/drill/recorder.hpp>
#include <cursimeter/survey/take.hpp>
#include <cursimeter/tryout/recording.hpp>

namespace cursimeter::tryout {
namespace {

[[noreturn]] void refuse_empty() {
    throw ChartError({{"", "nothing was played in this stretch", "play first, then save", {}, 0, 0}});
}

}  // namespace

PlayedTake record_take(const History& history, Moment since, Moment until,
                       const std::optional<Course>& course, const ChartSpec& spec, const std::string& note) {
    if (!history.keeps(since) || !history.keeps(until) || since >= until) {
        refuse_empty();
    }
    const Chart chart = compile(spec);
    PlayedTake take;
    take.since = std::max(since, history.chart_since(until));
    if (history.chart({until.value - 1}).digest() != chart.digest()) {
        throw ChartError({{"", "the chart has changed since the last tick", "play on, then save", {}, 0, 0}});
    }
    const survey::TakeOrigin origin{format_chart(spec),
                                    course ? format_course(course->spec()) : std::string(), note};
    survey::TakeRecorder recorder(chart, history.runner(take.since), origin, 0);  // emptied after each tick
    for (Moment at = take.since; at < until; ++at.value) {
        const PlayedTick played = history.tick(at);
        const bool room =
            recorder.begin(played.before, played.intent, Seconds{played.seconds}, played.world_time) &&
            recorder.end(history.after(at));
        if (!room) {
            break;
        }
        const std::span<const std::byte> bytes = recorder.bytes();
        take.bytes.insert(take.bytes.end(), bytes.begin(), bytes.end());
        recorder.clear();
        ++take.ticks;
    }
    return take;
}

DrillSpec written_drill(const History& history, Moment since, Moment until, const std::string& name) {
    if (!history.keeps(since) || !history.keeps(until) || since >= until) {
        refuse_empty();
    }
    const PlayedTick first = history.tick(since);
    DrillRecorder recorder(history.chart(since), first.before, Seconds{first.world_time});
    double time = first.world_time;
    for (Moment at = since; at < until; ++at.value) {
        const PlayedTick played = history.tick(at);
        if (played.world_time < time) {
            throw ChartError({{"",
                               "the character began again within the stretch",
                               "save what was played since then",
                               {},
                               0,
                               0}});
        }
        time = played.world_time;
        recorder.tick(history.chart(at), played.intent, played.world_time, Seconds{played.seconds});
    }
    return recorder.drill(name);
}

}  // namespace cursimeter::tryout
