#pragma once

#include <catch2/catch.hpp>

#include "support/program.hpp"

namespace support {

/// The call is unusable: it prints nothing, and its first complaint begins so. The complaint is written without the
/// word "error" between its place and its text, and without the program's name where it is of no file.
inline void refuses(const std::string& arguments, const std::string& complaint) {
    const Outcome outcome = run_program(arguments);
    CAPTURE(arguments, outcome.errors);
    CHECK(outcome.code == 2);
    CHECK(outcome.out.empty());
    const std::size_t word = outcome.errors.find(": error: ");
    REQUIRE(word != std::string::npos);
    std::string told = outcome.errors;
    told.erase(word, std::string(": error").size());
    const std::string program = "cursimeter: ";
    CHECK(told.substr(told.starts_with(program) ? program.size() : 0).find(complaint) == 0);
}

}  // namespace support
