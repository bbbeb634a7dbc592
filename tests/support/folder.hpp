#pragma once

#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <sstream>
#include <string>

namespace support {

inline std::string read_file(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}

/// A folder of its own for one test, removed afterwards.
class Folder {
  public:
    explicit Folder(const std::string& name)
        : path_(std::filesystem::temp_directory_path() /
                ("cursimeter_" + name + "_" + std::to_string(::getpid()))) {
        std::filesystem::create_directories(path_);
    }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    ~Folder() { std::filesystem::remove_all(path_); }
    [[nodiscard]] std::string file(const std::string& name) const { return (path_ / name).string(); }
    [[nodiscard]] std::string write(const std::string& name, const std::string& text) const {
        std::ofstream(path_ / name) << text;
        return file(name);
    }

  private:
    std::filesystem::path path_;
};

}  // namespace support
