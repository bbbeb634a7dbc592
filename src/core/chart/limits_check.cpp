#include "core/chart/limits_check.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace cursimeter::detail {

std::string range_text(const keys::Key& key) {
    return fmt::format("{} {} {} <= {}{}{}", key.least, key.above_least ? "<" : "<=", key.name, key.most,
                       key.unit.empty() ? "" : " ", key.unit);
}

bool valid_name(std::string_view name) {
    constexpr std::size_t most_letters = 64;
    if (name.empty() || name.size() > most_letters || name[0] < 'a' || name[0] > 'z') {
        return false;
    }
    for (const char c : name) {
        if (!((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_')) {
            return false;
        }
    }
    return true;
}

bool is_control(char c) {
    const auto byte = static_cast<unsigned char>(c);
    return byte < 0x20 || byte == 0x7f;
}

bool is_reserved(std::string_view name) {
    static const std::set<std::string, std::less<>> reserved{"not",    "speed",    "rise",     "time",
                                                             "moving", "grounded", "headroom", "wall",
                                                             "in",     "footing",  "pushed",   "locked"};
    return reserved.contains(name);
}

namespace {

using keys::Key;

class LimitsCheck {
  public:
    explicit LimitsCheck(Findings& findings) : findings_(findings) {}

    void meet(const Key& key, const keys::Value<double>& value, const void* spec) {
        if (const double* number = value.said(spec)) {
            check(key, *number);
        }
    }
    void meet(const Key& key, const keys::Value<int>& value, const void* spec) {
        if (const int* number = value.said(spec)) {
            check(key, static_cast<double>(*number));
        }
    }
    void meet(const Key& key, const keys::Value<std::vector<double>>& value, const void* spec) {
        const std::vector<double>* numbers = value.said(spec);
        for (std::size_t i = 0; numbers != nullptr && i < numbers->size(); ++i) {
            const std::string name = item_name(key, i);
            check(named(key, name), (*numbers)[i]);
        }
    }
    void meet(const Key& key, const keys::Value<std::string>& value, const void* spec) {
        const std::string* text = value.said(spec);
        if (key.required() && !value.optional && text->empty()) {
            findings_.add(path(key), "is empty", std::string(key.meaning));
        }
        if (text == nullptr) {
            return;
        }
        if (static_cast<double>(text->size()) > key.most_letters()) {
            findings_.add(path(key), fmt::format("is {} letters long", text->size()),
                          fmt::format("{} at most", key.most_letters()));
        }
        if (std::any_of(text->begin(), text->end(), is_control)) {
            findings_.add(path(key), "holds a control character", "leave it out: terminals would obey it");
        }
    }
    void meet(const Key& key, const keys::Value<keys::Curve>& value, const void* spec) {
        const keys::Curve* points = value.said(spec);
        for (std::size_t i = 0; points != nullptr && i < points->size(); ++i) {
            const CurvePoint& point = (*points)[i];
            if (!(point.seconds >= 0.0 && point.seconds <= 60.0 && point.fraction >= 0.0 &&
                  point.fraction <= 1.0)) {
                findings_.add(fmt::format("{}[{}]", path(key), i + 1),
                              fmt::format("[{}, {}] is out of range", point.seconds, point.fraction),
                              "0 <= seconds <= 60 and 0 <= fraction <= 1");
            }
        }
    }
    void meet(const Key& key, const keys::Value<keys::Rates>& value, const void* spec) {
        const std::string outer = prefix_;
        prefix_ = path(key);
        for (const RateSpec& rate : *value.said(spec)) {
            check(named(key, rate.meter), rate.rate);
        }
        prefix_ = outer;
    }
    void meet(const Key& key, const keys::Value<keys::Vector3>& value, const void* spec) {
        if (const keys::Vector3* numbers = value.said(spec)) {
            check(key, *numbers);
        }
    }
    void meet(const Key& key, const keys::Value<std::vector<keys::Vector3>>& value, const void* spec) {
        const std::vector<keys::Vector3>& points = *value.said(spec);
        for (std::size_t i = 0; i < points.size(); ++i) {
            const std::string name = item_name(key, i);
            check(named(key, name), points[i]);
        }
    }
    void meet(const Key& key, const keys::Inner& inner, const void* spec) {
        if (const void* table = inner.said(spec)) {
            within(path(key), inner.rows, table);
        }
    }
    void meet(const Key& key, const keys::Named& named, const void* spec) {
        std::set<std::string> seen;
        const std::size_t count = named.count(spec);
        if (static_cast<double>(count) > key.most) {
            findings_.add(path(key), fmt::format("there are {} {}", count, key.name),
                          too_many(count, static_cast<std::size_t>(key.most)));
        }
        for (std::size_t i = 0; i < count; ++i) {
            const void* item = named.at(spec, i);
            const std::string& name = named.name_of(item);
            const std::string place = path(key) + "." + name;
            if (!valid_name(name)) {
                findings_.add(place, fmt::format("'{}' cannot be a name", name), names_are);
            } else if (is_reserved(name)) {
                findings_.add(place, fmt::format("'{}' is a word of the conditions", name),
                              "choose another name");
            } else if (!seen.insert(name).second) {
                findings_.add(place, fmt::format("there are two {} named '{}'", key.name, name),
                              "rename one of them");
            }
            within(place, named.rows, item);
        }
    }
    void meet(const Key& key, const keys::Listed& listed, const void* spec) {
        for (std::size_t i = 0; i < listed.count(spec); ++i) {
            within(fmt::format("{}[{}]", path(key), i + 1), listed.rows, listed.at(spec, i));
        }
    }
    /// Truths, words, names and conditions have no range.
    template <class Value>
    void meet(const Key& /*key*/, const Value& /*value*/, const void* /*spec*/) {}

  private:
    void check(const Key& key, double value) {
        if (!std::isfinite(value)) {
            findings_.add(path(key), "is not a finite number", range_text(key));
        } else if (!key.admits(value)) {
            findings_.add(path(key), fmt::format("{} is out of range", value), range_text(key));
        }
    }
    void check(const Key& key, const keys::Vector3& values) {
        for (const double value : values) {
            check(key, value);
        }
    }
    static std::string item_name(const Key& key, std::size_t index) {
        return fmt::format("{}[{}]", key.name, index + 1);
    }
    static Key named(Key key, std::string_view name) {
        key.name = name;
        return key;
    }
    [[nodiscard]] std::string path(const Key& key) const {
        return prefix_.empty() ? std::string(key.name) : prefix_ + "." + std::string(key.name);
    }
    void within(const std::string& place, const keys::Rows& rows, const void* spec) {
        const std::string outer = prefix_;
        prefix_ = place;
        keys::walk(rows, spec, *this);
        prefix_ = outer;
    }

    Findings& findings_;
    std::string prefix_;
};

}  // namespace

void check_limits(const keys::Rows& rows, const void* spec, Findings& findings) {
    LimitsCheck check(findings);
    keys::walk(rows, spec, check);
}

}  // namespace cursimeter::detail
