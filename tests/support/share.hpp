#pragma once

#include <algorithm>
#include <cstdlib>

namespace support {

/// Of a test with many cases only some are tried where each takes ten times as long: under the address sanitizer each fourth
/// (CURSIMETER_TEST_SHARE=4 in its test preset). Without, all are.
inline unsigned test_share() {
    const char* const share = std::getenv("CURSIMETER_TEST_SHARE");
    return share != nullptr ? std::max(1U, static_cast<unsigned>(std::strtoul(share, nullptr, 10))) : 1U;
}

/// Which cases are tried, asked once for each: the first, and from then on each fourth or all.
class Share {
  public:
    [[nodiscard]] bool takes() { return count_++ % test_share() == 0; }

  private:
    unsigned count_ = 0;
};

/// How many of `count` repetitions are made.
inline unsigned share_of(unsigned count) {
    return std::max(1U, count / test_share());
}

}  // namespace support
