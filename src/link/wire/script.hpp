#pragma once

#include <type_traits>
#include <vector>

#include "link/wire/coder.hpp"

/// What is told to many, put down once. Which flags an entry has, and what they say, goes by the runner and the
/// baseline; only what they cost goes by the packet. So it is found once, and written many times.
namespace cursimeter::link::wire {

/// All models of a struct that consists of nothing else, in a row.
template <class Models>
[[nodiscard]] auto in_a_row(Models& models) {
    static_assert(std::is_trivially_copyable_v<Models> && std::is_standard_layout_v<Models> &&
                  alignof(Models) == alignof(Model) && sizeof(Models) % sizeof(Model) == 0);
    using Each = std::conditional_t<std::is_const_v<Models>, const Model, Model>;
    return std::span<Each>(reinterpret_cast<Each*>(&models), sizeof(Models) / sizeof(Model));
}

/// A coder that puts down, as steps, what a Writer would write. It has the same functions.
class Script {
  public:
    static constexpr bool reads = false;
    /// `models` are those that it is given flags of; they learn nothing.
    explicit Script(std::span<const Model> models) : models_(models) {}

    void bit(const Model& model, bool value) {
        steps_.push_back(Step::flag(static_cast<std::uint32_t>(&model - models_.data()), value));
    }
    template <class Number>
    void bits(Number value, unsigned count) {
        const auto whole = static_cast<std::uint64_t>(value);
        while (count > 0) {
            const unsigned part = count < 16 ? count : 16;
            count -= part;
            steps_.push_back(
                Step::plain(static_cast<std::uint32_t>(whole >> count) & ((1U << part) - 1U), part));
        }
    }

    void reserve(std::size_t steps) { steps_.reserve(steps); }
    void clear() { steps_.clear(); }
    [[nodiscard]] std::size_t size() const { return steps_.size(); }
    [[nodiscard]] std::size_t capacity() const { return steps_.capacity(); }
    /// Those from one place to another; good until more are put down.
    [[nodiscard]] std::span<const Step> steps(std::size_t from, std::size_t to) const {
        return std::span(steps_).subspan(from, to - from);
    }

  private:
    std::span<const Model> models_;
    std::vector<Step> steps_;
};

/// What a packet had learnt before steps that may not fit into it.
class Learnt {
  public:
    void clear() { before_.clear(); }
    void reserve(std::size_t steps) { before_.reserve(steps); }
    /// Before they are written.
    void note(std::span<const Step> steps, std::span<const Model> models) {
        for (const Step step : steps) {
            if (step.is_flag()) {
                before_.push_back({step.model(), models[step.model()]});
            }
        }
    }
    /// As if nothing that was noted had been written.
    void restore(std::span<Model> models) {
        for (; !before_.empty(); before_.pop_back()) {
            models[before_.back().place] = before_.back().model;
        }
    }

  private:
    struct Before {
        std::uint32_t place;
        Model model;
    };
    std::vector<Before> before_;
};

}  // namespace cursimeter::link::wire
