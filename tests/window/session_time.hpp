#pragma once

#include <filesystem>

#include "support/folder.hpp"
#include "window/session.hpp"

/// Sessions of the window, and time that passes in them.
namespace support {

using tool::Session;
using tool::TryOptions;

inline TryOptions options_for(const Folder& folder) {
    const std::string chart = folder.file("bearer.toml");
    std::filesystem::copy_file(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/bearer.toml", chart,
                               std::filesystem::copy_options::overwrite_existing);
    TryOptions options;
    options.chart = chart;
    return options;
}

/// Time in a session, in frames of a 60th.
class Time {
  public:
    explicit Time(Session& session) : session_(session) { session_.run_until(0.0); }
    void pass(double seconds, double frame = 1.0 / 60.0) {
        for (const double end = now_ + seconds; now_ < end - 1e-9;) {
            now_ += frame;
            session_.run_until(now_);
        }
    }
    [[nodiscard]] double now() const { return now_; }

  private:
    Session& session_;
    double now_ = 0.0;
};

}  // namespace support
