#pragma once

#include <array>
#include <cursimeter/tryout/figure_watch.hpp>
#include <cursimeter/tryout/tuning.hpp>
#include <string>

namespace cursimeter::panels {

/// Every number of a chart, to be turned while it runs.
class TuningPanel {
  public:
    struct Choice {
        bool changed = false;  ///< the chart is another one: put it to work
        bool save = false;     ///< saving is wanted
    };
    Choice show(tryout::Tuning& tuning);

    /// A line below the buttons, until the next turn: that the file was written, or what went wrong.
    void tell(std::string text, bool wrong = false);
    /// Puts the keyboard into the search.
    void search() { take_focus_ = true; }
    /// What is searched for.
    void look_for(const std::string& words);

  private:
    bool show_value(tryout::Tuning& tuning, const survey::ChartValue& value);
    void show_figures(tryout::Tuning& tuning);

    std::array<char, 128> words_{};
    bool all_ = false;  ///< also numbers that the chart does not say
    bool take_focus_ = false;
    std::string told_;
    bool told_wrong_ = false;
    tryout::FigureWatch figures_;
    std::uint64_t asked_edition_ = 0;
    bool asked_ = false;
};

}  // namespace cursimeter::panels
