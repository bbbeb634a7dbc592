#pragma once

#include <cursimeter/runner.hpp>

#include "link/wire/coder.hpp"

namespace cursimeter::link::wire {

/// A runner bit by bit, about 200 to 300 bytes. It reads back with the same digest.
/// No runner takes more, whatever its chart holds: it fits a packet with the head.
inline constexpr std::size_t most_exact_bytes = 1150;
void write_runner(Writer& writer, const Runner& runner);
/// Bytes that it takes.
[[nodiscard]] std::size_t length_of(const Runner& runner);
/// Returns false if what was read could not be a runner of the chart; then `runner` is unchanged.
[[nodiscard]] bool read_runner(Reader& reader, const Chart& chart, Runner& runner);

}  // namespace cursimeter::link::wire
