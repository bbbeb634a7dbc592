#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/saved_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <filesystem>
#include <optional>
#include <vector>

namespace cursimeter {

/// The chart of a file that is tuned while the game runs. It takes a file that was saved in, unless it has mistakes: then the last good
/// chart stays at work. For one thread.
///
///     LiveChart live("hopper.chart.toml");
///     ...
///     if (const std::optional<ChartFile> before = live.take_in()) {  // between two ticks
///         controls.carry_over(live.chart());
///         runner = carry_over(before->chart, runner, live.chart()).runner;
///     }
class LiveChart {
  public:
    /// Reads and compiles the file. Throws ChartError as `load_chart` does.
    explicit LiveChart(std::filesystem::path file);
    [[nodiscard]] const ChartFile& file() const { return at_work_; }
    [[nodiscard]] const Chart& chart() const { return at_work_.chart; }

    /// If another chart went to work: the one before it, which `carry_over` of a runner needs. One question to the file system, unless the
    /// file was saved; then as long as `load_chart`.
    [[nodiscard]] std::optional<ChartFile> take_in();
    /// Why the file as it is now is not at work; empty if it is.
    [[nodiscard]] const std::vector<Diagnostic>& mistakes() const { return mistakes_; }

  private:
    SavedFile saved_;
    ChartFile at_work_;
    std::vector<Diagnostic> mistakes_;
};

}  // namespace cursimeter
