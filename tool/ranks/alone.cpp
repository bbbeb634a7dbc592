#include <cstdlib>
#include <cursimeter/diagnostics.hpp>

#include "ranks/ranks.hpp"
#include "ranks/started_by.hpp"

/// A program that was built without MPI is alone.
namespace cursimeter::tool {

struct Ranks::Group {};

bool Ranks::built_in() {
    return false;
}

Ranks::Ranks() {
    if (started_by_mpirun()) {
        throw ChartError({{"mpirun",
                           "started this program, which was built without MPI",
                           "install libopenmpi-dev and build it anew, or start it alone",
                           {},
                           0,
                           0}});
    }
    join_call(this);
}

Ranks::~Ranks() {
    join_call(nullptr);
}

void Ranks::deal(const std::vector<std::string>& units, const Work& work, const Take& take) {
    for (std::size_t i = 0; i < units.size(); ++i) {
        take(i, work(units[i]));
    }
}

void Ranks::serve(const Work& /*work*/) {}

}  // namespace cursimeter::tool
