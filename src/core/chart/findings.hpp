#pragma once

#include <cstddef>
#include <cstdint>
#include <cursimeter/diagnostics.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Gathering what is wrong with a spec, and finding things by their names.
namespace cursimeter::detail {

/// Takes out what might only follow from something else in the list: see Diagnostic::rests_on.
void drop_followers(std::vector<Diagnostic>& list);

/// Gathers diagnostics.
class Findings {
  public:
    void add(std::string path, std::string what, std::string mend) {
        list_.push_back({std::move(path), std::move(what), std::move(mend), {}, 0, 0});
    }
    /// One that compares or misses values: see Diagnostic::rests_on. It rests on its own path besides.
    void add_relation(std::string path, std::string what, std::string mend,
                      std::vector<std::string> rests_on = {}) {
        rests_on.push_back(path);
        list_.push_back({std::move(path), std::move(what), std::move(mend), {}, 0, 0, std::move(rests_on)});
    }
    [[nodiscard]] bool empty() const { return list_.empty(); }
    [[nodiscard]] std::size_t size() const { return list_.size(); }
    /// Forgets the findings after the first `count`.
    void shrink(std::size_t count) { list_.resize(count); }
    /// Forgets of the findings after the first `count` those that are among these as well.
    void drop_repeated(std::size_t count);
    /// What is to be told: not what might only follow from something else.
    [[nodiscard]] std::vector<Diagnostic> take() {
        drop_followers(list_);
        return std::move(list_);
    }

  private:
    std::vector<Diagnostic> list_;
};

/// Advice for an unknown name: the nearest of the candidates, or all of them.
[[nodiscard]] std::string advise_name(std::string_view name, const std::vector<std::string>& candidates);
/// The mend where a chart holds more of something than it can.
[[nodiscard]] std::string too_many(std::size_t have, std::size_t most);
template <class Named>
std::vector<std::string> names_of(const std::vector<Named>& list) {
    std::vector<std::string> names;
    names.reserve(list.size());
    for (const Named& item : list) {
        names.push_back(item.name);
    }
    return names;
}

/// Place of the thing with this name in one of a chart's lists.
template <class Named>
[[nodiscard]] std::optional<std::uint8_t> place_of(const std::vector<Named>& list, std::string_view name) {
    for (std::size_t i = 0; i < list.size(); ++i) {
        if (list[i].name == name) {
            return static_cast<std::uint8_t>(i);
        }
    }
    return std::nullopt;
}

}  // namespace cursimeter::detail
