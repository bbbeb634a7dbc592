#pragma once

namespace cursimeter::tool {

class Ranks;

/// Whether a launcher of MPI programs started this one, with others.
[[nodiscard]] bool started_by_mpirun();
/// From now on `ranks_of_call` returns it.
void join_call(Ranks* ranks);

}  // namespace cursimeter::tool
