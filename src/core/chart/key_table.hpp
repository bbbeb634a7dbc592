#pragma once

#include <array>
#include <cstddef>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/units.hpp>
#include <optional>
#include <span>
#include <string>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

#include "core/chart/key.hpp"

/// The tables of keys: one row a key, bound to the member of the spec that holds its value.
///
/// A row says of what shape its value is and how it is reached, without the spec's type, so whoever walks a spec (the
/// range check, the reader and the writer of files, schema and reference, the digest) is written once for each shape
/// and not once for each key. A new key is a row; all of them know it.
namespace cursimeter::keys {

struct Row;

/// The rows of one table, in the order in which people write them.
struct Rows {
    const Row* first = nullptr;
    std::size_t count = 0;
    [[nodiscard]] constexpr const Row* begin() const { return first; }
    [[nodiscard]] constexpr const Row* end() const;
};

/// A value of type T: number (angles in degrees), whole number, truth, text, list.
template <class T>
struct Value {
    const T* (*said)(const void* spec) = nullptr;  ///< null where it is not said
    T& (*say)(void* spec) = nullptr;               ///< the place to write it to
    bool optional = false;                         ///< otherwise it is always said
};

/// A word of a choice.
struct Word {
    std::string_view name;
    int value = 0;
    template <class Enum>
    constexpr Word(std::string_view word, Enum meant) : name(word), value(static_cast<int>(meant)) {}
};
using Words = std::span<const Word>;

/// One of some words, by its value.
struct Choice {
    Words words;
    std::optional<int> (*said)(const void* spec) = nullptr;
    void (*say)(void* spec, int value) = nullptr;
    bool optional = false;
};

/// A list of some words, by their values.
struct Choices {
    Words words;
    std::optional<std::vector<int>> (*said)(const void* spec) = nullptr;
    void (*say)(void* spec, const std::vector<int>& values) = nullptr;
};

/// One table inside.
struct Inner {
    Rows rows;
    const void* (*said)(const void* spec) = nullptr;
    void* (*say)(void* spec) = nullptr;
    bool optional = false;
};

/// Tables by name: [states.walk].
struct Named {
    Rows rows;
    std::size_t (*count)(const void* spec) = nullptr;
    const void* (*at)(const void* spec, std::size_t index) = nullptr;
    void* (*edit)(void* spec, std::size_t index) = nullptr;
    void* (*add)(void* spec, const std::string& name) = nullptr;
    const std::string& (*name_of)(const void* item) = nullptr;
};

/// A list of tables: [[step]].
struct Listed {
    Rows rows;
    std::size_t (*count)(const void* spec) = nullptr;
    const void* (*at)(const void* spec, std::size_t index) = nullptr;
    void* (*edit)(void* spec, std::size_t index) = nullptr;
    void* (*add)(void* spec) = nullptr;
};

using Curve = std::vector<CurvePoint>;
using Rates = std::vector<RateSpec>;
using Vector3 = std::array<double, 3>;

struct Row {
    Key key;
    std::variant<Value<double>, Value<int>, Value<bool>, Value<std::string>, Value<std::vector<double>>,
                 Value<std::vector<std::string>>, Value<Condition>, Value<Curve>, Value<Rates>,
                 Value<Vector3>, Value<std::vector<Vector3>>, Choice, Choices, Inner, Named, Listed>
        value;
};

constexpr const Row* Rows::end() const {
    return first + count;
}

/// Shows a visitor each key of a spec: visitor.meet(key, value, spec) for every shape of value. Inner tables are the
/// visitor's to walk on.
template <class Visitor, class Spec>
void walk(const Rows& rows, Spec* spec, Visitor& visitor) {
    for (const Row& row : rows) {
        std::visit([&](const auto& value) { visitor.meet(row.key, value, spec); }, row.value);
    }
}

/// The rows of a spec's type.
template <class Spec>
struct Table {
    Rows rows;
};

// Rows are made from pointers to members.

/// A row, and the type of the spec to which it belongs.
template <class Spec>
struct RowOf {
    Row row;
};

/// The rows of one spec, as they are written down: a row of another spec does not compile.
template <class Spec, std::size_t Count>
struct Keys {
    std::array<Row, Count> rows;
    template <class... More>
    constexpr explicit Keys(const RowOf<Spec>& first, const More&... more) : rows{first.row, more.row...} {}
    constexpr Keys(const RowOf<Spec>& first, const Keys<Spec, Count - 1>& others)
        : rows(joined(first, others, std::make_index_sequence<Count - 1>())) {}
    [[nodiscard]] constexpr Table<Spec> table() const { return {{rows.data(), Count}}; }

