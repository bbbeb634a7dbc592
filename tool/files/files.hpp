#pragma once

#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <string>
#include <string_view>

/// The files of a call. "-" is standard input where something is read, standard output where something is written.
namespace cursimeter::tool {

inline constexpr std::string_view standard_stream = "-";

/// The file's ending in lower case, ".png".
[[nodiscard]] std::string ending_of(const std::string& file);
/// What messages call it: "<stdin>" for "-".
[[nodiscard]] std::string shown_name(const std::string& file);
/// Whether writing to it writes to standard output: "-", or a name of what that is redirected to.
[[nodiscard]] bool is_standard_output(const std::string& file);

/// All bytes of a file or of standard input, which is read once and kept. Throws ChartError that names it if it
/// cannot be read or holds more than `most` bytes.
[[nodiscard]] std::string read_text(const std::string& file, std::size_t most = most_text_bytes);
/// Replaces a file as a whole or not at all, or adds to standard output. Throws ChartError with the reason.
void write_text(const std::string& file, std::string_view text);
/// Throws ChartError: standard output takes no more, for a reason of the system.
[[noreturn]] void refuse_output(int reason);
/// Makes sure that what was printed has arrived. Throws ChartError with the reason if it has not.
void finish_output(std::FILE* stream);

[[nodiscard]] ChartFile open_chart(const std::string& file);
[[nodiscard]] Course open_course(const std::string& file);
[[nodiscard]] DrillFile open_drill(const std::string& file, const Chart& chart);
/// One that begins at a place, at 0 s: for runners that begin by themselves.
[[nodiscard]] DrillFile open_fresh_drill(const std::string& file, const Chart& chart);
/// The same without what it expects.
[[nodiscard]] DrillFile open_fresh_hands(const std::string& file, const Chart& chart);

}  // namespace cursimeter::tool
