#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/check.hpp>
#include <cursimeter/survey/require.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "scene/scene.hpp"
#include "text/check_output.hpp"

namespace cursimeter::tool {
namespace {

using survey::Decision;
using survey::Finding;
using survey::Ruling;
using survey::Severity;

std::string proof_name(const std::string& file, std::size_t number) {
    if (number == 0) {
        return file;
    }
    const std::filesystem::path path(file);
    return (path.parent_path() /
            fmt::format("{}_{}{}", path.stem().string(), number + 1, path.extension().string()))
        .string();
}

/// Everything that a check tells, the requirements of the chart before those of the call.
struct Checked {
    std::vector<Finding> findings;
    std::vector<Ruling> rulings;
    /// Names of the files with their drills; empty where there is none.
    std::vector<std::string> proofs, breaches;

    [[nodiscard]] bool wrong() const {
        return std::any_of(findings.begin(), findings.end(),
                           [](const Finding& finding) { return finding.severity != Severity::advice; }) ||
               std::any_of(rulings.begin(), rulings.end(),
                           [](const Ruling& ruling) { return ruling.decision == Decision::refuted; });
    }
};

/// Writes the drills, the first to `file` and further ones to numbered names.
void write_drills(const std::string& file, Checked& checked, CallFiles files) {
    std::vector<std::pair<std::string*, const DrillSpec*>> drills;
    for (std::size_t i = 0; i < checked.findings.size(); ++i) {
        if (checked.findings[i].proof) {
            drills.emplace_back(&checked.proofs[i], &*checked.findings[i].proof);
        }
    }
    for (std::size_t i = 0; i < checked.rulings.size(); ++i) {
        if (checked.rulings[i].breach) {
            drills.emplace_back(&checked.breaches[i], &*checked.rulings[i].breach);
        }
    }
    if (is_standard_output(file) && drills.size() > 1) {
        drills.resize(1);
    }
    files.outputs.clear();
    for (std::size_t i = 0; i < drills.size(); ++i) {
        *drills[i].first = proof_name(file, i);
        files.outputs.push_back({"--proof", *drills[i].first, FileKind::drill});
    }
    check_files(files);  // the numbered names too belong to nobody else
    for (const auto& [name, drill] : drills) {
        write_text(*name, format_drill(*drill));
    }
}

/// Rules on one requirement; what is wrong with it is told at `path`, which is a key of the chart's file or an option of the call.
Ruling rule(const CheckOptions& options, const ChartFile& chart, const std::string& text,
            const std::string& path, bool in_chart) {
    survey::RequirePlan plan;
    plan.ticks = static_cast<std::uint64_t>(options.effort * 1e6);
    plan.seed = options.seed;
    try {
        return survey::rule_on(chart.spec, text, plan);
    } catch (const ChartError& error) {
        std::vector<Diagnostic> told = error.diagnostics();
        for (Diagnostic& diagnostic : told) {
            diagnostic.path = path;
            if (in_chart) {
                const SourcePosition at = chart.sources.find(path);
                diagnostic.file = shown_name(options.chart);
                diagnostic.line = at.line;
                diagnostic.column = at.column;
            }
        }
        throw ChartError(std::move(told));
    }
}

/// On those that stand in the chart, and on those of the call.
std::vector<Ruling> rule_on_all(const CheckOptions& options, const ChartFile& chart) {
    constexpr double most_effort = 10'000.0;
    if (!(options.effort > 0.0 && options.effort <= most_effort)) {
        throw ChartError({{"--effort",
                           fmt::format("is {:g} million ticks", options.effort),
                           fmt::format("give more than 0, and {:g} at most", most_effort),
                           {},
                           0,
                           0}});
    }
    std::vector<Ruling> rulings;
    for (std::size_t i = 0; i < chart.spec.requirements.size(); ++i) {
        rulings.push_back(rule(options, chart, chart.spec.requirements[i].that,
                               fmt::format("require[{}].that", i + 1), true));
    }
    for (const std::string& text : options.requirements) {
        rulings.push_back(rule(options, chart, text, "--require", false));
    }
    return rulings;
}

std::string rulings_text(const Checked& checked) {
    std::string text;
    for (std::size_t i = 0; i < checked.rulings.size(); ++i) {
        const Ruling& ruling = checked.rulings[i];
        text += fmt::format("{}: {}\n    {}{}{}\n", to_string(ruling.decision), ruling.requirement,
                            ruling.because, ruling.unless.empty() ? "" : ", unless " + ruling.unless,
                            checked.breaches[i].empty() ? "" : ", by " + checked.breaches[i]);
    }
    return text + (text.empty() ? "" : "\n");
}

std::string counts_text(const std::vector<Finding>& findings) {
    std::size_t counts[3] = {};
    for (const Finding& finding : findings) {
        ++counts[static_cast<std::size_t>(finding.severity)];
    }
    const auto counted = [](std::size_t n, const char* what) {
        return fmt::format("{} {}{}", n, what, n == 1 ? "" : "s");
    };
    return fmt::format("{}, {}, {} of advice", counted(counts[0], "error"), counted(counts[1], "warning"),
                       counts[2]);
}

}  // namespace

std::string findings_text(const std::string& file, const ChartFile& chart,
                          const std::vector<Finding>& findings, const std::vector<std::string>& proofs) {
    std::string text;
    for (std::size_t i = 0; i < findings.size(); ++i) {
        const Finding& finding = findings[i];
        text += fmt::format("{}: {}: {} ({})\n", place_of(file, chart.sources, finding.paths.front()),
                            to_string(finding.severity), finding.what, to_string(finding.kind));
        for (std::size_t k = 1; k < finding.paths.size(); ++k) {
            text += fmt::format("    see {}: {}\n", place_of(file, chart.sources, finding.paths[k]),
                                finding.paths[k]);
        }
        text += fmt::format("    mend: {}\n", finding.mend);
        if (finding.proof) {
            text += fmt::format("    shown in {:g} s: {}{}\n", finding.proof->seconds, finding.shown,
                                i < proofs.size() && !proofs[i].empty() ? ", by " + proofs[i] : "");
        }
        text += "\n";
    }
    return text;
}

namespace {

nlohmann::ordered_json check_json(const ChartFile& chart, const Checked& checked) {
    using nlohmann::ordered_json;
    ordered_json json{{"chart", chart.spec.name},
                      {"sound", !checked.wrong()},
                      {"findings", ordered_json::array()},
                      {"requirements", ordered_json::array()}};
    for (const Finding& finding : checked.findings) {
        ordered_json told{{"severity", to_string(finding.severity)},
                          {"kind", to_string(finding.kind)},
                          {"what", finding.what},
                          {"mend", finding.mend},
                          {"places", ordered_json::array()}};
        for (const std::string& path : finding.paths) {
            const SourcePosition at = chart.sources.find(path);
            told["places"].push_back({{"path", path}, {"line", at.line}, {"column", at.column}});
        }
        if (finding.proof) {
            told["shown"] = finding.shown;
            told["proof"] = format_drill(*finding.proof);
        }
        json["findings"].push_back(std::move(told));
    }
    for (const Ruling& ruling : checked.rulings) {
        ordered_json told{{"requirement", ruling.requirement},
                          {"decision", to_string(ruling.decision)},
                          {"because", ruling.because}};
        if (!ruling.unless.empty()) {
            told["unless"] = ruling.unless;
        }
        if (ruling.breach) {
            told["at"] = ruling.at;
            told["breach"] = format_drill(*ruling.breach);
        }
        json["requirements"].push_back(std::move(told));
    }
    return json;
}

/// "sound: 11 states, nothing to find; of 4 requirements 3 proven, 1 not decided".
std::string summary_text(const ChartFile& chart, const Checked& checked) {
    std::string requirements;
    for (const Decision decision : {Decision::proven, Decision::refuted, Decision::undecided}) {
        const auto count = std::count_if(checked.rulings.begin(), checked.rulings.end(),
                                         [&](const Ruling& ruling) { return ruling.decision == decision; });
        if (count > 0) {
            requirements +=
                fmt::format("{}{} {}", requirements.empty() ? "" : ", ", count, to_string(decision));
        }
    }
    std::string text = !checked.findings.empty() ? counts_text(checked.findings)
                       : checked.wrong()
                           ? "nothing else to find"
                           : fmt::format("sound: {} states, nothing to find", chart.spec.states.size());
    return requirements.empty() ? text
                                : text + fmt::format("; of {} requirement{} {}", checked.rulings.size(),
                                                     checked.rulings.size() == 1 ? "" : "s", requirements);
}

}  // namespace

int check_command(const CheckOptions& options) {
    const CallFiles files{
        {{"CHART", options.chart}}, {{"--proof", options.proof, FileKind::drill}}, options.json};
    check_files(files);
    const ChartFile chart = open_chart(options.chart);
    Checked checked;
    checked.rulings = rule_on_all(options, chart);
    checked.findings = survey::check(chart.spec);
    survey::prove(chart.spec, checked.findings);
    checked.proofs.resize(checked.findings.size());
    checked.breaches.resize(checked.rulings.size());
    if (!options.proof.empty()) {
        write_drills(options.proof, checked, files);
    }
    if (options.json) {
        fmt::print("{}\n", check_json(chart, checked).dump(2));
        return checked.wrong() ? 1 : 0;
    }
    std::FILE* const to = text_stream(files);
    fmt::print(to, "{}{}", findings_text(shown_name(options.chart), chart, checked.findings, checked.proofs),
               rulings_text(checked));
    fmt::print(to, "{}: {}\n", chart.spec.name, summary_text(chart, checked));
    const auto is_empty = [](const std::string& name) { return name.empty(); };
    if (!options.proof.empty() && std::all_of(checked.proofs.begin(), checked.proofs.end(), is_empty) &&
        std::all_of(checked.breaches.begin(), checked.breaches.end(), is_empty)) {
        fmt::print(to, "no drill shows any of it: {} was not written\n", options.proof);
    }
    return checked.wrong() ? 1 : 0;
}

}  // namespace cursimeter::tool
