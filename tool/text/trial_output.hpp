#pragma once

#include <cstdio>

#include "scene/trials.hpp"
#include "text/junit.hpp"

namespace cursimeter::tool {

/// What was not kept, with its place, what was instead and why; and of each trial how much was kept.
void print_trials(std::FILE* to, const Trials& trials);

/// "walk at 12 s": what was instead, and when.
[[nodiscard]] std::string instead_text(const survey::Verdict& verdict);

/// A suite for each run, and one for the figures of each chart.
[[nodiscard]] std::vector<TestSuite> suites_of(const Trials& trials);

}  // namespace cursimeter::tool
