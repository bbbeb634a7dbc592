#include "text/junit.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace cursimeter::tool {
namespace {

/// For an attribute. What XML cannot hold at all becomes a question mark.
std::string escaped(const std::string& text) {
    std::string safe;
    for (const char c : text) {
        switch (c) {
            case '&':
                safe += "&amp;";
                break;
            case '<':
                safe += "&lt;";
                break;
            case '>':
                safe += "&gt;";
                break;
            case '"':
                safe += "&quot;";
                break;
            default:
                safe += static_cast<unsigned char>(c) < 0x20 ? '?' : c;
        }
    }
    return safe;
}

}  // namespace

std::string junit_text(const std::vector<TestSuite>& suites) {
    std::string text = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites>\n";
    for (const TestSuite& suite : suites) {
        const auto failures = std::count_if(suite.cases.begin(), suite.cases.end(),
                                            [](const TestCase& one) { return one.failed; });
        text += fmt::format("  <testsuite name=\"{}\" tests=\"{}\" failures=\"{}\">\n", escaped(suite.name),
                            suite.cases.size(), failures);
        for (const TestCase& one : suite.cases) {
            text += fmt::format("    <testcase classname=\"{}\" name=\"{}\"", escaped(suite.name),
                                escaped(one.name));
            text += one.failed ? fmt::format(">\n      <failure message=\"{}\"/>\n    </testcase>\n",
                                             escaped(one.failure))
                               : "/>\n";
        }
        text += "  </testsuite>\n";
    }
    return text + "</testsuites>\n";
}

}  // namespace cursimeter::tool
