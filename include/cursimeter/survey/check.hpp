#pragma once

#include <cursimeter/chart_spec.hpp>
#include <cursimeter/drill/drill.hpp>
#include <optional>
#include <string>
#include <vector>

/// Is a chart sound? Decided by reasoning over its compiled conditions, not by trying: what is said of conditions is true
/// of every run. It may miss: how long things take and which levels can be reached is not reasoned about, and states
/// that launch, pay or have a cooldown count as never flickering.
namespace cursimeter::survey {

enum class Severity : unsigned char {
    error,    ///< something can never work as it is written
    warning,  ///< it works, and hardly as it is meant
    advice,   ///< out of the ordinary
};

enum class FindingKind : unsigned char {
    never_entered,  ///< no moment brings the state about
    hidden,         ///< states before it in rank always take its place
    never_left,     ///< no moment leads out of the state
    flicker,        ///< states that lead back to one another while nothing changes
    left_at_once,   ///< may be left in the instant in which it is entered
    never_true,     ///< a term that never holds
    always_true,    ///< a term that always holds
    contradiction,  ///< terms of one list that cannot hold together
    needless,       ///< a list of terms that decides nothing beside another
    never_refills,  ///< a meter that states need, and that is used up for good
    latch_never_opens,
    short_cooldown,  ///< over before the state that it guards
    piles_up,        ///< a modifier that is granted faster than it ends
    endless,         ///< modifiers that follow one another for ever
    unused,          ///< an action, meter or cooldown that nothing reads
    implausible,     ///< a number outside what characters do
};
[[nodiscard]] std::string_view to_string(FindingKind kind);
[[nodiscard]] std::string_view to_string(Severity severity);

struct Finding {
    Severity severity = Severity::warning;
    FindingKind kind = FindingKind::unused;
    std::vector<std::string> paths;  ///< in the spec, the one at fault first
    std::string what;                ///< one sentence
    std::string mend;
    std::vector<std::string> states;  ///< that it is about
    std::optional<DrillSpec> proof;   ///< the shortest drill found that shows it, confirmed by running it
    std::string shown;                ///< what that drill shows
};

/// Everything that is wrong, the gravest first, each in the order of the chart. Throws ChartError if the spec does
/// not compile. Milliseconds.
[[nodiscard]] std::vector<Finding> check(const ChartSpec& spec);
/// Looks for drills that show the findings, which it fills in. Up to a second or so for each.
void prove(const ChartSpec& spec, std::vector<Finding>& findings);

/// A change of state that some moment brings about, for diagrams: from the compiled conditions.
struct Passage {
    std::uint8_t from = 0, to = 0;  ///< indices of states
    std::string by;                 ///< the condition of the new state in short: "sprint on, moving forward"
    std::string unless;             ///< where it is one that is left to it: the terms of the old one's `stay`
};
[[nodiscard]] std::vector<Passage> passages(const ChartSpec& spec);

}  // namespace cursimeter::survey
