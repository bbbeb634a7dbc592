#include "scene/trials.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "files/files.hpp"
#include "scene/cautions.hpp"

namespace cursimeter::tool {
namespace {

namespace fs = std::filesystem;

/// A file that another names, from that one's folder on.
std::string beside(const std::string& file, const std::string& named) {
    return (fs::path(file).parent_path() / named).lexically_normal().string();
}

std::vector<std::string> trials_files_in(const std::string& folder) {
    std::vector<std::string> found;
    constexpr fs::directory_options options = fs::directory_options::skip_permission_denied;
    for (const fs::directory_entry& entry : fs::recursive_directory_iterator(folder, options)) {
        const std::string file = entry.path().string();
        if (entry.is_regular_file() && ending_of(file) == ".toml" &&
            kind_of_file(read_text(file)) == FileKind::trials) {
            found.push_back(file);
        }
    }
    std::sort(found.begin(), found.end());
    return found;
}

std::string bounds_text(const FigureBoundsSpec& bounds, const std::string& unit) {
    const std::string of_unit = unit.empty() ? "" : " " + unit;
    if (bounds.least && bounds.most) {
        return fmt::format("{} from {:g} to {:g}{}", bounds.name, *bounds.least, *bounds.most, of_unit);
    }
    return bounds.least ? fmt::format("{} at least {:g}{}", bounds.name, *bounds.least, of_unit)
                        : fmt::format("{} at most {:g}{}", bounds.name, *bounds.most, of_unit);
}

/// A figure meets a bound to this part of it: bounds are written with few digits.
constexpr double bound_width = 1e-9;

bool is_within(const FigureBoundsSpec& bounds, double value) {
    const double width = bound_width * std::max(1.0, std::fabs(value));
    return std::isfinite(value) && (!bounds.least || value >= *bounds.least - width) &&
           (!bounds.most || value <= *bounds.most + width);
}

/// The files of one key that are there; the others are told with the place that names them.
std::vector<std::string> files_of(const std::string& file, const SourceMap& sources, const std::string& path,
                                  const std::vector<std::string>& named, std::vector<Diagnostic>& wrong) {
    std::vector<std::string> found;
    for (std::size_t i = 0; i < named.size(); ++i) {
        const std::string other = beside(file, named[i]);
        if (fs::exists(other)) {
            found.push_back(other);
            continue;
        }
        const std::string item =
            named.size() == 1 && !path.ends_with('s') ? path : fmt::format("{}[{}]", path, i + 1);
        const SourcePosition at = sources.find(item);
        wrong.push_back({item, fmt::format("there is no file '{}'", other),
                         "files are named from the folder of the trials file on", shown_name(file), at.line,
                         at.column});
    }
    return found;
}

}  // namespace

bool names_trials(const std::string& file) {
    std::error_code ignored;
    const bool is_there = file == standard_stream || fs::exists(file, ignored);
    return fs::is_directory(file, ignored) || (is_there && kind_of_file(read_text(file)) == FileKind::trials);
}

std::size_t Trial::kept() const {
    std::size_t count = 0;
    for (std::size_t i = 0; i < drill.spec.expects.size(); ++i) {
        count += std::all_of(verdicts.begin(), verdicts.end(),
                             [&](const std::vector<survey::Verdict>& rated) { return rated[i].kept; })
                     ? 1
                     : 0;
    }
    return count;
}

Trials::Trials(const std::string& chart, const std::string& drill, const std::string& course,
               std::vector<double> rates) {
    add(chart, drill, course, rates);
    refuse_mistakes();
}

Trials::Trials(const std::string& file_or_folder, std::vector<double> rates) {
    if (fs::is_directory(file_or_folder)) {
        const std::vector<std::string> files = trials_files_in(file_or_folder);
        if (files.empty()) {
            throw ChartError({{"", "is a folder without any trials file",
                               "write one: see docs/trials-reference.md", file_or_folder, 0, 0}});
        }
        for (const std::string& file : files) {
            read(file, rates);
        }
    } else {
        read(file_or_folder, rates);
    }
    refuse_mistakes();
}

void Trials::read(const std::string& file, const std::vector<double>& rates) {
    try {
        files_.push_back(file);
        const TrialsFile all = parse_trials(read_text(file), shown_name(file));
        for (std::size_t i = 0; i < all.spec.trials.size(); ++i) {
            read_trial(file, all, i, rates);
        }
        for (std::size_t i = 0; i < all.spec.figures.size(); ++i) {
            read_figure(file, all, i);
        }
    } catch (const ChartError& error) {
        note(error);
    }
}

void Trials::read_trial(const std::string& file, const TrialsFile& all, std::size_t index,
                        const std::vector<double>& rates) {
    const TrialSpec& spec = all.spec.trials[index];
    const std::string path = fmt::format("trial[{}]", index + 1);
    const auto found = [&](const char* key, const std::vector<std::string>& named) {
        return files_of(file, all.sources, path + key, named, wrong_);
    };
    const std::vector<std::string> charts = found(".charts", spec.charts);
    const std::vector<std::string> drills = found(".drills", spec.drills);
    std::vector<std::string> courses = found(".courses", spec.courses);
    if (spec.courses.empty()) {
        courses.emplace_back();
    }
    for (const std::string& chart : charts) {
        for (const std::string& drill : drills) {
            for (const std::string& course : courses) {
                add(chart, drill, course, rates.empty() ? spec.rates : rates);
            }
        }
    }
}

void Trials::read_figure(const std::string& file, const TrialsFile& all, std::size_t index) {
    const FigureBoundsSpec& bounds = all.spec.figures[index];
    const std::string path = fmt::format("figure[{}]", index + 1);
    const SourcePosition at = all.sources.find(path);
    const Course* course = nullptr;
    if (bounds.course) {
        const std::vector<std::string> courses =
            files_of(file, all.sources, path + ".course", {*bounds.course}, wrong_);
        course = courses.empty() ? nullptr : course_of(courses.front());
        if (course == nullptr) {
            return;
        }
    }
    for (const std::string& chart : files_of(file, all.sources, path + ".charts", bounds.charts, wrong_)) {
        const ChartFile* const loaded = chart_of(chart);
        if (loaded == nullptr) {
            continue;
        }
        try {
            FigureTrial trial{loaded->spec.name, {}, shown_name(file), at, {}, true};
            trial.figure = survey::figure(loaded->spec, bounds.name, course);
            trial.said = bounds_text(bounds, trial.figure.unit);
            trial.kept = is_within(bounds, trial.figure.value);
            figures_.push_back(std::move(trial));
        } catch (const ChartError& error) {
            const SourcePosition named = all.sources.find(path + ".name");
            for (const Diagnostic& told : error.diagnostics()) {
                wrong_.push_back({path + ".name", fmt::format("of {}: {}: {}", chart, told.path, told.what),
                                  told.mend, shown_name(file), named.line, named.column});
            }
        }
    }
}

void Trials::add(const std::string& chart, const std::string& drill, const std::string& course,
                 const std::vector<double>& rates) {
    const ChartFile* const loaded = chart_of(chart);
    const Course* const world = course.empty() ? nullptr : course_of(course);
    if (loaded == nullptr || (world == nullptr && !course.empty())) {
        return;
    }
    try {
        Trial trial{loaded->spec.name,
                    shown_name(drill),
                    world != nullptr ? world->spec().name : "",
                    loaded,
                    world,
                    open_drill(drill, loaded->chart),
                    rates};
        if (std::find(files_.begin(), files_.end(), drill) == files_.end()) {
            files_.push_back(drill);
        }
        if (world != nullptr) {
            const glm::dvec3 at = trial.drill.drill.spawn(loaded->chart).position();
            for (const std::string& caution : cautions_of(loaded->chart, *world, at)) {
                fmt::print(stderr, "{}: caution: {}\n", shown_name(course), caution);
            }
        }
        if (trial.drill.spec.expects.empty()) {
            wrong_.push_back({"expect", "is missing: nothing is expected of this drill",
                              "add [[expect]] tables; --record proposes some", shown_name(drill), 0, 0});
        }
        trials_.push_back(std::move(trial));
    } catch (const ChartError& error) {
        note(error);
    }
}

template <class Loaded>
const Loaded* Trials::loaded(std::map<std::string, std::optional<Loaded>>& all, const std::string& file,
                             Loaded (*open)(const std::string&)) {
    const auto [place, fresh] = all.try_emplace(file);
    if (fresh) {
        files_.push_back(file);
        try {
            place->second.emplace(open(file));
        } catch (const ChartError& error) {
            note(error);
        }
    }
    return place->second ? &*place->second : nullptr;
}

const ChartFile* Trials::chart_of(const std::string& file) {
    return loaded(charts_, file, open_chart);
}

const Course* Trials::course_of(const std::string& file) {
    return loaded(courses_, file, open_course);
}

void Trials::note(const ChartError& error) {
    for (const Diagnostic& diagnostic : error.diagnostics()) {
        if (std::find(wrong_.begin(), wrong_.end(), diagnostic) == wrong_.end()) {
            wrong_.push_back(diagnostic);
        }
    }
}

void Trials::refuse_mistakes() {
    if (!wrong_.empty()) {
        throw ChartError(std::move(wrong_));
    }
}

std::vector<survey::TrialRun> Trials::runs() const {
    std::vector<survey::TrialRun> runs;
    for (const Trial& trial : trials_) {
        for (const double rate : trial.rates) {
            runs.push_back({&trial.chart->spec, &trial.drill.spec, trial.course, rate});
        }
    }
    return runs;
}

void Trials::take(std::vector<survey::Judged> judged) {
    std::size_t next = 0;
    for (Trial& trial : trials_) {
        for (std::size_t i = 0; i < trial.rates.size(); ++i) {
            survey::Judged& one = judged[next++];
            for (Diagnostic& diagnostic : one.wrong) {
                if (diagnostic.path.starts_with("expect[")) {  // the mistake is the drill's
                    const SourcePosition at = trial.drill.sources.find(diagnostic.path);
                    diagnostic.file = trial.drill_file;
                    diagnostic.line = at.line;
                    diagnostic.column = at.column;
                }
            }
            if (!one.wrong.empty()) {
                note(ChartError(std::move(one.wrong)));
            }
            trial.verdicts.push_back(std::move(one.verdicts));
        }
    }
    refuse_mistakes();
}

bool Trials::kept() const {
    return std::all_of(trials_.begin(), trials_.end(),
                       [](const Trial& trial) { return trial.kept() == trial.drill.spec.expects.size(); }) &&
           std::all_of(figures_.begin(), figures_.end(), [](const FigureTrial& one) { return one.kept; });
}

std::vector<std::string> Trials::files() const {
    return files_;
}

}  // namespace cursimeter::tool
