#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <string>
#include <vector>

/// What is timed: one list for the program that measures time and for the one whose instructions are counted.
namespace bench {

/// A crowd with its inputs.
class Loop {
  public:
    Loop() = default;
    Loop(const Loop&) = delete;
    Loop& operator=(const Loop&) = delete;
    virtual ~Loop() = default;
    /// Moves everybody on by one tick. Returns something that depends on all of it.
    virtual double tick(std::size_t number) = 0;
};

/// One side of a line of the table.
struct Row {
    std::string side;   ///< ours, rivals or another way to write either
    std::string input;  ///< what both sides of a line share
    std::vector<std::size_t> crowds;
    std::function<std::unique_ptr<Loop>(std::size_t crowd)> make;
};

[[nodiscard]] std::vector<Row> rows();

/// Everybody is spawned in the same moment and sets off in the next; what is measured begins after this many ticks.
inline constexpr std::size_t first_ticks = 120;

}  // namespace bench
