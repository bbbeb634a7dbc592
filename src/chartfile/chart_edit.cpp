#include <fmt/format.h>

#include <cursimeter/chartfile/chart_edit.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <optional>

#include "chartfile/toml_document.hpp"

namespace cursimeter {
namespace {

/// A step of a path: a key, or a place in a list, from 1.
struct Step {
    std::string key;
    std::size_t place = 0;
};

std::vector<Step> steps_of(const std::string& path) {
    std::vector<Step> steps;
    std::string key;
    const auto flush = [&] {
        if (!key.empty()) {
            steps.push_back({key, 0});
        }
        key.clear();
    };
    for (std::size_t i = 0; i < path.size(); ++i) {
        if (path[i] == '.') {
            flush();
        } else if (path[i] == '[') {
            flush();
            std::size_t place = 0;
            for (++i; i < path.size() && path[i] != ']'; ++i) {
                place = place * 10 + static_cast<std::size_t>(path[i] - '0');
            }
            steps.push_back({{}, place});
        } else {
            key += path[i];
        }
    }
    flush();
    return steps;
}

[[noreturn]] void refuse(const std::string& path, const std::string& what, const std::string& mend,
                         const std::string& name) {
    throw ChartError({{path, what, mend, name, 0, 0}});
}

/// Byte of a place in the text; columns count characters, of which UTF-8 has one to four bytes each.
std::size_t byte_of(std::string_view text, const toml::source_position& at) {
    std::size_t byte = 0;
    for (toml::source_index line = 1; line < at.line; ++line) {
        byte = text.find('\n', byte) + 1;
    }
    for (toml::source_index column = 1; column < at.column; ++column) {
        ++byte;
        while (byte < text.size() && (static_cast<unsigned char>(text[byte]) & 0xc0U) == 0x80U) {
            ++byte;
        }
    }
    return byte;
}

std::string rest_of(const std::vector<Step>& steps, std::size_t from) {
    std::string rest;
    for (std::size_t i = from; i < steps.size(); ++i) {
        rest += (rest.empty() ? "" : ".") + steps[i].key;
    }
    return rest;
}

/// Adds a key to a table that has it not, where the table is written down: between its braces, or under its header. Nothing
/// if it stands nowhere by itself.
std::string with_added(const std::string& text, const toml::table& table, bool is_root,
                       const std::vector<Step>& steps, std::size_t depth, const std::string& number) {
    if (table.is_inline()) {
        const std::size_t end = byte_of(text, table.source().end) - 1;  // the closing brace
        std::size_t last = end;
        while (last > 0 && (text[last - 1] == ' ' || text[last - 1] == '\n')) {
            --last;
        }
        const std::string added =
            fmt::format("{}{} = {}", table.empty() ? " " : ", ", rest_of(steps, depth), number);
        return text.substr(0, last) + added + " " + text.substr(end);
    }
    const std::size_t header = byte_of(text, table.source().begin);
    const bool has_header = !is_root && header < text.size() && text[header] == '[';
    if (has_header) {
        const std::size_t line_end = std::min(text.find('\n', header), text.size());
        return text.substr(0, line_end) + fmt::format("\n{} = {}", rest_of(steps, depth), number) +
               text.substr(line_end);
    }
    return {};
}

/// A section of its own at the end, for a table that only longer headers imply.
std::string with_section(const std::string& text, const std::vector<Step>& steps, const std::string& number) {
    std::string section;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i) {
        section += (i == 0 ? "" : ".") + steps[i].key;
    }
    return text + fmt::format("{}\n[{}]\n{} = {}\n", text.ends_with('\n') ? "" : "\n", section,
                              steps.back().key, number);
}

bool is_toml(const std::string& text) {
    try {
        static_cast<void>(chartfile::parse_toml(text, {}, FileKind::chart));
        return true;
    } catch (const ChartError&) {
        return false;
    }
}

std::string with_number(const std::string& text, const std::string& name, const NumberEdit& edit) {
    const toml::table root = chartfile::parse_toml(text, name, FileKind::chart);
    const std::vector<Step> steps = steps_of(edit.path);
    const std::string number = fmt::format("{}", edit.value);
    const toml::node* node = &root;
    std::vector<std::pair<const toml::table*, std::size_t>> around;  // with their depths
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const toml::node* next = nullptr;
        if (const toml::table* table = node->as_table()) {
            around.emplace_back(table, i);
            next = steps[i].place == 0 ? table->get(steps[i].key) : nullptr;
            if (next == nullptr && steps[i].place == 0) {
                for (std::size_t k = i; k < steps.size(); ++k) {
                    if (steps[k].place != 0) {
                        refuse(edit.path, "stands in a list that this state takes over",
                               "write the list into the state first", name);
                    }
                }
                // A table that dotted keys made has no place of its own: then the one around it has, as far as need be.
                for (auto outer = around.rbegin(); outer != around.rend(); ++outer) {
                    const auto& [holder, depth] = *outer;
                    const std::string added =
                        with_added(text, *holder, holder == &root, steps, depth, number);
                    if (!added.empty()) {
                        return is_toml(added) ? added : with_section(text, steps, number);
                    }
                }
                return with_section(text, steps, number);
            }
        } else if (const toml::array* array = node->as_array()) {
            next = steps[i].place > 0 ? array->get(steps[i].place - 1) : nullptr;
        }
        if (next == nullptr) {
            refuse(edit.path, "is not in the file", "name a number of the chart", name);
        }
        node = next;
    }
    if (!node->is_number()) {
        refuse(edit.path, "is not a number", "name a number of the chart", name);
    }
    const std::size_t begin = byte_of(text, node->source().begin), end = byte_of(text, node->source().end);
    return text.substr(0, begin) + number + text.substr(end);
}

}  // namespace

std::string edit_chart_text(std::string_view text, const std::string& name,
                            const std::vector<NumberEdit>& edits) {
    std::string edited(text);
    for (const NumberEdit& edit : edits) {
        edited = with_number(edited, name, edit);
    }
    static_cast<void>(parse_chart(edited, name));  // says what is wrong with it
    return edited;
}

}  // namespace cursimeter
