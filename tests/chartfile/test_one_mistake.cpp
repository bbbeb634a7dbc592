#include <algorithm>
#include <array>
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

/// What is told, for messages of tests.
std::string all_of(const std::vector<Diagnostic>& told) {
    std::string all;
    for (const Diagnostic& diagnostic : told) {
        all += diagnostic.text() + "\n";
    }
    return all;
}

/// Places of the words in a text that a pattern finds, comments apart.
std::vector<std::size_t> words_in(const std::string& text, const std::string& pattern) {
    std::vector<std::size_t> places;
    const std::regex expression(pattern);
    for (std::sregex_iterator at(text.begin(), text.end(), expression), end; at != end; ++at) {
        const auto place = static_cast<std::size_t>(at->position(1));
        const std::size_t line_begin = text.rfind('\n', place) + 1;
        if (text.find('#', line_begin) > place) {
            places.push_back(place);
        }
    }
    return places;
}

constexpr std::array<const char*, 4> charts{"bearer", "eel", "gannet", "keeper"};
std::string text_of(const std::string& chart) {
    return read_whole_file(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/" + chart + ".toml");
}

}  // namespace

TEST_CASE("one mistake in a number or its key is one error, in its line") {
    std::size_t tried = 0;
    for (const std::string name : charts) {
        const std::string text = text_of(name);
        REQUIRE(mistakes(text).empty());
        for (const Number& number : numbers_in(text)) {
            for (const char* value : {"-77777777", "1e300", "nan", "\"7\"", "[]"}) {
                std::string wrong = text;
                wrong.replace(number.value, number.value_length, value);
                const std::vector<Diagnostic> told = mistakes(wrong);
                CAPTURE(name, number.line, text.substr(number.key, number.key_length), value, all_of(told));
                CHECK(told.size() == 1);
                CHECK((told.empty() || told.front().line == number.line));
                ++tried;
            }
            std::string wrong = text;
            wrong.insert(number.key + 1, "q");
            const std::vector<Diagnostic> told = mistakes(wrong);
            CAPTURE(name, number.line, text.substr(number.key, number.key_length), all_of(told));
            CHECK(told.size() == 1);
            CHECK((told.empty() || told.front().line == number.line));
        }
    }
    CHECK(tried > 800);
}

TEST_CASE("one wrong number in a list is one error, in its line") {
    std::size_t tried = 0;
    for (const std::string name : charts) {
        const std::string text = text_of(name);
        for (const std::size_t place : words_in(text, "[\\[,] *(-?[0-9.]+)(?= *[\\],])")) {
            const std::size_t end = text.find_first_not_of("-.0123456789", place);
            for (const char* value : {"-77777777", "-0.5", "1e300", "nan", "\"7\"", "[]", "true"}) {
                std::string wrong = text;
                wrong.replace(place, end - place, value);
                const std::vector<Diagnostic> told = mistakes(wrong);
                const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<int>(place), '\n');
                CAPTURE(name, line, wrong.substr(place, 20), all_of(told));
                CHECK(told.size() == 1);
                CHECK((told.empty() || told.front().line == line));
                ++tried;
            }
        }
    }
    CHECK(tried > 100);
}

TEST_CASE("one misspelt key, section or word of a choice is one error, in its line") {
    std::size_t tried = 0;
    for (const std::string name : charts) {
        const std::string text = text_of(name);
        // Keys of any value; the first word of a section; words of choices. A name that nobody refers to is no mistake.
        for (const char* pattern : {"([a-z_]+) *= ", "\\[([a-z]+)[.\\]]", "\\[[a-z]+\\.[a-z_]+\\.([a-z]+)",
                                    "(?:kind|law|press|from) *= \"([a-z]+)\""}) {
            for (const std::size_t place : words_in(text, pattern)) {
                for (const bool is_longer : {false, true}) {
                    std::string wrong = text;
                    if (is_longer) {
                        wrong.insert(place + 1, "q");
                    } else {
                        wrong.erase(place + 1, 1);
                    }
                    const std::vector<Diagnostic> told = mistakes(wrong);
                    const auto line =
                        1 + std::count(text.begin(), text.begin() + static_cast<int>(place), '\n');
                    const bool is_name = std::none_of(told.begin(), told.end(), [](const Diagnostic& one) {
                        return one.what == "is not a known key here" ||
                               one.what.find("is not one of the choices") != std::string::npos;
                    });
                    if (is_name) {
                        continue;
                    }
                    CAPTURE(name, line, wrong.substr(place, 20), all_of(told));
                    CHECK(told.size() == 1);
                    CHECK(told.front().line == line);
                    ++tried;
                }
            }
        }
    }
    CHECK(tried > 500);
}
