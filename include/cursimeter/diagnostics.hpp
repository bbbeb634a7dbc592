#pragma once

#include <cstddef>
#include <span>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace cursimeter {

/// One thing that is wrong with a chart, a drill or a call, and how to mend it.
struct Diagnostic {
    /// Where in the spec: "states.sprint.enter[2]". Also the key by which a file's reader finds the
    /// line.
    std::string path;
    std::string what;  ///< what is wrong
    std::string mend;  ///< what would be right
    std::string file;  ///< empty for a spec that was built in C++
    int line = 0;      ///< from 1; 0 where there is no file
    int column = 0;    ///< from 1
    /// Paths of the values that it compares or misses. If one of them is wrong by itself, this might only follow from it, and
    /// is left out. "*.speed" is the speed of any state: another may have been like that one.
    std::vector<std::string> rests_on{};

    /// "bearer.toml:12:9", "bearer.toml" or, without a file, "".
    [[nodiscard]] std::string place() const;
    /// "states.sprint.gain.up: what; mend".
    [[nodiscard]] std::string message() const;
    /// "bearer.toml:12:9: states.sprint.gain.up: what; mend".
    [[nodiscard]] std::string text() const;
    friend bool operator==(const Diagnostic&, const Diagnostic&) = default;
};

/// How many diagnostics a ChartError lists; one more then says how many are left out.
inline constexpr std::size_t most_diagnostics = 50;

/// The one exception of loading and compiling. It carries every diagnostic, not only the first, up to
/// `most_diagnostics`. Their texts are safe to print: control characters that a file held are spelt out as `\xNN`, and the
/// middle of a text of more than 400 letters is left out.
class ChartError : public std::runtime_error {
  public:
    explicit ChartError(std::vector<Diagnostic> diagnostics);
    [[nodiscard]] const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }

  private:
    struct Tidy {
        std::vector<Diagnostic> diagnostics;
    };
    explicit ChartError(Tidy tidied);
    std::vector<Diagnostic> diagnostics_;
};

/// The candidate that is spelt most like `name`, or an empty view if none is near (more than about a
/// third of the letters differ). For messages.
[[nodiscard]] std::string_view nearest_name(std::string_view name, std::span<const std::string> candidates);

}  // namespace cursimeter
