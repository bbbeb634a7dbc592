#include <cursimeter/chartfile/live_chart.hpp>
#include <utility>

namespace cursimeter {

LiveChart::LiveChart(std::filesystem::path file)
    : saved_(std::move(file)), at_work_(load_chart(saved_.file())) {}

std::optional<ChartFile> LiveChart::take_in() {
    const FileNews news = saved_.news();
    if (news == FileNews::none) {
        return std::nullopt;
    }
    try {
        ChartFile next = parse_chart(saved_.read(), saved_.file().string());
        mistakes_.clear();
        return std::exchange(at_work_, std::move(next));
    } catch (const ChartError& error) {
        mistakes_ = error.diagnostics();
        return std::nullopt;
    }
}

}  // namespace cursimeter
