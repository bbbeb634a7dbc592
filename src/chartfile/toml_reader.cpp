#include "chartfile/toml_reader.hpp"

#include <algorithm>

namespace cursimeter::chartfile {
namespace {

constexpr const char* missing = "is missing";

std::string joined(const std::vector<std::string>& names) {
    std::string text;
    for (const std::string& name : names) {
        text += (text.empty() ? "" : ", ") + name;
    }
    return text;
}

std::string_view name_of(toml::node_type type) {
    switch (type) {
        case toml::node_type::table:
            return "a table";
        case toml::node_type::array:
            return "a list";
        case toml::node_type::string:
            return "text";
        case toml::node_type::integer:
        case toml::node_type::floating_point:
            return "a number";
        case toml::node_type::boolean:
            return "true or false";
        default:
            return "a date or time";
    }
}

}  // namespace

TomlReader::TomlReader(const toml::table& root) {
    frames_.push_back({&root, "", {}});
    sources_.set("", {1, 1});
}

SourcePosition TomlReader::position_of(const toml::node& node) {
    const toml::source_position at = node.source().begin;
    return {static_cast<int>(at.line), static_cast<int>(at.column)};
}

std::string TomlReader::wrong_type(const toml::node& node, std::string_view wanted) {
    return fmt::format("is {}, not {}", name_of(node.type()), wanted);
}

std::vector<TomlReader::Entry> TomlReader::in_file_order(const toml::table& table) {
    std::vector<Entry> entries;
    for (const auto& [key, node] : table) {
        const toml::source_position at = key.source().begin;
        entries.push_back(
            {std::string(key.str()), &node, {static_cast<int>(at.line), static_cast<int>(at.column)}});
    }
    std::sort(entries.begin(), entries.end(), [](const Entry& a, const Entry& b) {
        return std::pair(a.position.line, a.position.column) < std::pair(b.position.line, b.position.column);
    });
    return entries;
}

std::string TomlReader::path(const keys::Key& key) const {
    const std::string& outer = frames_.back().path;
    return outer.empty() ? std::string(key.name) : outer + "." + std::string(key.name);
}

const toml::node* TomlReader::find(const keys::Key& key) {
    Frame& frame = frames_.back();
    frame.listed.emplace_back(key.name);
    const auto found = frame.table->find(key.name);
    if (found == frame.table->end()) {
        if (key.required()) {
            complain(path(key), missing, fmt::format("say {} = ...: {}", key.name, key.meaning));
        }
        return nullptr;
    }
    const toml::source_position at = found->first.source().begin;
    sources_.set(path(key), {static_cast<int>(at.line), static_cast<int>(at.column)});
    return &found->second;
}

const toml::table* TomlReader::find_table(const keys::Key& key) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return nullptr;
    }
    if (const toml::table* table = node->as_table()) {
        return table;
    }
    complain(path(key), wrong_type(*node, "a table"), fmt::format("write {} = {{ ... }}", key.name));
    return nullptr;
}

void TomlReader::complain(std::string place, std::string what, std::string mend) {
    diagnostics_.push_back({std::move(place), std::move(what), std::move(mend), {}, 0, 0});
}

void TomlReader::complain_of_choice(const std::string& place, const std::string& word,
                                    const std::vector<std::string>& known) {
    const std::string_view near = nearest_name(word, known);
    complain(place, fmt::format("\"{}\" is not one of the choices", word),
             near.empty() ? "known: " + joined(known)
                          : fmt::format("did you mean \"{}\"? known: {}", near, joined(known)));
}

void TomlReader::complain_of_unlisted() {
    const Frame& frame = frames_.back();
    for (const Entry& entry : in_file_order(*frame.table)) {
        if (std::find(frame.listed.begin(), frame.listed.end(), entry.name) != frame.listed.end()) {
            continue;
        }
        const std::string place = frame.path.empty() ? entry.name : frame.path + "." + entry.name;
        sources_.set(place, entry.position);
        const std::string_view near = nearest_name(entry.name, frame.listed);
        const std::string meant = place.substr(0, place.size() - entry.name.size()) + std::string(near);
        for (Diagnostic& earlier : diagnostics_) {
            if (!near.empty() && earlier.path == meant && earlier.what == missing) {
                earlier.what.clear();  // a key that is misspelt is not missing as well
            }
        }
        complain(place, "is not a known key here",
                 near.empty() ? "known: " + joined(frame.listed) : fmt::format("did you mean '{}'?", near));
    }
}

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

void TomlReader::number(const keys::Key& key, double& value) {
    if (const toml::node* node = find(key)) {
        read_number(*node, path(key), std::string(key.unit), value);
    }
}

void TomlReader::number(const keys::Key& key, std::optional<double>& value) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    // Something stands there, even if it cannot be read: nobody shall complain that it is missing.
    value = std::clamp(1.0, key.least, key.most);
    read_number(*node, path(key), std::string(key.unit), *value);
}

