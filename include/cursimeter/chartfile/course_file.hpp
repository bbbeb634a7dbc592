#pragma once

#include <cursimeter/course/course.hpp>
#include <filesystem>
#include <string>
#include <string_view>

/// Courses as TOML files. The format is in docs/course-reference.md.
namespace cursimeter {

/// Reads a course file. Throws ChartError with every diagnostic, as `load_chart` does.
[[nodiscard]] Course load_course(const std::filesystem::path& file);
[[nodiscard]] Course parse_course(std::string_view text, const std::string& name);

/// The spec as TOML that `parse_course` reads back equal.
[[nodiscard]] std::string format_course(const CourseSpec& spec);

/// docs/course-reference.md (Markdown).
[[nodiscard]] std::string course_reference();

}  // namespace cursimeter
