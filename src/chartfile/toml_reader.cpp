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

std::optional<int> TomlReader::value_of(const std::string& place, const std::string& word,
                                        keys::Words words) {
    std::vector<std::string> known;
    for (const keys::Word& choice : words) {
        if (choice.name == word) {
            return choice.value;
        }
        known.emplace_back(choice.name);
    }
    const std::string_view near = nearest_name(word, known);
    complain(place, fmt::format("\"{}\" is not one of the choices", word),
             near.empty() ? "known: " + joined(known)
                          : fmt::format("did you mean \"{}\"? known: {}", near, joined(known)));
    return std::nullopt;
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

void TomlReader::read_rows(const keys::Rows& rows, void* spec) {
    static_cast<void>(read_count(keys::format_key));
    keys::walk(rows, spec, *this);
    complain_of_unlisted();
}

void TomlReader::within(const toml::table& table, const std::string& place, const keys::Rows& rows,
                        void* spec) {
    frames_.push_back({&table, place, {}});
    keys::walk(rows, spec, *this);
    complain_of_unlisted();
    frames_.pop_back();
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
    if (!whole || static_cast<double>(*whole) < key.least || static_cast<double>(*whole) > key.most) {
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
    const toml::array* array = node->as_array();
    if (array == nullptr) {
        complain(path(key), wrong_type(*node, "a list of numbers"), "write [1.2, 0.8]");
        return;
    }
    std::vector<double>& numbers = value.say(spec);
    for (std::size_t i = 0; i < array->size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        double number = 0.0;
        if (read_number(*array->get(i), place, std::string(key.unit), number)) {
            numbers.push_back(number);
        }
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

void TomlReader::meet(const keys::Key& key, const keys::Inner& inner, void* spec) {
    if (const toml::table* table = find_table(key)) {
        within(*table, path(key), inner.rows, inner.say(spec));
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Named& named, void* spec) {
    const toml::table* table = find_table(key);
    if (table == nullptr) {
        return;
    }
    for (const Entry& entry : in_file_order(*table)) {
        const std::string place = path(key) + "." + entry.name;
        sources_.set(place, entry.position);
        void* item = named.add(spec, entry.name);  // even if it is wrong: others may name it
        if (const toml::table* said = entry.node->as_table()) {
            within(*said, place, named.rows, item);
        } else {
            complain(place, wrong_type(*entry.node, "a table"), "write { ... }");
        }
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Listed& listed, void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const toml::array* array = node->as_array();
    for (std::size_t i = 0; array != nullptr && i < array->size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        if (const toml::table* said = array->get(i)->as_table()) {
            within(*said, place, listed.rows, listed.add(spec));
        } else {
            complain(place, wrong_type(*array->get(i), "a table"), "write { ... }");
        }
    }
    if (array == nullptr) {
        complain(path(key), wrong_type(*node, "a list of tables"), fmt::format("write [[{}]]", key.name));
    }
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
    const toml::array* array = node->as_array();
    if (array == nullptr) {
        complain(path(key), wrong_type(*node, "a list of points"), "write [[0, 0], [0.5, 1]]");
        return;
    }
    keys::Curve& points = value.say(spec);
    for (std::size_t i = 0; i < array->size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        const toml::array* pair = array->get(i)->as_array();
        if (pair == nullptr || pair->size() != 2 || !pair->get(0)->is_number() ||
            !pair->get(1)->is_number()) {
            complain(place, "is not a pair of numbers", "write [seconds, fraction], such as [0.5, 1]");
            continue;
        }
        points.push_back({*pair->get(0)->value<double>(), *pair->get(1)->value<double>()});
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Value<keys::Rates>& value, void* spec) {
    const toml::table* table = find_table(key);
    if (table == nullptr) {
        return;
    }
    for (const Entry& entry : in_file_order(*table)) {
        const std::string place = path(key) + "." + entry.name;
        sources_.set(place, entry.position);
        double rate = 0.0;
        if (read_number(*entry.node, place, std::string(key.unit), rate)) {
            value.say(spec).push_back({entry.name, rate});
        }
    }
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
    const toml::array* array = node->as_array();
    if (array == nullptr) {
        complain(path(key), wrong_type(*node, "a list of points"), "write [[0, 0, 0], [4, 0, 0]]");
        return;
    }
    for (std::size_t i = 0; i < array->size(); ++i) {
        const std::string place = fmt::format("{}[{}]", path(key), i + 1);
        sources_.set(place, position_of(*array->get(i)));
        keys::Vector3 point{};
        if (read_vector3(*array->get(i), place, point)) {
            value.say(spec).push_back(point);
        }
    }
}

}  // namespace cursimeter::chartfile
