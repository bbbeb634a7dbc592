#include <algorithm>

#include "chartfile/toml_reader.hpp"

/// Values of every shape, from TOML.
namespace cursimeter::chartfile {
namespace {

/// How what is no list is written as one: by itself in brackets, or as the example says.
std::string as_list(const toml::node& node, std::string_view example) {
    if (node.is_array()) {
        return {};
    }
    constexpr std::size_t most_letters = 60;
    const auto text = node.value_exact<std::string>();
    if (text && text->size() <= most_letters) {
        return fmt::format("write [\"{}\"]", *text);
    }
    const auto number = node.value<double>();
    return number && node.is_number() ? fmt::format("write [{}]", *number) : fmt::format("write {}", example);
}

}  // namespace

bool TomlReader::read_number(const toml::node& node, const std::string& place, const std::string& unit,
                             double& value) {
    if (const auto number = node.value<double>(); number && node.is_number()) {
        value = *number;
        return true;
    }
    complain(
        place, wrong_type(node, "a number"),
        unit.empty() ? "write a number such as 1.5" : fmt::format("write a number in {}, such as 1.5", unit));
    return false;
}

void TomlReader::meet(const keys::Key& key, const keys::Value<double>& value, void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    double& number = value.say(spec);
    if (value.optional) {
        // Something stands there, even if it cannot be read: nobody shall complain that it is missing.
        number = std::clamp(1.0, key.least, key.most);
    }
    read_number(*node, path(key), std::string(key.unit), number);
}

std::optional<int> TomlReader::read_count(const keys::Key& key) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return std::nullopt;
    }
    const auto whole = node->value_exact<std::int64_t>();
    if (!whole || !key.admits(static_cast<double>(*whole))) {
        complain(
            path(key),
            whole ? fmt::format("{} is out of range", *whole) : wrong_type(*node, "a whole number in range"),
            fmt::format("a whole number, {} <= {} <= {}", key.least, key.name, key.most));
        return std::nullopt;
    }
    return static_cast<int>(*whole);
}

void TomlReader::meet(const keys::Key& key, const keys::Value<int>& value, void* spec) {
    if (const std::optional<int> count = read_count(key)) {
        value.say(spec) = *count;
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Value<bool>& value, void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    bool& truth = value.say(spec);
    if (const auto said = node->value_exact<bool>()) {
        truth = *said;
        return;
    }
    complain(path(key), wrong_type(*node, "true or false"), "write true or false");
}

void TomlReader::meet(const keys::Key& key, const keys::Value<std::vector<double>>& value, void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    std::vector<double> numbers;
    const auto read_one = [&](const toml::node& item, const std::string& place) {
        double number = 0.0;
        if (read_number(item, place, std::string(key.unit), number)) {
            numbers.push_back(number);
        }
    };
    if (read_items(*node, path(key), "a list of numbers", as_list(*node, "[1.2, 0.8]"), read_one)) {
        value.say(spec) = std::move(numbers);
    }
}

std::optional<std::string> TomlReader::read_text(const keys::Key& key) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return std::nullopt;
    }
    std::optional<std::string> text = node->value_exact<std::string>();
    if (!text) {
        complain(path(key), wrong_type(*node, "text"), "write it in quotes");
    }
    return text;
}

