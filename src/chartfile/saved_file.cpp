#include <cursimeter/chartfile/saved_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <system_error>
#include <utility>

namespace cursimeter {

SavedFile::SavedFile(std::filesystem::path file) : file_(std::move(file)), seen_(entry()) {}

FileNews SavedFile::news() {
    const Entry now = entry();
    const Entry before = std::exchange(seen_, now);
    if (now == before) {
        return FileNews::none;
    }
    return now.there ? FileNews::saved : FileNews::gone;
}

std::string SavedFile::read() {
    try {
        return read_whole_file(file_);
    } catch (const ChartError&) {
        seen_ = {};
        throw;
    }
}

SavedFile::Entry SavedFile::entry() const {
    std::error_code missing;
    const auto time = std::filesystem::last_write_time(file_, missing);
    if (missing) {
        return {};
    }
    const std::uintmax_t size = std::filesystem::file_size(file_, missing);
    return {true, time, missing ? 0 : size};
}

}  // namespace cursimeter
