#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/chartfile/file_kind.hpp>
#include <cursimeter/chartfile/trials_file.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/trial.hpp>
#include <list>
#include <map>
#include <optional>

namespace cursimeter::tool {

/// A chart through a drill, maybe on a course, at some rates.
struct Trial {
    std::string chart_name, drill_file, course_name;  ///< the last is empty on open ground
    const ChartFile* chart = nullptr;
    const Course* course = nullptr;
    DrillFile drill;
    std::vector<double> rates;                             ///< ticks a second
    std::vector<std::vector<survey::Verdict>> verdicts{};  ///< by rate, once it was judged

    /// How many expectations were kept at every rate.
    [[nodiscard]] std::size_t kept() const;
};

/// A figure of a chart, held against its bounds.
struct FigureTrial {
    std::string chart_name, said;  ///< "jump.height from 0.9 to 1.1 m"
    std::string file;              ///< that agrees upon it
    SourcePosition at;
    survey::Figure figure;
    bool kept = true;
};

/// Everything that one call tries. Each file is read once.
class Trials {
  public:
    /// A chart, a drill and maybe a course, named in the call.
    Trials(const std::string& chart, const std::string& drill, const std::string& course,
           std::vector<double> rates);
    /// Trials files, or all those in folders. `rates` stand for those of the files, unless there are none. Throws ChartError with
    /// everything that is wrong with any of the files.
    Trials(const std::string& file_or_folder, std::vector<double> rates);

    /// Every trial at every rate: what is to be judged.
    [[nodiscard]] std::vector<survey::TrialRun> runs() const;
    /// Takes in what came of `runs`. Throws ChartError for terms and legs that are wrong.
    void take(std::vector<survey::Judged> judged);

    [[nodiscard]] const std::list<Trial>& trials() const { return trials_; }
    [[nodiscard]] const std::vector<FigureTrial>& figures() const { return figures_; }
    [[nodiscard]] bool kept() const;
    /// All that were read.
    [[nodiscard]] std::vector<std::string> files() const;

  private:
    void read(const std::string& file, const std::vector<double>& rates);
    void read_trial(const std::string& file, const TrialsFile& all, std::size_t index,
                    const std::vector<double>& rates);
    void read_figure(const std::string& file, const TrialsFile& all, std::size_t index);
    void add(const std::string& chart, const std::string& drill, const std::string& course,
             const std::vector<double>& rates);
    template <class Loaded>
    const Loaded* loaded(std::map<std::string, std::optional<Loaded>>& all, const std::string& file,
                         Loaded (*open)(const std::string&));
    /// Null if it cannot be read, which is noted once.
    const ChartFile* chart_of(const std::string& file);
    const Course* course_of(const std::string& file);
    void note(const ChartError& error);
    void refuse_mistakes();

    std::map<std::string, std::optional<ChartFile>> charts_;
    std::map<std::string, std::optional<Course>> courses_;
    std::list<Trial> trials_;
    std::vector<FigureTrial> figures_;
    std::vector<std::string> files_;
    std::vector<Diagnostic> wrong_;
};

/// Whether a call of `trial` names a trials file or a folder rather than a chart.
[[nodiscard]] bool names_trials(const std::string& file);

}  // namespace cursimeter::tool
