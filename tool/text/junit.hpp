#pragma once

#include <string>
#include <vector>

namespace cursimeter::tool {

struct TestCase {
    std::string name;
    std::string failure;  ///< what was instead
    bool failed = false;
};
struct TestSuite {
    std::string name;
    std::vector<TestCase> cases;
};

/// Test results in the XML that build servers read.
[[nodiscard]] std::string junit_text(const std::vector<TestSuite>& suites);

}  // namespace cursimeter::tool
