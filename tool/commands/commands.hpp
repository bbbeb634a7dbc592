#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "scene/options.hpp"
#include "window/options.hpp"

/// The subcommands. Each returns the exit code: 0 fine, 1 something wrong was found in what it was
/// given to check. An unusable call or input throws ChartError, which main turns into 2.
namespace cursimeter::tool {

struct RunOptions {
    SceneOptions scene;
    std::string trace;            ///< CSV file; empty: none
    std::string take;             ///< take file; empty: none
    std::string picture;          ///< PNG or SVG file; empty: none
    std::string map;              ///< PNG or SVG file; empty: none
    std::string movie;            ///< animated PNG file; empty: none
    std::vector<double> also_at;  ///< ticks a second, for comparison
    bool json = false;
};
int run_command(const RunOptions& options);

struct CheckOptions {
    std::string chart;
    std::string proof;  ///< drill file; empty: none
    std::vector<std::string> requirements;
    double effort = 1.0;  ///< millions of ticks for each requirement
    std::uint64_t seed = 1;
    bool json = false;
};
int check_command(const CheckOptions& options);

struct FiguresOptions {
    std::string chart;
    std::string course;
    std::string compare;
    bool csv = false, json = false;
};
int figures_command(const FiguresOptions& options);

struct WhyOptions {
    SceneOptions scene;
    std::optional<double> at;  ///< s
    std::string state;         ///< empty: all
    bool json = false;
};
int why_command(const WhyOptions& options);

struct TrialOptions {
    SceneOptions scene;
    std::vector<double> rates;  ///< ticks a second
    std::string junit;          ///< XML file; empty: none
    unsigned threads = 0;       ///< 0: as many as there are cores
    bool record = false, json = false, quiet = false;
};
int trial_command(const TrialOptions& options);

struct DrawOptions {
    std::string what;  ///< timeline, path or diagram
    SceneOptions scene;
    std::string out;
};
int draw_command(const DrawOptions& options);

struct SweepOptions {
    std::string chart;
    std::vector<std::string> vary, figures;
    std::string drill, course;  ///< a run whose legs and expectations are figures; empty: none
    double rate = 60.0;         ///< ticks a second of it
    std::string out;            ///< CSV file; empty: none
    std::string picture;        ///< PNG or SVG file; empty: none
    std::optional<std::size_t> sample;
    std::uint64_t seed = 1;
    unsigned threads = 0;
    std::vector<std::string> preferences;  ///< "more jump.height", two of them: only rows that no other beats
    bool sensitivity = false, json = false, quiet = false;
};
int sweep_command(const SweepOptions& options);

struct ScoutOptions {
    SceneOptions scene;              ///< of the drill only the start is read
    std::string start, goal, leg;    ///< empty: not said
    std::optional<double> distance;  ///< m
    bool all_legs = false;
    std::vector<std::string> without, avoid;
    std::vector<std::string> known;  ///< drill files
    double cell = 0.5;               ///< m
    double rate = 50.0;              ///< ticks a second
    double effort = 100.0;           ///< millions of ticks
    std::optional<double> at_most;   ///< s of real time
    std::uint64_t seed = 1;
    std::size_t seeds = 1;  ///< searches, with this many seeds from `seed` on
    unsigned threads = 0;
    std::string compare;                     ///< another chart; empty: none
    std::string out, take, places, picture;  ///< files; empty: none
    bool json = false, quiet = false;
};
int scout_command(const ScoutOptions& options);

struct FitOptions {
    std::string chart;
    std::vector<std::string> want, vary;
    std::optional<double> keep_within;  ///< %
    std::string out;
    bool json = false, quiet = false;
};
int fit_command(const FitOptions& options);

struct ReplayOptions {
    std::string file;                 ///< of a take or of a match
    std::vector<std::string> charts;  ///< empty: its own
    std::optional<std::size_t> runner;
    std::string take;  ///< take file to write; empty: none
    bool json = false;
};
int replay_command(const ReplayOptions& options);

struct ReportOptions {
    SceneOptions scene;
    std::string out;
};
int report_command(const ReportOptions& options);

struct WatchOptions {
    SceneOptions scene;
    unsigned saves = 0;
};
int watch_command(const WatchOptions& options);

/// Opens a window in which a chart is played by hand.
int try_command(const TryOptions& options);

int net_command(const NetOptions& options);

struct ReferenceOptions {
    std::string format;
};
/// Prints docs/chart-reference.md and its like.
int reference_command(const ReferenceOptions& options);
/// Prints the JSON Schema of chart, drill or course files.
/// File formats, and commands whose JSON has a schema.
[[nodiscard]] std::vector<std::string> schema_names();
int schema_command(const ReferenceOptions& options);

struct NewOptions {
    std::string name;
    std::string folder = ".";
    bool game = false;  ///< a whole small game, in a folder of its own
};
int new_command(const NewOptions& options);

}  // namespace cursimeter::tool
