#include "core/chart/limits_check.hpp"

namespace cursimeter::detail {

std::string range_text(const keys::Key& key) {
    return fmt::format("{} {} {} <= {}{}{}", key.least, key.above_least ? "<" : "<=", key.name, key.most,
                       key.unit.empty() ? "" : " ", key.unit);
}

bool valid_name(std::string_view name) {
    if (name.empty() || name[0] < 'a' || name[0] > 'z') {
        return false;
    }
    for (const char c : name) {
        if (!((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_')) {
            return false;
        }
    }
    return true;
}

bool is_reserved(std::string_view name) {
    static const std::set<std::string, std::less<>> reserved{"not",    "speed",    "rise",     "time",
                                                             "moving", "grounded", "headroom", "wall",
                                                             "in",     "footing",  "pushed",   "locked"};
    return reserved.contains(name);
}

}  // namespace cursimeter::detail
