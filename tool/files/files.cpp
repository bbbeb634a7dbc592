#include "files/files.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cerrno>
#include <cstring>
#include <cursimeter/diagnostics.hpp>
#include <filesystem>
#include <fstream>
#include <sstream>

namespace cursimeter::tool {

std::string ending_of(const std::string& file) {
    std::string ending = std::filesystem::path(file).extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return ending;
}

std::string fresh_name(const std::string& file) {
    return file + ".new";
}

void replace_file(const std::string& file, bool written) {
    std::error_code error;
    if (written) {
        std::filesystem::rename(fresh_name(file), file, error);
    }
    if (!written || error) {
        std::error_code ignored;
        std::filesystem::remove(fresh_name(file), ignored);
        throw ChartError(
            {{"", "cannot be written", "check that its folder exists and may be written to", file, 0, 0}});
    }
}

std::string read_text(const std::string& file) {
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    if (in) {
        text << in.rdbuf();
    }
    if (!in) {
        throw ChartError({{"", fmt::format("cannot be read: {}", std::strerror(errno)),
                           "check the path and its permissions", file, 0, 0}});
    }
    return text.str();
}

void write_text(const std::string& file, std::string_view text) {
    std::ofstream out(fresh_name(file), std::ios::binary);
    out << text;
    out.close();
    replace_file(file, out.good());
}

}  // namespace cursimeter::tool
