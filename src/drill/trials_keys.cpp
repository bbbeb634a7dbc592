#include "drill/trials_keys.hpp"

namespace cursimeter::keys {
namespace {

constexpr Keys trial_keys{
    row<&TrialSpec::charts>(plain_key("charts", "required", "chart files, from this file's folder on")),
    row<&TrialSpec::drills>(
        plain_key("drills", "required", "drill files with `[[expect]]`; each chart goes through each")),
    row<&TrialSpec::courses>(plain_key("courses", "open flat ground", "course files: on each of them")),
    row<&TrialSpec::rates>({.name = "rates",
                            .unit = "ticks per second",
                            .fallback = "[20, 60, 144]",
                            .meaning = "at each of them",
                            .least = 10.0,
                            .most = 1000.0})};

constexpr Key bound_key(std::string_view name, std::string_view meaning) {
    return {.name = name,
            .unit = "as the figure",
            .fallback = "any",
            .meaning = meaning,
            .least = -1e9,
            .most = 1e9};
}

constexpr Keys figure_keys{
    row<&FigureBoundsSpec::name>(
        plain_key("name", "required", "the figure, as `cursimeter figures` names it: \"jump.height\"")),
    row<&FigureBoundsSpec::charts>(
        plain_key("charts", "required", "chart files that have it, from this file's folder on")),
    row<&FigureBoundsSpec::course>(plain_key("course", "none", "a course file, for a figure of its legs")),
    row<&FigureBoundsSpec::least>(bound_key("least", "it is not less")),
    row<&FigureBoundsSpec::most>(bound_key("most", "it is not more"))};

constexpr Keys trials_keys{
    row<&TrialsSpec::name>(plain_key("name", "required", "name of what was agreed")),
    listed_row<&TrialsSpec::trials>(
        plain_key("trial", "none", "runs that are held against what their drills expect"), trial_keys),
    listed_row<&TrialsSpec::figures>(plain_key("figure", "none", "figures with their bounds"), figure_keys)};

}  // namespace

Table<TrialsSpec> trials_table() {
    return trials_keys.table();
}

}  // namespace cursimeter::keys
