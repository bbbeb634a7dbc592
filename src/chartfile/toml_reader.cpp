#include "chartfile/toml_reader.hpp"

#include <algorithm>

namespace cursimeter::chartfile {
namespace {

constexpr const char* missing = "is missing";
/// Far more than are listed; a file of nothing but mistakes takes no longer to refuse.
constexpr std::size_t most_complaints = 1000;

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

bool TomlReader::is_full() const {
    return diagnostics_.size() >= most_complaints;
}

void TomlReader::complain(std::string place, std::string what, std::string mend) {
    if (!is_full()) {
        diagnostics_.push_back({std::move(place), std::move(what), std::move(mend), {}, 0, 0});
    }
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
        if (is_full()) {
            return;
        }
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
        if (!near.empty()) {
            complain(meant, "", "");  // what misses that key only follows
        }
    }
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

void TomlReader::meet(const keys::Key& key, const keys::Inner& inner, void* spec) {
    if (const toml::table* table = find_table(key)) {
        within(*table, path(key), inner.rows, inner.say(spec));
    }
}

void TomlReader::meet(const keys::Key& key, const keys::Named& named, void* spec) {
    read_entries(key, [&](const Entry& entry, const std::string& place) {
        void* item = named.add(spec, entry.name);  // even if it is wrong: others may name it
        if (const toml::table* said = entry.node->as_table()) {
            within(*said, place, named.rows, item);
        } else {
            complain(place, wrong_type(*entry.node, "a table"), "write { ... }");
        }
    });
}

void TomlReader::meet(const keys::Key& key, const keys::Listed& listed, void* spec) {
    const toml::node* node = find(key);
    if (node == nullptr) {
        return;
    }
    const std::string mend = fmt::format("write [[{}]]", key.name);
    read_items(*node, path(key), "a list of tables", mend,
               [&](const toml::node& item, const std::string& place) {
                   if (const toml::table* said = item.as_table()) {
                       within(*said, place, listed.rows, listed.add(spec));
                   } else {
                       complain(place, wrong_type(item, "a table"), "write { ... }");
                   }
               });
}

}  // namespace cursimeter::chartfile
