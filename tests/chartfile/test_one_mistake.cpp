#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <regex>

using namespace cursimeter;

namespace {

/// A number in a chart's text, and the key before it.
struct Number {
    std::size_t key, key_length, value, value_length;
    int line;
};

std::vector<Number> numbers_in(const std::string& text) {
    std::vector<Number> numbers;
    const std::regex pattern("([a-z_]+) *= *(-?[0-9.]+)");
    for (std::sregex_iterator at(text.begin(), text.end(), pattern), end; at != end; ++at) {
        const auto place = [&](std::size_t group) { return static_cast<std::size_t>(at->position(group)); };
        const std::size_t line_begin = text.rfind('\n', place(0)) + 1;
        if (text.find('#', line_begin) < place(0)) {
            continue;
        }
        numbers.push_back(
            {place(1), static_cast<std::size_t>(at->length(1)), place(2),
             static_cast<std::size_t>(at->length(2)),
             1 + static_cast<int>(std::count(text.begin(), text.begin() + at->position(0), '\n'))});
    }
    return numbers;
}

/// What is wrong with a chart, and the lines of it.
std::vector<Diagnostic> mistakes(const std::string& text) {
    try {
        static_cast<void>(parse_chart(text, "c.toml"));
    } catch (const ChartError& error) {
        return error.diagnostics();
    }
    return {};
}

}  // namespace

TEST_CASE("one mistake in a number or its key is one error, in its line") {
    std::size_t tried = 0;
    for (const char* name : {"bearer", "eel", "gannet", "keeper"}) {
        const std::string text =
            read_whole_file(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/" + name + ".toml");
        REQUIRE(mistakes(text).empty());
        for (const Number& number : numbers_in(text)) {
            for (const char* value : {"-77777777", "1e300", "nan", "\"7\"", "[]"}) {
                std::string wrong = text;
                wrong.replace(number.value, number.value_length, value);
                const std::vector<Diagnostic> told = mistakes(wrong);
                std::string all;
                for (const Diagnostic& diagnostic : told) {
                    all += diagnostic.text() + "\n";
                }
                CAPTURE(name, number.line, text.substr(number.key, number.key_length), value, all);
                CHECK(told.size() == 1);
                CHECK((told.empty() || told.front().line == number.line));
                ++tried;
            }
            std::string wrong = text;
            wrong.insert(number.key + 1, "q");
            const std::vector<Diagnostic> told = mistakes(wrong);
            std::string all;
            for (const Diagnostic& diagnostic : told) {
                all += diagnostic.text() + "\n";
            }
            CAPTURE(name, number.line, text.substr(number.key, number.key_length), all);
            CHECK(told.size() == 1);
            CHECK((told.empty() || told.front().line == number.line));
        }
    }
    CHECK(tried > 800);
}
