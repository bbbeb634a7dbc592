#pragma once

#include <cstdint>

#include "core/chart/key_table.hpp"

namespace cursimeter::detail {

/// Of everything that a table of keys lists of its spec, but what only a file needs: two specs with one digest act
/// alike.
[[nodiscard]] std::uint64_t digest_of(const keys::Rows& rows, const void* spec);

}  // namespace cursimeter::detail