void TomlReader::meet(const keys::Key& key, const keys::Value<std::string>& value, void* spec) {
    if (std::optional<std::string> text = read_text(key)) {
        value.say(spec) = std::move(*text);
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Choice& choice, void* spec) {
    if (const std::optional<std::string> word = read_text(key)) {
        if (const std::optional<int> meant = value_of(path(key), *word, choice.words)) {
            choice.say(spec, *meant);
        }
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Choices& choices, void* spec) {
    const toml::node* node = find(key);
    std::vector<std::string> words;
    if (node == nullptr || !read_texts(*node, path(key), words)) {
        return;
    }
    std::vector<int> values;
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        if (const std::optional<int> meant = value_of(place, words[i], choices.words)) {
            values.push_back(*meant);
        }
    }
    choices.say(spec, values);
}

bool TomlReader::read_texts(const toml::node& node, const std::string& place,
                            std::vector<std::string>& texts) {
    const auto read_one = [&](const toml::node& item, const std::string& item_place) {
        if (const auto word = item.value_exact<std::string>()) {
            texts.push_back(*word);
        } else {
            complain(item_place, wrong_type(item, "text"), "write it in quotes");
        }
    };
    return read_items(node, place, "a list of text", as_list(node, "[\"...\", \"...\"]"), read_one);
}

void TomlReader::meet(const keys::Key& key, const keys::Value<std::vector<std::string>>& value, void* spec) {
    const toml::node* node = find(key);
    std::vector<std::string> texts;
    if (node != nullptr && read_texts(*node, path(key), texts)) {
        value.say(spec) = std::move(texts);
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Value<Condition>& value, void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const toml::array* array = node->as_array();
    const bool nested = array != nullptr && !array->empty() && array->get(0)->is_array();
    std::vector<std::vector<std::string>> clauses;
    if (!nested) {
        std::vector<std::string> terms;
        if (!read_texts(*node, path(key), terms)) {
            return;
        }
        if (!terms.empty()) {
            clauses.push_back(std::move(terms));
        }
    }
    for (std::size_t i = 0; nested && i < array->size(); ++i) {
        // A single clause is one list, however it is written.
        const std::string place = array->size() == 1 ? path(key) : fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        read_texts(*array->get(i), place, clauses.emplace_back());
    }
    value.say(spec) = Condition(std::move(clauses));
}

void TomlReader::meet(const keys::Key& key, const keys::Value<keys::Curve>& value, void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    keys::Curve points;
    const auto read_one = [&](const toml::node& item, const std::string& place) {
        const toml::array* pair = item.as_array();
        if (pair == nullptr || pair->size() != 2 || !pair->get(0)->is_number() ||
            !pair->get(1)->is_number()) {
            complain(place, "is not a pair of numbers", "write [seconds, fraction], such as [0.5, 1]");
            return;
        }
        points.push_back({*pair->get(0)->value<double>(), *pair->get(1)->value<double>()});
    };
    if (read_items(*node, path(key), "a list of points", "write [[0, 0], [0.5, 1]]", read_one)) {
        value.say(spec) = std::move(points);
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Value<keys::Rates>& value, void* spec) {
    read_entries(key, [&](const Entry& entry, const std::string& place) {
        double rate = 0.0;
        if (read_number(*entry.node, place, std::string(key.unit), rate)) {
            value.say(spec).push_back({entry.name, rate});
        }
    });
}

bool TomlReader::read_vector3(const toml::node& node, const std::string& place, keys::Vector3& value) {
    const toml::array* array = node.as_array();
    const bool fits =
        array != nullptr && array->size() == 3 &&
        std::all_of(array->begin(), array->end(), [](const toml::node& n) { return n.is_number(); });
    if (!fits) {
        complain(place, "is not a list of three numbers", "write [x, y, z] in m");
        return false;
    }
    for (std::size_t i = 0; i < 3; ++i) {
        value[i] = *array->get(i)->value<double>();
    }
    return true;
}

void TomlReader::meet(const keys::Key& key, const keys::Value<keys::Vector3>& value, void* spec) {
    if (const toml::node* node = find(key)) {
        read_vector3(*node, path(key), value.say(spec));
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Value<std::vector<keys::Vector3>>& value,
                      void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const auto read_one = [&](const toml::node& item, const std::string& place) {
        keys::Vector3 point{};
        if (read_vector3(item, place, point)) {
            value.say(spec).push_back(point);
        }
    };
    read_items(*node, path(key), "a list of points", "write [[0, 0, 0], [4, 0, 0]]", read_one);
}

}  // namespace cursimeter::chartfile
