#pragma once

#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

/// Files that are read whole and written whole, for programs that keep charts, settings or recordings in them.
namespace cursimeter {

/// Bytes of the largest text that is read as a chart, drill, course or controls file. A chart has some ten thousand.
inline constexpr std::size_t most_text_bytes = 16'000'000;
/// Bytes of the largest recording (take or match) that is read.
inline constexpr std::size_t most_recording_bytes = 2'000'000'000;

/// The bytes of a file. Reads what is no regular file (a pipe, a device) to its end. Throws ChartError, which names
/// the file and the system's reason, if that fails or there are more than `most` bytes.
[[nodiscard]] std::string read_whole_file(const std::filesystem::path& file,
                                          std::size_t most = most_text_bytes);

/// Writes a file as a whole or not at all: after a failure (a full disk, no permission) an old file is as it was, and
/// no other file has been touched. Throws ChartError with the system's reason.
///
/// Follows links. An old file keeps its mode and its owner. A file without any permission to write is refused, for the
/// administrator too. What is no regular file (a pipe, a device) is written into. Of two programs that write one file at
/// the same time, one wins, whole. The new bytes need room beside the old ones.
void write_whole_file(const std::filesystem::path& file, std::string_view bytes);

}  // namespace cursimeter
