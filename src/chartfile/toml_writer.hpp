#pragma once

#include <fmt/format.h>

#include <cursimeter/chart_spec.hpp>
#include <string>
#include <vector>

#include "core/chart/key_table.hpp"

namespace cursimeter::chartfile {

/// Writes a spec as TOML by its table of keys, in the order and layout that people use: sections for named things,
/// inline tables inside them. What is not said stays unwritten.
class TomlWriter {
  public:
    template <class Spec>
    std::string write(const keys::Table<Spec>& table, const Spec& spec) {
        return write_rows(table.rows, &spec);
    }

    template <class T>
    void meet(const keys::Key& key, const keys::Value<T>& value, const void* spec) {
        if (const T* said = value.said(spec)) {
            line(key, text_of(*said));
        }
    }
    void meet(const keys::Key& key, const keys::Value<std::vector<std::string>>& value, const void* spec);
    void meet(const keys::Key& key, const keys::Value<keys::Rates>& value, const void* spec);
    void meet(const keys::Key& key, const keys::Choice& choice, const void* spec);
    void meet(const keys::Key& key, const keys::Choices& choices, const void* spec);
    void meet(const keys::Key& key, const keys::Inner& inner, const void* spec);
    void meet(const keys::Key& key, const keys::Named& named, const void* spec);
    void meet(const keys::Key& key, const keys::Listed& listed, const void* spec);

  private:
    static std::string text_of(double value) { return fmt::format("{}", value); }
    static std::string text_of(int value) { return fmt::format("{}", value); }
    static std::string text_of(bool value) { return value ? "true" : "false"; }
    static std::string text_of(const std::string& value);
    static std::string text_of(const std::vector<double>& values);
    static std::string text_of(const Condition& condition);
    static std::string text_of(const keys::Curve& points);
    static std::string text_of(const keys::Vector3& value);
    static std::string text_of(const std::vector<keys::Vector3>& points);

    std::string write_rows(const keys::Rows& rows, const void* spec);
    void line(const keys::Key& key, const std::string& value) {
        lines_.push_back(fmt::format("{} = {}", key.name, value));
    }
    void section(const std::string& header, const std::vector<std::string>& lines);
    /// The lines of a table inside.
    std::vector<std::string> lines_of(const keys::Rows& rows, const void* spec);

    int depth_ = 0;
    std::vector<std::string> lines_;
    std::string sections_;
};

}  // namespace cursimeter::chartfile
