#include <cstdlib>
#include <cursimeter/diagnostics.hpp>

#include "processes/processes.hpp"
#include "processes/started_by.hpp"

/// A program that was built without MPI is alone.
namespace cursimeter::tool {

struct Processes::Group {};

bool Processes::built_in() {
    return false;
}

Processes::Processes() {
    if (started_by_mpirun()) {
        throw ChartError({{"mpirun",
                           "started this program, which was built without MPI",
                           "install libopenmpi-dev and build it again, or start it alone",
                           {},
                           0,
                           0}});
    }
    join_call(this);
}

Processes::~Processes() {
    join_call(nullptr);
}

void Processes::deal(const std::vector<std::string>& units, const Work& work, const Take& take) {
    for (std::size_t i = 0; i < units.size(); ++i) {
        take(i, work(units[i]));
    }
}

void Processes::serve(const Work& /*work*/) {}

}  // namespace cursimeter::tool
