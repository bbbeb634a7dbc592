#pragma once

#include <initializer_list>
#include <string>
#include <utility>
#include <vector>

/// Conditions, as a person writes them.
namespace cursimeter {

/// A condition: any one of its clauses must hold; a clause holds when all its terms do. No clause at
/// all means "always". Terms are text such as "sprint on", "not moving" or "stamina >= 10".
struct Condition {
    std::vector<std::vector<std::string>> any_of;

    Condition() = default;
    /// One clause: all of these terms.
    Condition(std::initializer_list<std::string> terms) {
        if (terms.size() > 0) {
            any_of.emplace_back(terms);
        }
    }
    /// Several clauses: any of these lists.
    explicit Condition(std::vector<std::vector<std::string>> clauses) : any_of(std::move(clauses)) {}
    friend bool operator==(const Condition&, const Condition&) = default;
};

}  // namespace cursimeter
