#include "scene/take_file.hpp"

#include "files/files.hpp"
#include "scene/match_file.hpp"

namespace cursimeter::tool {

void write_take(const Scene& scene, const std::string& file) {
    const survey::TakeOrigin origin{format_chart(scene.chart.spec),
                                    scene.course ? format_course(scene.course->spec()) : std::string(),
                                    scene.name};
    const std::vector<std::byte> bytes =
        survey::record(scene.chart.chart, *scene.script(), scene.world(), origin);
    write_text(file, {reinterpret_cast<const char*>(bytes.data()), bytes.size()});
}

survey::Take load_take(const std::string& file) {
    return take_of(read_text(file, most_recording_bytes), shown_name(file));
}

survey::Take take_of(const std::string& bytes, const std::string& file) {
    if (is_match(bytes)) {
        throw ChartError(
            {{"", "is a match, not a take",
              "make a take of one of its runners: cursimeter replay MATCH --runner N --take FILE", file, 0,
              0}});
    }
    return survey::read_take(std::as_bytes(std::span(bytes.data(), bytes.size())), file);
}

}  // namespace cursimeter::tool
