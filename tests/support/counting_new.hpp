#pragma once

#include <cstddef>

namespace support {

/// Heap allocations of this program so far.
[[nodiscard]] std::size_t allocations();

}  // namespace support
