#pragma once

#include <map>
#include <string>
#include <string_view>

namespace cursimeter {

/// A place in a file; both count from 1.
struct SourcePosition {
    int line = 0;
    int column = 0;
    friend bool operator==(const SourcePosition&, const SourcePosition&) = default;
};

/// Where each part of a spec stands in its file, by its path ("states.sprint.enter[2]").
class SourceMap {
  public:
    void set(const std::string& path, SourcePosition position) { positions_[path] = position; }
    /// The position of the path, or of the nearest part around it; line 0 if there is none.
    [[nodiscard]] SourcePosition find(std::string_view path) const;

  private:
    std::map<std::string, SourcePosition, std::less<>> positions_;
};

}  // namespace cursimeter
