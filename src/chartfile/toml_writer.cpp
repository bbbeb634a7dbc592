#include "chartfile/toml_writer.hpp"

namespace cursimeter::chartfile {

std::string TomlWriter::quoted(std::string_view text) {
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

std::string TomlWriter::list_of(const std::vector<std::string>& texts) {
    std::string out = "[";
    for (const std::string& text : texts) {
        out += (out.size() > 1 ? ", " : "") + quoted(text);
    }
    return out + "]";
}

std::string TomlWriter::in_braces(const std::vector<std::string>& lines) {
    std::string out = "{ ";
    for (const std::string& line : lines) {
        out += (out.size() > 2 ? ", " : "") + line;
    }
    return out + " }";
}

void TomlWriter::section(const std::string& header, const std::vector<std::string>& lines) {
    sections_ += "\n" + header + "\n";
    for (const std::string& line : lines) {
        sections_ += line + "\n";
    }
}

void TomlWriter::condition(const keys::Key& key, const std::optional<Condition>& value) {
    if (!value) {
        return;
    }
    if (value->any_of.size() <= 1) {
        line(key, list_of(value->any_of.empty() ? std::vector<std::string>{} : value->any_of.front()));
        return;
    }
    std::string out = "[";
    for (const std::vector<std::string>& clause : value->any_of) {
        out += (out.size() > 1 ? ", " : "") + list_of(clause);
    }
    line(key, out + "]");
}

void TomlWriter::curve(const keys::Key& key, const std::optional<std::vector<CurvePoint>>& value) {
    if (!value) {
        return;
    }
    std::string out = "[";
    for (const CurvePoint& point : *value) {
        out += fmt::format("{}[{}, {}]", out.size() > 1 ? ", " : "", point.seconds, point.fraction);
    }
    line(key, out + "]");
}

void TomlWriter::rates(const keys::Key& key, const std::vector<RateSpec>& value) {
    std::vector<std::string> parts;
    parts.reserve(value.size());
    for (const RateSpec& rate : value) {
        parts.push_back(fmt::format("{} = {}", rate.meter, rate.rate));
    }
    if (!parts.empty()) {
        line(key, in_braces(parts));
    }
}

}  // namespace cursimeter::chartfile
