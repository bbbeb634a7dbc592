#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "commands/commands.hpp"
#include "scene/take_file.hpp"

namespace cursimeter::tool {

int replay_command(const ReplayOptions& options) {
    const survey::Take take = load_take(options.take);
    std::optional<ChartFile> own, other;
    if (!take.origin.chart.empty()) {
        own = parse_chart(take.origin.chart, options.take + ": chart");
    }
    if (!options.chart.empty()) {
        other = load_chart(options.chart);
    }
    if (!own && !other) {
        throw ChartError({{"", "has no chart in it", "give --chart FILE, the one that it was recorded with",
                           options.take, 0, 0}});
    }
    std::optional<Course> course;
    if (!take.origin.course.empty()) {
        course = parse_course(take.origin.course, options.take + ": course");
    }
    const Chart& chart = other ? other->chart : own->chart;
    const survey::Replay result =
        survey::replay(take, chart, course ? &*course : nullptr, own ? &own->chart : nullptr);
    const std::string digest = fmt::format("{:016x}", result.digest);
    if (options.json) {
        nlohmann::ordered_json json{
            {"take", options.take},          {"note", take.origin.note},  {"chart", chart.name()},
            {"ticks", result.ticks},         {"seconds", result.seconds}, {"exact", result.exact},
            {"differing", result.differing}, {"digest", digest},          {"cut_short", take.cut_short}};
        if (result.first) {
            json["first"] = {{"tick", result.first->tick},
                             {"at", result.first->at},
                             {"field", result.first->field},
                             {"recorded", result.first->recorded},
                             {"replayed", result.first->replayed}};
        }
        fmt::print("{}\n", json.dump(2));
        return result.first ? 1 : 0;
    }
    fmt::print("{}: {}, {}, {} ticks, {:.3f} s{}\n", options.take, chart.name(),
               take.origin.note.empty() ? "no note" : take.origin.note, result.ticks, result.seconds,
               course ? ", on course " + course->spec().name : "");
    if (take.cut_short) {
        fmt::print("the last tick of the take is not whole and was left out\n");
    }
    if (!result.first) {
        fmt::print("{}; digest {}\n",
                   result.exact ? "the same, bit for bit" : "the same states at the same places, to 1 mm",
                   digest);
        return 0;
    }
    fmt::print("differs first in tick {}, at {:.3f} s: {}\n  recorded {}\n  replayed {}\n",
               result.first->tick, result.first->at, result.first->field, result.first->recorded,
               result.first->replayed);
    fmt::print("{} of {} ticks differ\n", result.differing, result.ticks);
    return 1;
}

}  // namespace cursimeter::tool
