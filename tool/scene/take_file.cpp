#include "scene/take_file.hpp"

#include "files/files.hpp"

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
    const std::string bytes = read_text(file);
    return survey::read_take(std::as_bytes(std::span(bytes.data(), bytes.size())), file);
}

}  // namespace cursimeter::tool
