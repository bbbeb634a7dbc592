#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <string>
#include <vector>

/// Work that is dealt out to the processes of one call, as `mpirun -n N cursimeter ...` starts them. Alone there is one.
namespace cursimeter::tool {

class Processes {
  public:
    /// Joins those of the call, once at the start of the program. Throws ChartError if mpirun started it and it was built without MPI.
    Processes();
    /// The leader sends the others home, and waits for them; not for those that were killed.
    ~Processes();
    Processes(const Processes&) = delete;
    Processes& operator=(const Processes&) = delete;

    [[nodiscard]] static bool built_in();  ///< whether the program was built with MPI
    [[nodiscard]] std::size_t count() const { return count_; }
    /// The one that deals, tells and writes. The others only work.
    [[nodiscard]] bool leads() const { return rank_ == 0; }

    /// What a unit of work comes to. Both are bytes; the same work stands on every process. Does not throw.
    using Work = std::function<std::string(const std::string& unit)>;
    /// Told by the leader, from the calling thread, once for each unit, as the results arrive.
    using Take = std::function<void(std::size_t index, const std::string& result)>;
    /// Once in a call. The leader deals the units out, and works as well. A unit of one that was killed or stands still is dealt again.
    void deal(const std::vector<std::string>& units, const Work& work, const Take& take);
    /// The others work until the leader leaves the call.
    void serve(const Work& work);

  private:
    struct Group;

    std::size_t count_ = 1;
    std::size_t rank_ = 0;          ///< its number, as MPI calls it
    std::unique_ptr<Group> group_;  ///< as MPI knows it; null alone
};

/// Those of the call that is running.
[[nodiscard]] Processes* processes_of_call();

}  // namespace cursimeter::tool
