#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/controls/controls.hpp>
#include <iterator>

/// Settings beside and over one another.
namespace cursimeter {
namespace {

std::string chord_of(std::vector<std::string> inputs) {
    std::sort(inputs.begin(), inputs.end());
    return fmt::format("{}", fmt::join(inputs, " + "));
}

std::vector<BindingSpec> bindings_of(const ControlsSpec& spec, const std::string& action) {
    std::vector<BindingSpec> list;
    std::copy_if(spec.bindings.begin(), spec.bindings.end(), std::back_inserter(list),
                 [&](const BindingSpec& binding) { return binding.action == action; });
    return list;
}

}  // namespace

ControlsSpec over_defaults(const ControlsSpec& defaults, const ControlsSpec& own) {
    ControlsSpec merged = own;
    merged.name = own.name.empty() ? defaults.name : own.name;
    for (const BindingSpec& binding : defaults.bindings) {
        const bool said = std::any_of(own.bindings.begin(), own.bindings.end(),
                                      [&](const BindingSpec& mine) { return mine.action == binding.action; });
        if (!said) {
            merged.bindings.push_back(binding);
        }
    }
    for (const PressChoice& press : defaults.presses) {
        const bool said = std::any_of(own.presses.begin(), own.presses.end(),
                                      [&](const PressChoice& mine) { return mine.name == press.name; });
        if (!said) {
            merged.presses.push_back(press);
        }
    }
    return merged;
}

ControlsSpec without_defaults(const ControlsSpec& defaults, const ControlsSpec& all) {
    ControlsSpec own = all;
    own.bindings.clear();
    own.presses.clear();
    std::vector<std::string> compared;
    for (const std::vector<BindingSpec>* list : {&all.bindings, &defaults.bindings}) {
        for (const BindingSpec& binding : *list) {
            if (std::find(compared.begin(), compared.end(), binding.action) != compared.end()) {
                continue;
            }
            compared.push_back(binding.action);
            std::vector<BindingSpec> chosen = bindings_of(all, binding.action);
            const std::vector<BindingSpec> usual = bindings_of(defaults, binding.action);
            const auto presses = [](const BindingSpec& one) { return !one.inputs.empty(); };
            if (chosen.empty() && std::any_of(usual.begin(), usual.end(), presses)) {
                chosen.push_back({binding.action, {}});
            }
            if (chosen != usual) {
                own.bindings.insert(own.bindings.end(), chosen.begin(), chosen.end());
            }
        }
    }
    std::copy_if(all.presses.begin(), all.presses.end(), std::back_inserter(own.presses),
                 [&](const PressChoice& press) {
                     return std::find(defaults.presses.begin(), defaults.presses.end(), press) ==
                            defaults.presses.end();
                 });
    return own;
}

std::vector<std::string> conflicts(const ControlsSpec& spec) {
    std::vector<std::string> found;
    for (std::size_t i = 0; i < spec.bindings.size(); ++i) {
        for (std::size_t k = i + 1; k < spec.bindings.size(); ++k) {
            const BindingSpec &a = spec.bindings[i], &b = spec.bindings[k];
            const bool alike = !a.inputs.empty() && chord_of(a.inputs) == chord_of(b.inputs) &&
                               (a.double_tap > 0.0) == (b.double_tap > 0.0);
            if (alike && a.action != b.action) {
                found.push_back(
                    fmt::format("'{}' and '{}' are both on {}", a.action, b.action, chord_of(a.inputs)));
            }
        }
    }
    return found;
}

}  // namespace cursimeter