  private:
    template <std::size_t... I>
    static constexpr std::array<Row, Count> joined(const RowOf<Spec>& first,
                                                   const Keys<Spec, Count - 1>& others,
                                                   std::index_sequence<I...>) {
        return {first.row, others.rows[I]...};
    }
};
template <class Spec, class... More>
Keys(RowOf<Spec>, RowOf<More>...) -> Keys<Spec, 1 + sizeof...(More)>;
template <class Spec, std::size_t Count>
Keys(RowOf<Spec>, Keys<Spec, Count>) -> Keys<Spec, Count + 1>;

namespace member {

template <class T>
struct Parts;
template <class Owner, class Held>
struct Parts<Held Owner::*> {
    using Spec = Owner;
    using Type = Held;
};
template <auto Member>
using SpecOf = typename Parts<decltype(Member)>::Spec;
template <auto Member>
using TypeOf = typename Parts<decltype(Member)>::Type;

template <class T>
inline constexpr bool is_optional = false;
template <class T>
inline constexpr bool is_optional<std::optional<T>> = true;

template <class T>
struct Plain {
    using Type = T;
};
template <class T>
struct Plain<std::optional<T>> {
    using Type = T;
};
template <auto Member>
using PlainOf = typename Plain<TypeOf<Member>>::Type;

template <auto Member>
const TypeOf<Member>& of(const void* spec) {
    return static_cast<const SpecOf<Member>*>(spec)->*Member;
}
template <auto Member>
TypeOf<Member>& of(void* spec) {
    return static_cast<SpecOf<Member>*>(spec)->*Member;
}
/// The value itself, whether it is optional or not; null where it is not said.
template <auto Member>
const PlainOf<Member>* said(const void* spec) {
    if constexpr (is_optional<TypeOf<Member>>) {
        return of<Member>(spec) ? &*of<Member>(spec) : nullptr;
    } else {
        return &of<Member>(spec);
    }
}
template <auto Member>
PlainOf<Member>& say(void* spec) {
    if constexpr (is_optional<TypeOf<Member>>) {
        return of<Member>(spec) ? *of<Member>(spec) : of<Member>(spec).emplace();
    } else {
        return of<Member>(spec);
    }
}

/// Degrees are read and written as the numbers that they are.
template <auto Member>
using Kept = std::conditional_t<std::is_same_v<PlainOf<Member>, Degrees>, double, PlainOf<Member>>;
template <class T>
const T* number_in(const T* value) {
    return value;
}
inline const double* number_in(const Degrees* value) {
    return value == nullptr ? nullptr : &value->value;
}
template <class T>
T& number_in(T& value) {
    return value;
}
inline double& number_in(Degrees& value) {
    return value.value;
}

}  // namespace member

/// A number, an angle, a truth, a text or a list.
template <auto Member>
constexpr RowOf<member::SpecOf<Member>> row(const Key& key) {
    using T = member::Kept<Member>;
    return {{key, Value<T>{[](const void* spec) -> const T* {
                               return member::number_in(member::said<Member>(spec));
                           },
                           [](void* spec) -> T& { return member::number_in(member::say<Member>(spec)); },
                           member::is_optional<member::TypeOf<Member>>}}};
}

/// One of some words.
template <auto Member>
constexpr RowOf<member::SpecOf<Member>> choice_row(const Key& key, Words words) {
    using Enum = member::PlainOf<Member>;
    return {{key, Choice{words,
                         [](const void* spec) -> std::optional<int> {
                             const Enum* value = member::said<Member>(spec);
                             return value != nullptr ? std::optional(static_cast<int>(*value)) : std::nullopt;
                         },
                         [](void* spec, int value) { member::say<Member>(spec) = static_cast<Enum>(value); },
                         member::is_optional<member::TypeOf<Member>>}}};
}

/// A list of some words.
template <auto Member>
constexpr RowOf<member::SpecOf<Member>> choices_row(const Key& key, Words words) {
    using Enum = typename member::PlainOf<Member>::value_type;
    return {{key, Choices{words,
                          [](const void* spec) -> std::optional<std::vector<int>> {
                              const std::vector<Enum>* values = member::said<Member>(spec);
                              if (values == nullptr) {
                                  return std::nullopt;
                              }
                              std::vector<int> numbers;
                              for (const Enum value : *values) {
                                  numbers.push_back(static_cast<int>(value));
                              }
                              return numbers;
                          },
                          [](void* spec, const std::vector<int>& values) {
                              std::vector<Enum>& all = member::say<Member>(spec);
                              all.clear();
                              for (const int value : values) {
                                  all.push_back(static_cast<Enum>(value));
                              }
                          }}}};
}

/// One table inside.
template <auto Member, std::size_t Count>
constexpr RowOf<member::SpecOf<Member>> inner_row(const Key& key,
                                                  const Keys<member::PlainOf<Member>, Count>& inner) {
    return {{key, Inner{inner.table().rows,
                        [](const void* spec) -> const void* { return member::said<Member>(spec); },
                        [](void* spec) -> void* { return &member::say<Member>(spec); },
                        member::is_optional<member::TypeOf<Member>>}}};
}

/// Tables by name.
template <auto Member, std::size_t Count>
constexpr RowOf<member::SpecOf<Member>> named_row(
    const Key& key, const Keys<typename member::TypeOf<Member>::value_type, Count>& inner) {
    using Item = typename member::TypeOf<Member>::value_type;
    return {
        {key,
         Named{inner.table().rows, [](const void* spec) { return member::of<Member>(spec).size(); },
               [](const void* spec, std::size_t i) -> const void* { return &member::of<Member>(spec)[i]; },
               [](void* spec, std::size_t i) -> void* { return &member::of<Member>(spec)[i]; },
               [](void* spec, const std::string& name) -> void* {
                   Item& item = member::of<Member>(spec).emplace_back();
                   item.name = name;
                   return &item;
               },
               [](const void* item) -> const std::string& { return static_cast<const Item*>(item)->name; }}}};
}

/// A list of tables.
template <auto Member, std::size_t Count>
constexpr RowOf<member::SpecOf<Member>> listed_row(
    const Key& key, const Keys<typename member::TypeOf<Member>::value_type, Count>& inner) {
    return {{key, Listed{inner.table().rows, [](const void* spec) { return member::of<Member>(spec).size(); },
                         [](const void* spec, std::size_t i) -> const void* {
                             return &member::of<Member>(spec)[i];
                         },
                         [](void* spec, std::size_t i) -> void* { return &member::of<Member>(spec)[i]; },
                         [](void* spec) -> void* { return &member::of<Member>(spec).emplace_back(); }}}};
}

}  // namespace cursimeter::keys
