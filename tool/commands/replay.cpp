#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "json/match_json.hpp"
#include "scene/match_file.hpp"
#include "scene/take_file.hpp"
#include "text/match_summary.hpp"

namespace cursimeter::tool {
namespace {

int replay_take(const ReplayOptions& options, const std::string& bytes) {
    if (options.runner || !options.take.empty()) {
        throw ChartError({{options.runner ? "--runner" : "--take", "is for matches, and this is a take",
                           "leave it out", options.file, 0, 0}});
    }
    if (options.charts.size() > 1) {
        throw ChartError({{"--chart",
                           fmt::format("{} charts for one take", options.charts.size()),
                           "give one",
                           {},
                           0,
                           0}});
    }
    const survey::Take take = take_of(bytes, options.file);
    std::optional<ChartFile> own, other;
    if (!take.origin.chart.empty()) {
        own = parse_chart(take.origin.chart, options.file + ": chart");
    }
    if (!options.charts.empty()) {
        other = open_chart(options.charts.front());
    }
    if (!own && !other) {
        throw ChartError({{"", "has no chart in it", "give --chart FILE, the one that it was recorded with",
                           options.file, 0, 0}});
    }
    std::optional<Course> course;
    if (!take.origin.course.empty()) {
        course = parse_course(take.origin.course, options.file + ": course");
    }
    const Chart& chart = other ? other->chart : own->chart;
    const survey::Replay result =
        survey::replay(take, chart, course ? &*course : nullptr, own ? &own->chart : nullptr);
    const std::string digest = fmt::format("{:016x}", result.digest);
    if (options.json) {
        nlohmann::ordered_json json{
            {"take", options.file},          {"note", take.origin.note},  {"chart", chart.name()},
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
    fmt::print("{}: {}, {}, {} ticks, {:.3f} s{}\n", options.file, chart.name(),
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

int replay_match(const ReplayOptions& options, const std::string& bytes, const CallFiles& files) {
    if (options.runner.has_value() == options.take.empty()) {
        throw ChartError({{options.runner ? "--take" : "--runner",
                           "is missing",
                           "give both: the runner whose take it is to be, and the file",
                           {},
                           0,
                           0}});
    }
    const MatchResult result = play_match(bytes, options.file, options.charts, options.runner);
    if (!options.take.empty()) {
        write_text(options.take, result.take);
    }
    if (options.json) {
        fmt::print("{}", match_json(result, options.file));
    } else {
        fmt::print(text_stream(files), "{}", match_summary(result, options.file));
        tell_written(files);
    }
    return result.first ? 1 : 0;
}

}  // namespace

int replay_command(const ReplayOptions& options) {
    CallFiles files{{{"FILE", options.file}}, {{"--take", options.take, FileKind::take}}, options.json};
    for (const std::string& chart : options.charts) {
        files.inputs.push_back({"--chart", chart});
    }
    check_files(files);
    const std::string bytes = read_text(options.file, most_recording_bytes);
    return is_match(bytes) ? replay_match(options, bytes, files) : replay_take(options, bytes);
}

}  // namespace cursimeter::tool
