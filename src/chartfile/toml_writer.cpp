#include "chartfile/toml_writer.hpp"

#include <string_view>

namespace cursimeter::chartfile {
namespace {

std::string in_quotes(std::string_view text) {
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\') {
            out += '\\';
            out += c;
        } else if (static_cast<unsigned char>(c) < 0x20 || c == 0x7f) {
            out += fmt::format("\\u{:04X}", static_cast<unsigned char>(c));
        } else {
            out += c;
        }
    }
    return out + '"';
}

std::string list_of(const std::vector<std::string>& texts) {
    std::string out = "[";
    for (const std::string& text : texts) {
        out += (out.size() > 1 ? ", " : "") + in_quotes(text);
    }
    return out + "]";
}

std::string in_braces(const std::vector<std::string>& lines) {
    return fmt::format("{{ {} }}", fmt::join(lines, ", "));
}

/// The words of values, of which there is one for each.
std::string_view word_of(keys::Words words, int value) {
    for (const keys::Word& word : words) {
        if (word.value == value) {
            return word.name;
        }
    }
    return {};
}

}  // namespace

std::string TomlWriter::text_of(const std::string& value) {
    return in_quotes(value);
}

std::string TomlWriter::text_of(const std::vector<double>& values) {
    return fmt::format("[{}]", fmt::join(values, ", "));
}

std::string TomlWriter::text_of(const Condition& condition) {
    if (condition.any_of.size() <= 1) {
        return list_of(condition.any_of.empty() ? std::vector<std::string>{} : condition.any_of.front());
    }
    std::vector<std::string> clauses;
    for (const std::vector<std::string>& clause : condition.any_of) {
        clauses.push_back(list_of(clause));
    }
    return fmt::format("[{}]", fmt::join(clauses, ", "));
}

std::string TomlWriter::text_of(const keys::Curve& points) {
    std::vector<std::string> items;
    for (const CurvePoint& point : points) {
        items.push_back(fmt::format("[{}, {}]", point.seconds, point.fraction));
    }
    return fmt::format("[{}]", fmt::join(items, ", "));
}

std::string TomlWriter::text_of(const keys::Vector3& value) {
    return fmt::format("[{}, {}, {}]", value[0], value[1], value[2]);
}

std::string TomlWriter::text_of(const std::vector<keys::Vector3>& points) {
    std::vector<std::string> items;
    for (const keys::Vector3& point : points) {
        items.push_back(text_of(point));
    }
    return fmt::format("[{}]", fmt::join(items, ", "));
}

std::string TomlWriter::write_rows(const keys::Rows& rows, const void* spec) {
    lines_.push_back("format = 1");
    keys::walk(rows, spec, *this);
    std::string text;
    for (const std::string& line : lines_) {
        text += line + "\n";
    }
    return text + sections_;
}

void TomlWriter::section(const std::string& header, const std::vector<std::string>& lines) {
    sections_ += "\n" + header + "\n";
    for (const std::string& line : lines) {
        sections_ += line + "\n";
    }
}

std::vector<std::string> TomlWriter::lines_of(const keys::Rows& rows, const void* spec) {
    std::vector<std::string> outer = std::move(lines_);
    lines_.clear();
    ++depth_;
    keys::walk(rows, spec, *this);
    --depth_;
    std::swap(outer, lines_);
    return outer;
}

void TomlWriter::meet(const keys::Key& key, const keys::Value<std::vector<std::string>>& value,
                      const void* spec) {
    const std::vector<std::string>* names = value.said(spec);
    if (names != nullptr && (value.optional || !names->empty() || key.required())) {
        line(key, list_of(*names));
    }
}

void TomlWriter::meet(const keys::Key& key, const keys::Value<keys::Rates>& value, const void* spec) {
    std::vector<std::string> parts;
    for (const RateSpec& rate : *value.said(spec)) {
        parts.push_back(fmt::format("{} = {}", rate.meter, rate.rate));
    }
    if (!parts.empty()) {
        line(key, in_braces(parts));
    }
}

void TomlWriter::meet(const keys::Key& key, const keys::Choice& choice, const void* spec) {
    if (const std::optional<int> value = choice.said(spec)) {
        line(key, in_quotes(word_of(choice.words, *value)));
    }
}

void TomlWriter::meet(const keys::Key& key, const keys::Choices& choices, const void* spec) {
    if (const std::optional<std::vector<int>> values = choices.said(spec)) {
        std::vector<std::string> words;
        for (const int value : *values) {
            words.emplace_back(word_of(choices.words, value));
        }
        line(key, list_of(words));
    }
}

void TomlWriter::meet(const keys::Key& key, const keys::Inner& inner, const void* spec) {
    const void* said = inner.said(spec);
    if (said == nullptr) {
        return;
    }
    const std::vector<std::string> lines = lines_of(inner.rows, said);
    if (depth_ == 0) {
        section(fmt::format("[{}]", key.name), lines);
    } else if (!lines.empty()) {
        line(key, in_braces(lines));
    }
}

void TomlWriter::meet(const keys::Key& key, const keys::Named& named, const void* spec) {
    std::vector<std::string> items;
    for (std::size_t i = 0; i < named.count(spec); ++i) {
        const void* item = named.at(spec, i);
        const std::vector<std::string> lines = lines_of(named.rows, item);
        if (depth_ == 0) {
            section(fmt::format("[{}.{}]", key.name, named.name_of(item)), lines);
        } else {
            items.push_back(fmt::format("{} = {}", named.name_of(item), in_braces(lines)));
        }
    }
    if (!items.empty()) {
        line(key, in_braces(items));
    }
}

void TomlWriter::meet(const keys::Key& key, const keys::Listed& listed, const void* spec) {
    std::string items;
    for (std::size_t i = 0; i < listed.count(spec); ++i) {
        const std::vector<std::string> lines = lines_of(listed.rows, listed.at(spec, i));
        if (depth_ == 0) {
            section(fmt::format("[[{}]]", key.name), lines);
        } else {
            items += fmt::format("\n    {},", in_braces(lines));
        }
    }
    if (!items.empty()) {
        line(key, fmt::format("[{}\n]", items));
    }
}

}  // namespace cursimeter::chartfile
