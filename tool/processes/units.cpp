#include "processes/units.hpp"

#include <cmath>
#include <cstring>
#include <cursimeter/chartfile/drill_file.hpp>
#include <nlohmann/json.hpp>
#include <stdexcept>
#include <type_traits>

namespace cursimeter::tool {
namespace {

using nlohmann::json;

/// JSON has no NaN; every other number comes back bit for bit.
json number_json(double value) {
    return std::isnan(value) ? json() : json(value);
}
double number_of(const json& value) {
    return value.is_null() ? std::nan("") : value.get<double>();
}
json list(const std::vector<double>& values) {
    json all = json::array();
    for (const double value : values) {
        all.push_back(number_json(value));
    }
    return all;
}
std::vector<double> list_of(const json& values) {
    std::vector<double> all;
    for (const json& value : values) {
        all.push_back(number_of(value));
    }
    return all;
}

/// Writes plain bytes, one thing after another, and reads them again. Long sweeps hand in many rows a second.
class Bytes {
  public:
    Bytes() = default;
    explicit Bytes(std::string bytes) : bytes_(std::move(bytes)) {}

    template <class T>
    void add(T value) {
        static_assert(std::is_trivially_copyable_v<T>);
        bytes_.append(reinterpret_cast<const char*>(&value), sizeof(value));
    }
    void add(const std::vector<double>& values) {
        add(values.size());
        bytes_.append(reinterpret_cast<const char*>(values.data()), values.size() * sizeof(double));
    }
    void add(const std::string& text) {
        add(text.size());
        bytes_ += text;
    }
    [[nodiscard]] bool at_end() const { return at_ >= bytes_.size(); }
    template <class T>
    T take() {
        T value{};
        std::memcpy(&value, part(sizeof(value)), sizeof(value));
        return value;
    }
    std::vector<double> take_numbers() {
        std::vector<double> values(take<std::size_t>());
        if (!values.empty()) {
            std::memcpy(values.data(), part(values.size() * sizeof(double)), values.size() * sizeof(double));
        }
        return values;
    }
    std::string take_text() {
        const auto size = take<std::size_t>();
        return {part(size), size};
    }
    [[nodiscard]] std::string all() && { return std::move(bytes_); }

  private:
    const char* part(std::size_t size) {
        const std::size_t begin = at_;
        at_ += size;
        if (at_ > bytes_.size()) {
            throw std::runtime_error("a message between processes was cut short");
        }
        return bytes_.data() + begin;
    }
    std::string bytes_;
    std::size_t at_ = 0;
};

}  // namespace

std::string bytes_of(const std::vector<double>& numbers) {
    Bytes bytes;
    bytes.add(numbers);
    return std::move(bytes).all();
}
std::vector<double> numbers_of(const std::string& bytes) {
    return Bytes(bytes).take_numbers();
}

std::string bytes_of(const std::vector<survey::SweepRow>& rows) {
    Bytes bytes;
    for (const survey::SweepRow& row : rows) {
        bytes.add(row.at);
        bytes.add(row.values);
        bytes.add(row.trouble);
    }
    return std::move(bytes).all();
}
std::vector<survey::SweepRow> rows_of(const std::string& text) {
    std::vector<survey::SweepRow> rows;
    for (Bytes bytes(text); !bytes.at_end();) {
        survey::SweepRow& row = rows.emplace_back();
        row.at = bytes.take_numbers();
        row.values = bytes.take_numbers();
        row.trouble = bytes.take_text();
    }
    return rows;
}

std::string bytes_of(const survey::Judged& judged) {
    json verdicts = json::array(), wrong = json::array();
    for (const survey::Verdict& one : judged.verdicts) {
        verdicts.push_back({one.expect, one.said, one.kept, number_json(one.at), one.instead, one.why});
    }
    for (const Diagnostic& one : judged.wrong) {
        wrong.push_back({one.path, one.what, one.mend});
    }
    return json{verdicts, wrong}.dump();
}
survey::Judged judged_of(const std::string& bytes) {
    const json all = json::parse(bytes);
    survey::Judged judged;
    for (const json& one : all[0]) {
        judged.verdicts.push_back({one[0].get<std::size_t>(), one[1].get<std::string>(), one[2].get<bool>(),
                                   number_of(one[3]), one[4].get<std::string>(), one[5].get<std::string>()});
    }
    for (const json& one : all[1]) {
        judged.wrong.push_back(
            {one[0].get<std::string>(), one[1].get<std::string>(), one[2].get<std::string>(), {}, 0, 0});
    }
    return judged;
}

std::string bytes_of(const SeedSearch& search) {
    json all{{"seed", search.seed},
             {"arrivals", search.found.arrivals},
             {"ticks", search.found.ticks},
             {"stopped", search.found.stopped}};
    if (search.found.way) {
        const survey::FoundWay& way = *search.found.way;
        all["way"] = {{"seconds", way.seconds},
                      {"drill", format_drill(way.drill)},
                      {"rates", list(way.rates)},
                      {"missed", list(way.missed)}};
    }
    return all.dump();
}
SeedSearch search_of(const std::string& bytes, const Chart& chart) {
    const json all = json::parse(bytes);
    SeedSearch search;
    search.seed = all["seed"].get<std::uint64_t>();
    search.found.arrivals = all["arrivals"].get<std::size_t>();
    search.found.ticks = all["ticks"].get<std::uint64_t>();
    search.found.stopped = all["stopped"].get<bool>();
    if (all.contains("way")) {
        const json& way = all["way"];
        search.found.way = {way["seconds"].get<double>(),
                            parse_drill(way["drill"].get<std::string>(), "way", chart).spec,
                            list_of(way["rates"]), list_of(way["missed"])};
    }
    return search;
}

}  // namespace cursimeter::tool
