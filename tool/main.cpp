#include <fmt/format.h>

#include <cstdio>
#include <cstring>
#include <cursimeter/diagnostics.hpp>
#include <new>
#include <optional>
#include <system_error>

#include "calls.hpp"
#include "files/errors.hpp"
#include "files/files.hpp"
#include "processes/processes.hpp"

namespace {

using cursimeter::ChartError;
using cursimeter::Diagnostic;

/// Runs the call. Throws ChartError for whatever makes it unusable.
int run(int argc, char** argv) {
    try {
        const int code = cursimeter::tool::run_program(argc, argv);
        cursimeter::tool::finish_output(stdout);
        return code;
    } catch (const ChartError&) {
        throw;
    } catch (const std::system_error& error) {  // fmt's, of a stream that takes no more
        cursimeter::tool::refuse_output(error.code().value());
    } catch (const std::bad_alloc&) {
        throw ChartError({{"", "there is not enough memory for this", "ask for less at once", {}, 0, 0}});
    } catch (const std::exception& error) {
        throw ChartError({{"", error.what(), "", {}, 0, 0}});
    }
}

}  // namespace

int main(int argc, char** argv) {
    bool json = false;
    for (int i = 1; i < argc; ++i) {
        json = json || std::strcmp(argv[i], "--json") == 0;
    }
    std::optional<cursimeter::tool::Processes> processes;
    try {
        processes.emplace();
        return run(argc, argv);
    } catch (const ChartError& error) {
        if (processes && !processes->leads()) {
            return cursimeter::tool::unusable;  // the leader tells
        }
        const bool colours = cursimeter::tool::takes_colours(stderr);
        for (const Diagnostic& diagnostic : error.diagnostics()) {
            std::fputs((cursimeter::tool::error_text(diagnostic, colours) + "\n").c_str(), stderr);
        }
        if (json) {
            std::fputs(cursimeter::tool::errors_json(error.diagnostics()).c_str(), stdout);
        }
    }
    return cursimeter::tool::unusable;
}
