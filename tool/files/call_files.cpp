#include "files/call_files.hpp"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <cursimeter/diagnostics.hpp>
#include <filesystem>

#include "files/files.hpp"

namespace cursimeter::tool {
namespace {

struct Ending {
    std::string_view ending;
    FileKind kind;
};
/// Endings that say what a file holds. A file may have any other ending.
constexpr Ending endings[] = {{".csv", FileKind::table},   {".take", FileKind::take},
                              {".match", FileKind::match}, {".png", FileKind::png},
                              {".xml", FileKind::results}, {".svg", FileKind::svg},
                              {".html", FileKind::html},   {".toml", FileKind::chart},
                              {".dot", FileKind::unknown}, {".json", FileKind::unknown}};

bool is_toml(FileKind kind) {
    return kind == FileKind::chart || kind == FileKind::drill || kind == FileKind::course ||
           kind == FileKind::controls;
}

/// Whether two names are of one file that exists or would be made.
bool is_same_file(const std::string& a, const std::string& b) {
    struct stat first {
    }, second{};
    const bool has_first = ::stat(a.c_str(), &first) == 0, has_second = ::stat(b.c_str(), &second) == 0;
    if (has_first && has_second) {
        return S_ISREG(first.st_mode) && first.st_dev == second.st_dev && first.st_ino == second.st_ino;
    }
    const auto whole = [](const std::string& name) {
        std::error_code ignored;
        return std::filesystem::weakly_canonical(std::filesystem::absolute(name, ignored), ignored);
    };
    return has_first == has_second && whole(a) == whole(b);
}

/// The first bytes of a regular file; none if there is no such file.
std::string first_bytes(const std::string& file) {
    struct stat there {};
    std::string bytes;
    if (::stat(file.c_str(), &there) != 0 || !S_ISREG(there.st_mode)) {
        return bytes;
    }
    std::FILE* in = std::fopen(file.c_str(), "rbe");
    if (in != nullptr) {
        bytes.resize(65536);
        bytes.resize(std::fread(bytes.data(), 1, bytes.size(), in));
        std::fclose(in);
    }
    return bytes;
}

class Judge {
  public:
    explicit Judge(const CallFiles& files) : files_(files) {}

    std::vector<Diagnostic> judge() {
        for (const InputFile& input : files_.inputs) {
            look_at(input);
        }
        for (std::size_t i = 0; i < files_.outputs.size(); ++i) {
            if (!files_.outputs[i].file.empty()) {
                look_at(files_.outputs[i], i);
            }
        }
        return std::move(wrong_);
    }

  private:
    void complain(const std::string& option, const std::string& file, std::string what, std::string mend) {
        wrong_.push_back({option, std::move(what), std::move(mend), file, 0, 0});
    }

    void look_at(const InputFile& input) {
        if (input.file == standard_stream) {
            if (!reads_stream_.empty()) {
                complain(input.option, "",
                         fmt::format("reads standard input, which {} reads already", reads_stream_),
                         "name a file for one of them");
            }
            reads_stream_ = input.option;
            return;
        }
        struct stat there {};
        if (input.file.empty()) {
            return;
        }
        if (::stat(input.file.c_str(), &there) != 0 || ::access(input.file.c_str(), R_OK) != 0) {
            complain("", input.file, fmt::format("cannot be read: {}", std::strerror(errno)),
                     "check the path and its permissions");
        } else if (S_ISDIR(there.st_mode)) {
            complain("", input.file, "is a folder", "name a file");
        }
    }

    void look_at(const OutputFile& output, std::size_t index) {
        if (is_standard_output(output.file)) {
            const std::string other = files_.json ? "--json" : writes_stream_;
            if (!other.empty()) {
                complain(output.option, "",
                         fmt::format("writes to standard output, which {} writes to already", other),
                         "name a file for one of them");
            }
            writes_stream_ = output.option;
            return;
        }
        for (const InputFile& input : files_.inputs) {
            if (!input.file.empty() && input.file != standard_stream &&
                is_same_file(output.file, input.file)) {
                complain(output.option, output.file, fmt::format("would replace what {} reads", input.option),
                         "name another file");
                return;
            }
        }
        for (std::size_t i = 0; i < index; ++i) {
            const OutputFile& other = files_.outputs[i];
            if (!other.file.empty() && !is_standard_output(other.file) &&
                is_same_file(output.file, other.file)) {
                complain(output.option, output.file,
                         fmt::format("would replace what {} writes", other.option), "name another file");
                return;
            }
        }
        look_at_kind(output);
    }

    void look_at_kind(const OutputFile& output) {
        const std::string ending = ending_of(output.file);
        for (const Ending& known : endings) {
            const bool fits = known.kind == output.kind || (is_toml(known.kind) && is_toml(output.kind));
            if (ending == known.ending && !fits) {
                complain(
                    output.option, output.file,
                    fmt::format("writes {}, which does not belong in a {} file",
                                output.kind == FileKind::unknown ? "text" : to_string(output.kind), ending),
                    "give it another ending");
                return;
            }
        }
        const FileKind holds = kind_of_file(first_bytes(output.file));
        if (holds != output.kind && holds != FileKind::unknown) {
            complain(output.option, output.file,
                     fmt::format("is {} now, and {} would replace it", to_string(holds),
                                 output.kind == FileKind::unknown ? "text" : to_string(output.kind)),
                     "name another file, or remove this one first");
        }
    }

    const CallFiles& files_;
    std::vector<Diagnostic> wrong_;
    std::string reads_stream_, writes_stream_;
};

}  // namespace

void check_files(const CallFiles& files) {
    std::vector<Diagnostic> wrong = Judge(files).judge();
    if (!wrong.empty()) {
        throw ChartError(std::move(wrong));
    }
}

std::FILE* text_stream(const CallFiles& files) {
    const bool data = std::any_of(files.outputs.begin(), files.outputs.end(), [](const OutputFile& output) {
        return !output.file.empty() && is_standard_output(output.file);
    });
    return data ? stderr : stdout;
}

FileKind picture_kind(const std::string& file) {
    const std::string ending = ending_of(file);
    struct stat there {};
    const bool is_stream =
        ::stat(file.c_str(), &there) == 0 && !S_ISREG(there.st_mode) && !S_ISDIR(there.st_mode);
    return is_standard_output(file) || is_stream || ending == ".png" ? FileKind::png
           : ending == ".svg"                                        ? FileKind::svg
                                                                     : FileKind::unknown;
}

OutputFile picture_output(const std::string& option, const std::string& file) {
    const FileKind kind = picture_kind(file);
    if (!file.empty() && kind == FileKind::unknown) {
        throw ChartError(
            {{option, "is neither a .png nor a .svg file", "end its name in one of them", file, 0, 0}});
    }
    return {option, file, kind};
}

void tell_written(const CallFiles& files) {
    for (const OutputFile& output : files.outputs) {
        if (!output.file.empty() && !is_standard_output(output.file)) {
            fmt::print(text_stream(files), "wrote {}\n", output.file);
        }
    }
}

}  // namespace cursimeter::tool