void TomlReader::count(const keys::Key& key, int& value) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const auto whole = node->value_exact<std::int64_t>();
    if (!whole || static_cast<double>(*whole) < key.least || static_cast<double>(*whole) > key.most) {
        complain(
            path(key),
            whole ? fmt::format("{} is out of range", *whole) : wrong_type(*node, "a whole number in range"),
            fmt::format("a whole number, {} <= {} <= {}", key.least, key.name, key.most));
        return;
    }
    value = static_cast<int>(*whole);
}

void TomlReader::truth(const keys::Key& key, bool& value) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    if (const auto truth = node->value_exact<bool>()) {
        value = *truth;
        return;
    }
    complain(path(key), wrong_type(*node, "true or false"), "write true or false");
}

void TomlReader::truth(const keys::Key& key, std::optional<bool>& value) {
    bool truth_value = false;
    if (frames_.back().table->contains(key.name)) {
        truth(key, truth_value);
        value = truth_value;
    } else {
        static_cast<void>(find(key));
    }
}

void TomlReader::numbers(const keys::Key& key, std::optional<std::vector<double>>& value) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const toml::array* array = node->as_array();
    if (array == nullptr) {
        complain(path(key), wrong_type(*node, "a list of numbers"), "write [1.2, 0.8]");
        return;
    }
    value.emplace();
    for (std::size_t i = 0; i < array->size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        double number = 0.0;
        if (read_number(*array->get(i), place, std::string(key.unit), number)) {
            value->push_back(number);
        }
    }
}

void TomlReader::text(const keys::Key& key, std::optional<std::string>& value) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    value = node->value_exact<std::string>();
    if (!value) {
        complain(path(key), wrong_type(*node, "text"), "write it in quotes");
    }
}

void TomlReader::text(const keys::Key& key, std::string& value) {
    std::optional<std::string> word;
    text(key, word);
    value = word.value_or(value);
}

bool TomlReader::read_texts(const toml::node& node, const std::string& place,
                            std::vector<std::string>& texts) {
    const toml::array* array = node.as_array();
    if (array == nullptr) {
        complain(place, wrong_type(node, "a list of text"), "write [\"...\", \"...\"]");
        return false;
    }
    for (std::size_t i = 0; i < array->size(); ++i) {
        const std::string item = fmt::format("{}[{}]", place, i + 1);
        sources_.set(item, position_of(*array->get(i)));
        if (const auto word = array->get(i)->value_exact<std::string>()) {
            texts.push_back(*word);
        } else {
            complain(item, wrong_type(*array->get(i), "text"), "write it in quotes");
        }
    }
    return true;
}

void TomlReader::names(const keys::Key& key, std::vector<std::string>& value) {
    if (const toml::node* node = find(key)) {
        read_texts(*node, path(key), value);
    }
}

void TomlReader::names(const keys::Key& key, std::optional<std::vector<std::string>>& value) {
    const toml::node* node = find(key);
    std::vector<std::string> texts;
    if (node != nullptr && read_texts(*node, path(key), texts)) {
        value = std::move(texts);
    }
}

void TomlReader::condition(const keys::Key& key, std::optional<Condition>& value) {
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
    value = Condition(std::move(clauses));
}

void TomlReader::curve(const keys::Key& key, std::optional<std::vector<CurvePoint>>& value) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const toml::array* array = node->as_array();
    if (array == nullptr) {
        complain(path(key), wrong_type(*node, "a list of points"), "write [[0, 0], [0.5, 1]]");
        return;
    }
    value.emplace();
    for (std::size_t i = 0; i < array->size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        const toml::array* pair = array->get(i)->as_array();
        if (pair == nullptr || pair->size() != 2 || !pair->get(0)->is_number() ||
            !pair->get(1)->is_number()) {
            complain(place, "is not a pair of numbers", "write [seconds, fraction], such as [0.5, 1]");
            continue;
        }
        value->push_back({*pair->get(0)->value<double>(), *pair->get(1)->value<double>()});
    }
}

void TomlReader::rates(const keys::Key& key, std::vector<RateSpec>& value) {
    const toml::table* table = find_table(key);
    if (table == nullptr) {
        return;
    }
    for (const Entry& entry : in_file_order(*table)) {
        const std::string place = path(key) + "." + entry.name;
        sources_.set(place, entry.position);
        double rate = 0.0;
        if (read_number(*entry.node, place, std::string(key.unit), rate)) {
            value.push_back({entry.name, rate});
        }
    }
}

bool TomlReader::read_vector3(const toml::node& node, const std::string& place,
                              std::array<double, 3>& value) {
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

void TomlReader::vector3(const keys::Key& key, std::array<double, 3>& value) {
    if (const toml::node* node = find(key)) {
        read_vector3(*node, path(key), value);
    }
}

void TomlReader::points(const keys::Key& key, std::vector<std::array<double, 3>>& value) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const toml::array* array = node->as_array();
    if (array == nullptr) {
        complain(path(key), wrong_type(*node, "a list of points"), "write [[0, 0, 0], [4, 0, 0]]");
        return;
    }
    for (std::size_t i = 0; i < array->size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        std::array<double, 3> point{};
        if (read_vector3(*array->get(i), place, point)) {
            value.push_back(point);
        }
    }
}

}  // namespace cursimeter::chartfile
