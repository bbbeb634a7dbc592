#include <fmt/format.h>

#include <cstdio>
#include <cursimeter/diagnostics.hpp>

#include "calls.hpp"

int main(int argc, char** argv) {
    try {
        return cursimeter::tool::run_program(argc, argv);
    } catch (const cursimeter::ChartError& error) {
        for (const cursimeter::Diagnostic& diagnostic : error.diagnostics()) {
            fmt::print(stderr, "error: {}\n", diagnostic.text());
        }
    } catch (const std::exception& error) {
        fmt::print(stderr, "error: {}\n", error.what());
    }
    return cursimeter::tool::unusable;
}
