#include <cmath>
#include <cursimeter/chartfile/schema.hpp>
#include <nlohmann/json.hpp>

#include "controls/controls_keys.hpp"
#include "core/chart/chart_keys.hpp"
#include "course/course_keys.hpp"
#include "drill/drill_keys.hpp"
#include "drill/trials_keys.hpp"

namespace cursimeter {
namespace {

using keys::Key;
using nlohmann::ordered_json;

/// Writes a table of keys as a schema. No spec is needed for it.
class SchemaWriter {
  public:
    static ordered_json write(const char* title, const keys::Rows& rows) {
        ordered_json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", title}};
        ordered_json format{{"description", std::string(keys::format_key.meaning)}, {"const", 1}};
        schema.update(object(rows));
        schema["properties"]["format"] = std::move(format);
        schema["required"].insert(schema["required"].begin(), "format");
        return schema;
    }

    void meet(const Key& key, const keys::Value<double>& /*value*/, const void* /*spec*/) {
        add(key, ranged(key, "number"));
    }
    void meet(const Key& key, const keys::Value<int>& /*value*/, const void* /*spec*/) {
        add(key, ranged(key, "integer"));
    }
    void meet(const Key& key, const keys::Value<bool>& /*value*/, const void* /*spec*/) {
        add(key, {{"type", "boolean"}});
    }
    void meet(const Key& key, const keys::Value<std::string>& /*value*/, const void* /*spec*/) {
        add(key, {{"type", "string"}, {"maxLength", static_cast<std::size_t>(key.most_letters())}});
    }
    void meet(const Key& key, const keys::Value<std::vector<double>>& /*value*/, const void* /*spec*/) {
        add(key, {{"type", "array"}, {"items", ranged(key, "number")}});
    }
    void meet(const Key& key, const keys::Value<std::vector<std::string>>& /*value*/, const void* /*spec*/) {
        add(key, texts());
    }
    void meet(const Key& key, const keys::Value<Condition>& /*value*/, const void* /*spec*/) {
        add(key, {{"type", "array"},
                  {"anyOf", ordered_json::array({{{"items", {{"type", "string"}}}}, {{"items", texts()}}})}});
    }
    void meet(const Key& key, const keys::Value<keys::Curve>& /*value*/, const void* /*spec*/) {
        add(key, {{"type", "array"},
                  {"minItems", 2},
                  {"maxItems", limits::curve_points},
                  {"items",
                   {{"type", "array"}, {"minItems", 2}, {"maxItems", 2}, {"items", {{"type", "number"}}}}}});
    }
    void meet(const Key& key, const keys::Value<keys::Rates>& /*value*/, const void* /*spec*/) {
        add(key, {{"type", "object"}, {"additionalProperties", ranged(key, "number")}});
    }
    void meet(const Key& key, const keys::Value<keys::Vector3>& /*value*/, const void* /*spec*/) {
        add(key, triple(key));
    }
    void meet(const Key& key, const keys::Value<std::vector<keys::Vector3>>& /*value*/,
              const void* /*spec*/) {
        add(key, {{"type", "array"}, {"items", triple(key)}});
    }
    void meet(const Key& key, const keys::Choice& choice, const void* /*spec*/) {
        add(key, {{"enum", names_of(choice.words)}});
    }
    void meet(const Key& key, const keys::Choices& choices, const void* /*spec*/) {
        add(key, {{"type", "array"}, {"items", {{"enum", names_of(choices.words)}}}});
    }
    void meet(const Key& key, const keys::Inner& inner, const void* /*spec*/) {
        add(key, object(inner.rows));
    }
    void meet(const Key& key, const keys::Named& named, const void* /*spec*/) {
        add(key, {{"type", "object"},
                  {"propertyNames", {{"pattern", "^[a-z][a-z0-9_]*$"}}},
                  {"additionalProperties", object(named.rows)}});
    }
    void meet(const Key& key, const keys::Listed& listed, const void* /*spec*/) {
        add(key, {{"type", "array"}, {"items", object(listed.rows)}});
    }

  private:
    static ordered_json object(const keys::Rows& rows) {
        SchemaWriter inner;
        keys::walk(rows, static_cast<const void*>(nullptr), inner);
        return {{"type", "object"},
                {"properties", std::move(inner.properties_)},
                {"required", std::move(inner.required_)},
                {"additionalProperties", false}};
    }
    static ordered_json ranged(const Key& key, const char* type) {
        ordered_json number{{"type", type}};
        if (std::isfinite(key.least)) {
            number[key.above_least ? "exclusiveMinimum" : "minimum"] = key.least;
        }
        if (std::isfinite(key.most)) {
            number["maximum"] = key.most;
        }
        return number;
    }
    static ordered_json texts() { return {{"type", "array"}, {"items", {{"type", "string"}}}}; }
    static ordered_json triple(const Key& key) {
        return {{"type", "array"}, {"minItems", 3}, {"maxItems", 3}, {"items", ranged(key, "number")}};
    }
    static ordered_json names_of(keys::Words words) {
        ordered_json all = ordered_json::array();
        for (const keys::Word& word : words) {
            all.push_back(std::string(word.name));
        }
        return all;
    }
    void add(const Key& key, ordered_json schema) {
        std::string meaning(key.meaning);
        meaning += key.unit.empty() ? "" : " (" + std::string(key.unit) + ")";
        if (!key.fallback.empty() && !key.required()) {
            meaning += "; if not said: " + std::string(key.fallback);
        }
        schema["description"] = meaning;
        properties_[std::string(key.name)] = std::move(schema);
        if (key.required()) {
            required_.push_back(std::string(key.name));
        }
    }

    ordered_json properties_ = ordered_json::object();
    ordered_json required_ = ordered_json::array();
};

std::string schema_text(const char* title, const keys::Rows& rows) {
    return SchemaWriter::write(title, rows).dump(2) + "\n";
}

}  // namespace

std::string chart_schema() {
    return schema_text("Cursimeter chart", keys::chart_table().rows);
}
std::string drill_schema() {
    return schema_text("Cursimeter drill", keys::drill_table().rows);
}
std::string controls_schema() {
    return schema_text("Cursimeter controls", keys::controls_table().rows);
}
std::string trials_schema() {
    return schema_text("Cursimeter trials", keys::trials_table().rows);
}
std::string course_schema() {
    return schema_text("Cursimeter course", keys::course_table().rows);
}

}  // namespace cursimeter
