#include <fmt/format.h>

#include <algorithm>

#include "core/chart/limits_check.hpp"
#include "core/compile/compile.hpp"
#include "core/numbers/digest.hpp"

/// Names over the versions of a chart.
namespace cursimeter::detail {
namespace {

template <class Spec>
void check_list(const std::string& list, const std::vector<Spec>& things, Findings& findings) {
    for (const Spec& thing : things) {
        if (!thing.was) {
            continue;
        }
        const std::string path = fmt::format("{}.{}.was", list, thing.name);
        const auto twins = std::count_if(things.begin(), things.end(),
                                         [&](const Spec& other) { return other.was == thing.was; });
        if (*thing.was == thing.name) {
            findings.add(path, "is its name still", "take it out, or say the name before");
        } else if (!valid_name(*thing.was)) {
            findings.add(path, fmt::format("'{}' cannot have been a name", *thing.was), names_are);
        } else if (twins > 1) {
            findings.add(path, fmt::format("'{}' has become several {}", *thing.was, list),
                         "say it of the one that goes on with what there was");
        }
    }
}

template <class Named>
void add_names(Digest& digest, const std::vector<Named>& list) {
    digest.add(std::uint64_t{list.size()});
    for (const Named& thing : list) {
        digest.add(thing.name);
    }
}

}  // namespace

void check_renames(const ChartSpec& spec, Findings& findings) {
    check_list("actions", spec.actions, findings);
    check_list("meters", spec.meters, findings);
    check_list("cooldowns", spec.cooldowns, findings);
    check_list("modifiers", spec.modifiers, findings);
    check_list("blocks", spec.blocks, findings);
    check_list("states", spec.states, findings);
}

std::uint32_t naming_of(const ChartData& chart) {
    Digest digest;
    add_names(digest, chart.actions);
    add_names(digest, chart.meters);
    add_names(digest, chart.cooldowns);
    add_names(digest, chart.modifiers);
    add_names(digest, chart.blocks);
    add_names(digest, chart.states);
    const std::uint64_t value = digest.value();
    return std::max(1U, static_cast<std::uint32_t>(value ^ (value >> 32U)));
}

}  // namespace cursimeter::detail
