#pragma once

#include <cursimeter/course/course_spec.hpp>

#include "core/chart/key_table.hpp"

/// Every key of a course file.
namespace cursimeter::keys {

[[nodiscard]] Table<CourseSpec> course_table();

}  // namespace cursimeter::keys
