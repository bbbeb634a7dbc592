#include <cmath>
#include <cursimeter/chartfile/schema.hpp>
#include <nlohmann/json.hpp>

#include "core/chart/chart_keys.hpp"
#include "course/course_keys.hpp"
#include "drill/drill_keys.hpp"

namespace cursimeter {
namespace {

using keys::Key;
using nlohmann::ordered_json;

/// The visitor that writes the table of keys as a schema.
class SchemaWriter {
  public:
    template <class Spec, class Describe>
    static ordered_json write(const char* title, Describe describe) {
        ordered_json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", title}};
        ordered_json format{{"description", std::string(keys::format_key.meaning)}, {"const", 1}};
        schema.update(object<Spec>(describe));
        schema["properties"]["format"] = std::move(format);
        schema["required"].insert(schema["required"].begin(), "format");
        return schema;
    }

    template <class Value>
    void number(const Key& key, const Value& /*value*/) {
        add(key, ranged(key, "number"));
    }
    template <class Value>
    void angle(const Key& key, const Value& /*value*/) {
        add(key, ranged(key, "number"));
    }
    void count(const Key& key, int /*value*/) { add(key, ranged(key, "integer")); }
    template <class Value>
    void truth(const Key& key, const Value& /*value*/) {
        add(key, {{"type", "boolean"}});
    }
    void numbers(const Key& key, const std::optional<std::vector<double>>& /*value*/) {
        add(key, {{"type", "array"}, {"items", ranged(key, "number")}});
    }
    template <class Value>
    void text(const Key& key, const Value& /*value*/) {
        add(key, {{"type", "string"}});
    }
    template <class Value>
    void names(const Key& key, const Value& /*value*/) {
        add(key, texts());
    }
    template <class Value, class Names>
    void choice(const Key& key, const Value& /*value*/, const Names& choices) {
        add(key, {{"enum", words(choices)}});
    }
    template <class Value, class Names>
    void choices(const Key& key, const Value& /*value*/, const Names& all) {
        add(key, {{"type", "array"}, {"items", {{"enum", words(all)}}}});
    }
    void condition(const Key& key, const std::optional<Condition>& /*value*/) {
        add(key, {{"type", "array"},
                  {"anyOf", ordered_json::array({{{"items", {{"type", "string"}}}}, {{"items", texts()}}})}});
    }
    void curve(const Key& key, const std::optional<std::vector<CurvePoint>>& /*value*/) {
        add(key, {{"type", "array"},
                  {"minItems", 2},
                  {"maxItems", limits::curve_points},
                  {"items",
                   {{"type", "array"}, {"minItems", 2}, {"maxItems", 2}, {"items", {{"type", "number"}}}}}});
    }
    void rates(const Key& key, const std::vector<RateSpec>& /*value*/) {
        add(key, {{"type", "object"}, {"additionalProperties", ranged(key, "number")}});
    }
    void vector3(const Key& key, const std::array<double, 3>& /*value*/) { add(key, triple(key)); }
    void points(const Key& key, const std::vector<std::array<double, 3>>& /*value*/) {
        add(key, {{"type", "array"}, {"items", triple(key)}});
    }
    template <class Spec, class Describe>
    void table(const Key& key, const Spec& /*spec*/, Describe describe) {
        add(key, object<Spec>(describe));
    }
    template <class Spec, class Describe>
    void table(const Key& key, const std::optional<Spec>& /*spec*/, Describe describe) {
        add(key, object<Spec>(describe));
    }
    template <class Spec, class Describe>
    void each(const Key& key, const std::vector<Spec>& /*list*/, Describe describe) {
        add(key, {{"type", "object"},
                  {"propertyNames", {{"pattern", "^[a-z][a-z0-9_]*$"}}},
                  {"additionalProperties", object<Spec>(describe)}});
    }
    template <class Spec, class Describe>
    void list(const Key& key, const std::vector<Spec>& /*list*/, Describe describe) {
        add(key, {{"type", "array"}, {"items", object<Spec>(describe)}});
    }

  private:
    template <class Spec, class Describe>
    static ordered_json object(Describe describe) {
        SchemaWriter inner;
        const Spec spec{};
        describe(inner, spec);
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
    template <class Names>
    static ordered_json words(const Names& choices) {
        ordered_json all = ordered_json::array();
        for (const auto& choice : choices) {
            all.push_back(std::string(choice.name));
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

template <class Spec, class Describe>
std::string schema_text(const char* title, Describe describe) {
    return SchemaWriter::write<Spec>(title, describe).dump(2) + "\n";
}

}  // namespace

std::string chart_schema() {
    return schema_text<ChartSpec>("Cursimeter chart", [](auto& v, auto& s) { keys::describe_chart(v, s); });
}
std::string drill_schema() {
    return schema_text<DrillSpec>("Cursimeter drill", [](auto& v, auto& s) { keys::describe_drill(v, s); });
}
std::string course_schema() {
    return schema_text<CourseSpec>("Cursimeter course",
                                   [](auto& v, auto& s) { keys::describe_course(v, s); });
}

}  // namespace cursimeter
