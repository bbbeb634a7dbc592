#include "ranks/started_by.hpp"

#include <cstdlib>

#include "ranks/ranks.hpp"

namespace cursimeter::tool {
namespace {

Ranks* of_call = nullptr;

/// Set by launchers: of Open MPI, and of those that speak PMI.
bool is_several(const char* variable) {
    const char* const count = std::getenv(variable);
    return count != nullptr && std::strtol(count, nullptr, 10) > 1;
}

}  // namespace

bool started_by_mpirun() {
    return is_several("OMPI_COMM_WORLD_SIZE") || is_several("PMI_SIZE");
}

void join_call(Ranks* ranks) {
    of_call = ranks;
}
Ranks* ranks_of_call() {
    return of_call;
}

}  // namespace cursimeter::tool
