#include "scene/take_file.hpp"

#include "files/files.hpp"

namespace cursimeter::tool {

void write_take(const Scene& scene, const std::string& file) {
    const Chart& chart = scene.chart.chart;
    const Drill& drill = scene.drill.drill;
    const survey::TakeOrigin origin{format_chart(scene.chart.spec),
                                    scene.course ? format_course(scene.course->spec()) : std::string(),
                                    drill.name()};
    const std::vector<std::byte> bytes = survey::record(chart, drill, scene.world(), scene.ends, origin);
    write_text(file, {reinterpret_cast<const char*>(bytes.data()), bytes.size()});
}

survey::Take load_take(const std::string& file) {
    const std::string bytes = read_text(file);
    return survey::read_take(std::as_bytes(std::span(bytes.data(), bytes.size())), file);
}

}  // namespace cursimeter::tool
