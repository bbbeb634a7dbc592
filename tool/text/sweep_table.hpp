#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <string>
#include <vector>

/// The table of a sweep (CSV), written and read again.
namespace cursimeter::tool {

/// The first line says what the rows are of, so that a table is only gone on with where it belongs. `run` says of which run, if there is
/// one: ", run 0123abcd at 60".
[[nodiscard]] std::string heading_of(const survey::SweepPlan& plan, const Chart& chart,
                                     const std::string& run);
[[nodiscard]] std::string line_of(const survey::SweepRow& row);
[[nodiscard]] std::string table_of(const std::string& heading, const std::vector<survey::SweepRow>& rows);

/// Rows of an earlier sweep with this heading; none if the file is of another or there is none. Half a line at the end,
/// as an interrupted sweep leaves it, does not count.
[[nodiscard]] std::vector<survey::SweepRow> known_rows(const std::string& file, const std::string& heading,
                                                       const survey::SweepPlan& plan);
/// Throws ChartError if the name at which a sweep keeps its rows while it runs belongs to something else.
void refuse_foreign_part(const std::string& file);

/// "sprint.distance": how much each value moves it, most first.
[[nodiscard]] std::string sensitivity_table(const ChartFile& chart, const survey::SweepPlan& plan,
                                            const std::vector<survey::SweepRow>& rows);

}  // namespace cursimeter::tool
