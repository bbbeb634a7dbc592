#pragma once

#include <array>
#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <optional>

namespace cursimeter {

/// Where the things of one version of a chart are in another, by their names, and by the names that `was` says they had.
/// For code that keeps ids over a hot reload. A value of about 200 bytes; `carry_over` hands one out.
class IdMap {
  public:
    IdMap(const Chart& from, const Chart& to);

    /// The same thing's id in the other chart; nothing if it has no such thing.
    [[nodiscard]] std::optional<StateId> operator()(StateId id) const { return look_up(states_, id); }
    [[nodiscard]] std::optional<ActionId> operator()(ActionId id) const { return look_up(actions_, id); }
    [[nodiscard]] std::optional<MeterId> operator()(MeterId id) const { return look_up(meters_, id); }
    [[nodiscard]] std::optional<CooldownId> operator()(CooldownId id) const {
        return look_up(cooldowns_, id);
    }
    [[nodiscard]] std::optional<ModifierId> operator()(ModifierId id) const {
        return look_up(modifiers_, id);
    }
    [[nodiscard]] std::optional<BlockId> operator()(BlockId id) const { return look_up(blocks_, id); }
    /// A change of an intent with the other chart's action; nothing if its action is gone.
    [[nodiscard]] std::optional<Change> operator()(const Change& change) const {
        const bool is_key = change.kind == ChangeKind::press || change.kind == ChangeKind::release;
        const std::optional<ActionId> action = is_key ? (*this)(change.action) : change.action;
        if (!action) {
            return std::nullopt;
        }
        Change mapped = change;
        mapped.action = *action;
        return mapped;
    }
    /// A mask with a bit per action, such as `Intent::held`. Actions that are gone are left out.
    [[nodiscard]] std::uint32_t held(std::uint32_t mask) const;

  private:
    static constexpr std::uint8_t gone = 0xff;
    template <std::size_t Size>
    using Places = std::array<std::uint8_t, Size>;
    template <std::size_t Size, class List>
    static void fill(Places<Size>& places, const List& from, const List& to);
    template <std::size_t Size, class Tag>
    static std::optional<Id<Tag>> look_up(const Places<Size>& places, Id<Tag> id) {
        if (id.index >= Size || places[id.index] == gone) {
            return std::nullopt;
        }
        return Id<Tag>{places[id.index]};
    }

    Places<limits::states> states_;
    Places<limits::actions> actions_;
    Places<limits::meters> meters_;
    Places<limits::cooldowns> cooldowns_;
    Places<limits::modifier_kinds> modifiers_;
    Places<limits::blocks> blocks_;
};

}  // namespace cursimeter
