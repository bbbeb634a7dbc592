#include "text/junit.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "text/escaped.hpp"

namespace cursimeter::tool {

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
