#pragma once

#include <sys/wait.h>

#include <array>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <string>

#include "support/folder.hpp"

namespace support {

struct Outcome {
    int code = -1;
    std::string out, errors;
};

/// A file of the source folder.
inline std::string source(const std::string& file) {
    return read_file(std::string(CURSIMETER_SOURCE_DIR) + "/" + file);
}

// What calls in the source folder name most.
inline const std::string bearer_file = "demo/charts/bearer.toml", quay_file = "demo/drills/quay_boards.toml",
                         relay_file = "demo/courses/relay.toml";

inline bool contains(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

/// A name as a further word of a call.
inline std::string quoted(const std::string& file) {
    return " '" + file + "'";
}

/// Runs the built program in the source folder.
inline Outcome run_program(const std::string& arguments) {
    const Folder folder("errors");
    const std::string errors = folder.file("stderr");
    const std::string command = std::string("cd '") + CURSIMETER_SOURCE_DIR + "' && '" + CURSIMETER_PROGRAM +
                                "' " + arguments + " 2>'" + errors + "'";
    Outcome outcome;
    FILE* pipe = popen(command.c_str(), "r");
    std::array<char, 4096> buffer{};
    while (const std::size_t n = fread(buffer.data(), 1, buffer.size(), pipe)) {
        outcome.out.append(buffer.data(), n);
    }
    outcome.code = WEXITSTATUS(pclose(pipe));
    outcome.errors = read_file(errors);
    return outcome;
}

}  // namespace support
