#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/values.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// A chart whose numbers are turned while it runs, and the file that it came from.
namespace cursimeter::tryout {

/// A number that is not as the file says.
struct ChangedValue {
    std::string path, unit;
    std::optional<double> saved, now;  ///< empty where nobody says it
};

/// Turning, undoing and saving. Reads and writes no files: text in, text out. What is refused throws ChartError and
/// changes nothing.
class Tuning {
  public:
    /// Steps that can be undone.
    static constexpr std::size_t most_steps = 200;

    /// `name` stands for the file in messages.
    Tuning(std::string text, std::string name);

    [[nodiscard]] const ChartSpec& spec() const { return spec_; }
    [[nodiscard]] const Chart& chart() const { return chart_; }
    /// As the file has it.
    [[nodiscard]] const ChartFile& saved() const { return saved_; }
    [[nodiscard]] const std::string& saved_text() const { return text_; }
    [[nodiscard]] const std::string& name() const { return name_; }
    /// Grows with each change of `chart`, by whatever way.
    [[nodiscard]] std::uint64_t edition() const { return edition_; }
    /// All numbers as they are now.
    [[nodiscard]] const std::vector<survey::ChartValue>& values() const { return values_; }
    /// Those whose path or meaning has all the words (letters in lower case, separated by spaces), in the chart's order.
    [[nodiscard]] std::vector<const survey::ChartValue*> find(std::string_view words) const;

    /// Turns one number. Turns of one number in a row are one step for `undo`, until `end_turn`.
    void set(const std::string& path, double value);
    void end_turn() { turning_.clear(); }
    bool undo();
    bool redo();
    [[nodiscard]] bool can_undo() const { return !undone_.empty(); }
    [[nodiscard]] bool can_redo() const { return !redone_.empty(); }
    /// Back to what the file says: one number, or all. A step that can be undone. Returns whether anything was different.
    bool revert(const std::string& path);
    bool revert_all();

    [[nodiscard]] const std::vector<ChangedValue>& changed() const { return changed_; }
    [[nodiscard]] bool is_changed(const std::string& path) const;

    /// The file's text with the numbers as they are now: comments, order and layout stay. Throws if a number cannot be
    /// written into it (a list that a state takes over).
    [[nodiscard]] std::string text_to_save() const;
    /// It has been written: this is what the file says from now on.
    void mark_saved(std::string text);
    /// The file was written by somebody else. What was turned here and not saved stays turned, where the number is still
    /// there; returns the paths of numbers that are not. Throws ChartError if the text is no sound chart: then all is
    /// as it was.
    std::vector<std::string> take_in(std::string text);

  private:
    void put(ChartSpec spec);
    void find_changes();
    bool exchange(std::vector<ChartSpec>& last_of, std::vector<ChartSpec>& kept_in);
    void remember(const std::string& path);

    std::string text_, name_;
    ChartFile saved_;
    ChartSpec spec_;
    Chart chart_;
    std::vector<survey::ChartValue> values_, saved_values_;
    std::vector<ChangedValue> changed_;
    std::vector<ChartSpec> undone_, redone_;  ///< what to go back to, the next one last
    std::string turning_;                     ///< the path that is being turned
    std::uint64_t edition_ = 0;
};

}  // namespace cursimeter::tryout
