#include "files/files.hpp"

#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cctype>
#include <cerrno>
#include <cstring>
#include <cursimeter/diagnostics.hpp>
#include <filesystem>
#include <optional>

namespace cursimeter::tool {

void refuse_output(int reason) {
    throw ChartError({{"standard output",
                       fmt::format("cannot be written: {}", std::strerror(reason)),
                       "what was printed is not whole",
                       {},
                       0,
                       0}});
}

std::string ending_of(const std::string& file) {
    std::string ending = std::filesystem::path(file).extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return ending;
}

std::string shown_name(const std::string& file) {
    return file == standard_stream ? "<stdin>" : file;
}

bool is_standard_output(const std::string& file) {
    struct stat named {
    }, output{};
    return file == standard_stream ||
           (::stat(file.c_str(), &named) == 0 && ::fstat(STDOUT_FILENO, &output) == 0 &&
            named.st_dev == output.st_dev && named.st_ino == output.st_ino);
}

std::string read_text(const std::string& file, std::size_t most) {
    if (file != standard_stream) {
        return read_whole_file(file, most);
    }
    static std::optional<std::string> kept;
    if (!kept) {
        try {
            kept = read_whole_file("/dev/stdin", most);
        } catch (const ChartError& error) {
            Diagnostic told = error.diagnostics().front();
            told.file = shown_name(file);
            throw ChartError({told});
        }
    }
    return *kept;
}

void write_text(const std::string& file, std::string_view text) {
    if (!is_standard_output(file)) {
        write_whole_file(file, text);
        return;
    }
    errno = 0;
    if (std::fwrite(text.data(), 1, text.size(), stdout) != text.size()) {
        refuse_output(errno);
    }
    finish_output(stdout);
}

void finish_output(std::FILE* stream) {
    if (std::fflush(stream) != 0) {
        refuse_output(errno);
    }
    if (std::ferror(stream) != 0) {
        refuse_output(EIO);
    }
}

ChartFile open_chart(const std::string& file) {
    return parse_chart(read_text(file), shown_name(file));
}
Course open_course(const std::string& file) {
    return parse_course(read_text(file), shown_name(file));
}
DrillFile open_drill(const std::string& file, const Chart& chart) {
    DrillFile drill = parse_drill(read_text(file), shown_name(file), chart);
    const std::optional<RestoredRunner>& saved = drill.drill.saved();
    if (saved && !saved->exact) {
        fmt::print(stderr,
                   "{}: caution: its runner was saved with another chart, and is taken over by names{}\n",
                   shown_name(file), saved->lost.empty() ? "" : ":");
        for (const std::string& lost : saved->lost) {
            fmt::print(stderr, "  {}\n", lost);
        }
    }
    return drill;
}

namespace {

/// A drill that begins at a place, at 0 s.
DrillFile fresh(DrillFile drill, const std::string& file) {
    try {
        require_fresh_start(drill.drill);
    } catch (const ChartError& error) {
        Diagnostic told = error.diagnostics().front();
        const SourcePosition at = drill.sources.find(told.path);
        told.file = shown_name(file);
        told.line = at.line;
        told.column = at.column;
        throw ChartError({told});
    }
    return drill;
}

}  // namespace

DrillFile open_fresh_drill(const std::string& file, const Chart& chart) {
    return fresh(parse_drill(read_text(file), shown_name(file), chart), file);
}

DrillFile open_fresh_hands(const std::string& file, const Chart& chart) {
    return fresh(parse_hands(read_text(file), shown_name(file), chart), file);
}

}  // namespace cursimeter::tool
