#pragma once

#include <string>

/// JSON Schemas (draft 2020-12) of the file formats, for editors that complete and check as one types. Generated from
/// the table of keys that the loader and the references read. They know keys, types and ranges; what only a whole chart
/// can tell (names that refer to one another, terms) is the loader's to say.
namespace cursimeter {

[[nodiscard]] std::string chart_schema();
[[nodiscard]] std::string drill_schema();
[[nodiscard]] std::string course_schema();
[[nodiscard]] std::string controls_schema();
[[nodiscard]] std::string trials_schema();

}  // namespace cursimeter
