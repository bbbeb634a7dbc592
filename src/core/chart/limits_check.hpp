#pragma once

#include <string>
#include <string_view>

#include "core/chart/findings.hpp"
#include "core/chart/key_table.hpp"

/// Every number is held against its key's range, and every name against the rules for names.
namespace cursimeter::detail {

/// How names are made, for complaints of one that is not.
inline constexpr const char* names_are =
    "names are a letter, then letters, digits and _, all in lower case, 64 at most";
[[nodiscard]] std::string range_text(const keys::Key& key);
/// Names are what a TOML bare key may be, in lower case, so that terms can be read without quotes.
[[nodiscard]] bool valid_name(std::string_view name);
/// Whether terms begin with this word; a thing of that name could not be told apart.
[[nodiscard]] bool is_reserved(std::string_view name);

void check_limits(const keys::Rows& rows, const void* spec, Findings& findings);
template <class Spec>
void check_limits(const keys::Table<Spec>& table, const Spec& spec, Findings& findings) {
    check_limits(table.rows, &spec, findings);
}

}  // namespace cursimeter::detail
