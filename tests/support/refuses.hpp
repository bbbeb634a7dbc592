#pragma once

#include <catch2/catch.hpp>

#include "support/program.hpp"

namespace support {

/// The call is unusable: it prints nothing, and its first complaint begins so.
inline void refuses(const std::string& arguments, const std::string& complaint) {
    const Outcome outcome = run_program(arguments);
    CAPTURE(arguments, outcome.errors);
    CHECK(outcome.code == 2);
    CHECK(outcome.out.empty());
    CHECK(outcome.errors.find("error: " + complaint) == 0);
}

}  // namespace support
