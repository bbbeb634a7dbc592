#pragma once

namespace cursimeter::tool {

class Processes;

/// Whether a launcher of MPI programs started this one, with others.
[[nodiscard]] bool started_by_mpirun();
/// From now on `processes_of_call` returns it.
void join_call(Processes* processes);

}  // namespace cursimeter::tool
