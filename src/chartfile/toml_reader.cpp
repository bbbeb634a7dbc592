#include "chartfile/toml_reader.hpp"

#include <algorithm>

namespace cursimeter::chartfile {
namespace {

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
    const Frame& frame = frames_.back();
    auto found = frame.table->find(key.name);
    if (const auto misspelt = frame.misspelt.find(key.name);
        found == frame.table->end() && misspelt != frame.misspelt.end()) {
        found = frame.table->find(misspelt->second);
    }
    if (found == frame.table->end()) {
        if (key.required()) {
            const std::string value = key.least == key.most ? fmt::format("{}", key.least) : "...";
            complain(path(key), "is missing", fmt::format("say {} = {}: {}", key.name, value, key.meaning));
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

std::vector<const toml::table*> TomlReader::misspelt_tables(const keys::Key& key) const {
    const Frame& frame = frames_.back();
    std::vector<const toml::table*> tables;
    const auto [first, end] = frame.misspelt.equal_range(key.name);
    for (auto one = first; one != end; ++one) {
        const bool is_found = one == first && !frame.table->contains(key.name);
        const toml::table* table = frame.table->get(one->second)->as_table();
        if (!is_found && table != nullptr) {
            tables.push_back(table);
        }
    }
    return tables;
}

bool TomlReader::is_full() const {
    return diagnostics_.size() >= most_complaints;
}

void TomlReader::complain(std::string place, std::string what, std::string mend) {
    if (is_full()) {
        return;
    }
    const auto is_guessed = [&](std::string_view one) {
        return std::find(guessed_.begin(), guessed_.end(), one) != guessed_.end();
    };
    if (is_guessed(place) || is_guessed(std::string_view(place).substr(0, place.rfind('.')))) {
        // The key is perhaps not the one that was meant: nothing is said of its value, nor of the keys in it, but what misses
        // it only follows.
        what.clear();
    }
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

void TomlReader::complain_of_unknown(const keys::Rows& rows) {
    Frame& frame = frames_.back();
    const bool is_outermost = frames_.size() == 1;
    const auto is_known = [&](std::string_view name) {
        return (is_outermost && name == keys::format_key.name) ||
               std::any_of(rows.begin(), rows.end(),
                           [&](const keys::Row& row) { return row.key.name == name; });
    };
    if (std::all_of(frame.table->begin(), frame.table->end(),
                    [&](const auto& entry) { return is_known(entry.first.str()); })) {
        return;  // as nearly always
    }
    std::vector<std::string> known;
    if (is_outermost) {
        known.emplace_back(keys::format_key.name);
    }
    for (const keys::Row& row : rows) {
        known.emplace_back(row.key.name);
    }
    const std::string outer = frame.path.empty() ? "" : frame.path + ".";
    for (const Entry& entry : in_file_order(*frame.table)) {
        if (is_full()) {
            return;
        }
        if (is_known(entry.name)) {
            continue;
        }
        sources_.set(outer + entry.name, entry.position);
        const std::string near(nearest_name(entry.name, known));
        complain(outer + entry.name, "is not a known key here",
                 near.empty() ? "known: " + joined(known) : fmt::format("did you mean '{}'?", near));
        if (!near.empty()) {
            frame.misspelt.emplace(near, entry.name);
            if (!frame.table->contains(near)) {
                guessed_.push_back(outer + near);
            }
        }
    }
}

void TomlReader::read_rows(const keys::Rows& rows, void* spec) {
    complain_of_unknown(rows);
    if (frames_.size() == 1) {
        static_cast<void>(read_count(keys::format_key));
    }
    keys::walk(rows, spec, *this);
}

void TomlReader::within(const toml::table& table, const std::string& place, const keys::Rows& rows,
                        void* spec) {
    frames_.push_back({&table, place, {}});
    read_rows(rows, spec);
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
