#pragma once

#include <cstdint>
#include <filesystem>
#include <string>

namespace cursimeter {

/// What has become of a file since it was last asked about.
enum class FileNews : std::uint8_t {
    none,   ///< nothing, or it is still gone
    saved,  ///< it was written, replaced, or is there again
    gone,   ///< it is no longer there; told once
};

/// A file that somebody may save at any time, as an author does in an editor while the game runs. Tells by the time and the size in the
/// file's entry whether that has happened, without opening it. For one thread; copies are independent.
///
/// Make it before you read the file: what is saved while it is read is then told by the next question. An editor that writes in
/// pieces is reported more than once. Two saves of one length within one step of the file system's clock (milliseconds) are one.
class SavedFile {
  public:
    explicit SavedFile(std::filesystem::path file);
    [[nodiscard]] const std::filesystem::path& file() const { return file_; }
    /// Asks the file system once, so a game may ask in each frame.
    [[nodiscard]] FileNews news();
    /// The file's text. Throws ChartError as `read_whole_file` does; the next question is then answered by `saved` if the file is there,
    /// since what kept it from being read may be over, and its entry does not tell.
    [[nodiscard]] std::string read();

  private:
    struct Entry {
        bool there = false;
        std::filesystem::file_time_type time{};
        std::uintmax_t size = 0;
        friend bool operator==(const Entry&, const Entry&) = default;
    };
    [[nodiscard]] Entry entry() const;

    std::filesystem::path file_;
    Entry seen_;
};

}  // namespace cursimeter
