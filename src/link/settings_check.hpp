#pragma once

#include <fmt/format.h>

#include <cursimeter/link/protocol.hpp>
#include <vector>

#include "link/wire/messages.hpp"

namespace cursimeter::link {

/// Gathers what is wrong with settings, so that all of it is told at once.
class SettingsCheck {
  public:
    void range(const char* key, double value, double least, double most, const char* mend) {
        if (!(value >= least && value <= most)) {
            findings_.push_back({key, fmt::format("{} is out of range", value), mend, {}, 0, 0});
        }
    }
    /// Numbers that the game must choose.
    void chosen(const char* key, std::uint64_t value, const char* mend) {
        if (value == 0) {
            findings_.push_back({key, "is 0", mend, {}, 0, 0});
        }
    }
    /// Settings that need a build that can seal.
    void sealable(const char* key, bool given) {
        if (given && !can_seal()) {
            findings_.push_back({key,
                                 "this build cannot seal",
                                 "build with libsodium (CURSIMETER_SODIUM=ON), or leave it out",
                                 {},
                                 0,
                                 0});
        }
    }
    void number_of_charts(const std::vector<Chart>& charts) {
        range("charts", static_cast<double>(charts.size()), 1.0, static_cast<double>(wire::most_charts),
              "give 1 to 16 charts");
    }
    /// What server and client settings have in common.
    void shared(const std::vector<Chart>& charts, double tick_rate, std::size_t runners, Seconds silence) {
        number_of_charts(charts);
        range("tick_rate", tick_rate, 10.0, 1000.0, "10 to 1000 ticks a second");
        range("runners", static_cast<double>(runners), 1.0, 1024.0, "1 to 1024");
        range("silence", silence.value, 0.1, 3600.0, "0.1 to 3600 s");
    }
    /// Throws ChartError if anything is wrong.
    void finish() {
        if (!findings_.empty()) {
            throw ChartError(std::move(findings_));
        }
    }

  private:
    std::vector<Diagnostic> findings_;
};

}  // namespace cursimeter::link
