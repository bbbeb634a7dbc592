#include "processes/started_by.hpp"

#include <cstdlib>

#include "processes/processes.hpp"

namespace cursimeter::tool {
namespace {

Processes* of_call = nullptr;

/// Set by launchers: of Open MPI, and of those that speak PMI.
bool is_several(const char* variable) {
    const char* const count = std::getenv(variable);
    return count != nullptr && std::strtol(count, nullptr, 10) > 1;
}

}  // namespace

bool started_by_mpirun() {
    return is_several("OMPI_COMM_WORLD_SIZE") || is_several("PMI_SIZE");
}

void join_call(Processes* processes) {
    of_call = processes;
}
Processes* processes_of_call() {
    return of_call;
}

}  // namespace cursimeter::tool
