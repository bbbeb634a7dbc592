#pragma once

#include <fmt/format.h>

#include <toml++/toml.h>

#include <cursimeter/chart_spec.hpp>
#include <cursimeter/chartfile/source_map.hpp>
#include <cursimeter/diagnostics.hpp>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/chart/key_table.hpp"

namespace cursimeter::chartfile {

/// Fills a spec from TOML by its table of keys. It goes on after every mistake, notes
/// where each key stands, and complains about keys that no table lists. What stands under a misspelt key is read as that of the key
/// that was meant, so that nothing else is missed because of it.
class TomlReader {
  public:
    explicit TomlReader(const toml::table& root);

    /// Reads a whole file: its `format`, then what the table lists.
    template <class Spec>
    void read(const keys::Table<Spec>& table, Spec& spec) {
        read_rows(table.rows, &spec);
    }
    [[nodiscard]] std::vector<Diagnostic> take_diagnostics() { return std::move(diagnostics_); }
    [[nodiscard]] SourceMap take_sources() { return std::move(sources_); }

    void meet(const keys::Key& key, const keys::Value<double>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<int>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<bool>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<std::string>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<std::vector<double>>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<std::vector<std::string>>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<Condition>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<keys::Curve>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<keys::Rates>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<keys::Vector3>& value, void* spec);
    void meet(const keys::Key& key, const keys::Value<std::vector<keys::Vector3>>& value, void* spec);
    void meet(const keys::Key& key, const keys::Choice& choice, void* spec);
    void meet(const keys::Key& key, const keys::Choices& choices, void* spec);
    void meet(const keys::Key& key, const keys::Inner& inner, void* spec);
    void meet(const keys::Key& key, const keys::Named& named, void* spec);
    void meet(const keys::Key& key, const keys::Listed& listed, void* spec);

  private:
    /// A key of a table in the order of the file; toml++ itself sorts by name.
    struct Entry {
        std::string name;
        const toml::node* node = nullptr;
        SourcePosition position;
    };
    /// A table being read, and its keys that are misspelt, by what each was meant to be.
    struct Frame {
        const toml::table* table = nullptr;
        std::string path;
        std::multimap<std::string, std::string, std::less<>> misspelt;
    };

    static SourcePosition position_of(const toml::node& node);
    static std::string wrong_type(const toml::node& node, std::string_view wanted);
    static std::vector<Entry> in_file_order(const toml::table& table);

    [[nodiscard]] std::string path(const keys::Key& key) const;
    /// The key's value, noting its place; complains if it is required and missing.
    const toml::node* find(const keys::Key& key);
    const toml::table* find_table(const keys::Key& key);
    /// Tables that stand beside it, because the key is misspelt there.
    [[nodiscard]] std::vector<const toml::table*> misspelt_tables(const keys::Key& key) const;
    std::optional<int> read_count(const keys::Key& key);
    std::optional<std::string> read_text(const keys::Key& key);
    /// The word of a choice that stands at a place, by its value; complains of one that is none of them.
    std::optional<int> value_of(const std::string& place, const std::string& word, keys::Words words);
    /// Calls `read(item, place)` with each item of a list, noting where it stands. Returns false, and complains, if the
    /// node is no list.
    template <class Read>
    bool read_items(const toml::node& node, const std::string& place, std::string_view wanted,
                    const std::string& mend, Read&& read) {
        const toml::array* array = node.as_array();
        if (array == nullptr) {
            complain(place, wrong_type(node, wanted), mend);
            return false;
        }
        for (std::size_t i = 0; i < array->size(); ++i) {
            const std::string item_place = fmt::format("{}[{}]", place, i + 1);
            sources_.set(item_place, position_of(*array->get(i)));
            read(*array->get(i), item_place);
        }
        return true;
    }
    /// Calls `read(entry, place)` with each entry of a table whose keys are names, in the order of the file, noting where it
    /// stands; not at all if there is no such table.
    template <class Read>
    void read_entries(const keys::Key& key, Read&& read) {
        const auto read_all = [&](const toml::table& table) {
            for (const Entry& entry : in_file_order(table)) {
                const std::string place = path(key) + "." + entry.name;
                sources_.set(place, entry.position);
                read(entry, place);
            }
        };
        if (const toml::table* table = find_table(key)) {
            read_all(*table);
        }
        for (const toml::table* table : misspelt_tables(key)) {
            read_all(*table);
        }
    }
    bool read_number(const toml::node& node, const std::string& place, const std::string& unit,
                     double& value);
    bool read_vector3(const toml::node& node, const std::string& place, keys::Vector3& value);
    bool read_texts(const toml::node& node, const std::string& place, std::vector<std::string>& texts);
    void complain(std::string place, std::string what, std::string mend);
    void complain_of_unknown(const keys::Rows& rows);
    [[nodiscard]] bool is_full() const;  ///< of complaints

    /// Fills a spec from the table that is being read.
    void read_rows(const keys::Rows& rows, void* spec);
    void within(const toml::table& table, const std::string& place, const keys::Rows& rows, void* spec);

    std::vector<Frame> frames_;
    std::vector<std::string> guessed_;  ///< places that are read from a misspelt key
    std::vector<Diagnostic> diagnostics_;
    SourceMap sources_;
};

}  // namespace cursimeter::chartfile
