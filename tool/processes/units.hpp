#pragma once

#include <cursimeter/survey/scout.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <cursimeter/survey/trial.hpp>
#include <string>

/// Units of work and their results as bytes. All processes run the same program on machines of one kind, as MPI asks.
namespace cursimeter::tool {

[[nodiscard]] std::string bytes_of(const std::vector<double>& numbers);
[[nodiscard]] std::vector<double> numbers_of(const std::string& bytes);

[[nodiscard]] std::string bytes_of(const std::vector<survey::SweepRow>& rows);
[[nodiscard]] std::vector<survey::SweepRow> rows_of(const std::string& bytes);

[[nodiscard]] std::string bytes_of(const survey::Judged& judged);
[[nodiscard]] survey::Judged judged_of(const std::string& bytes);

/// What one search of several came to.
struct SeedSearch {
    std::uint64_t seed = 1;
    survey::Scouted found;  ///< without its places
};
[[nodiscard]] std::string bytes_of(const SeedSearch& search);
/// `chart` is needed to read the drill.
[[nodiscard]] SeedSearch search_of(const std::string& bytes, const Chart& chart);

}  // namespace cursimeter::tool
