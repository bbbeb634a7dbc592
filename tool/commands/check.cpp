#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/check.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "scene/scene.hpp"
#include "text/check_output.hpp"

namespace cursimeter::tool {
namespace {

using survey::Finding;
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

/// Writes the drills, and returns their names in the order of the findings; empty where there is none.
std::vector<std::string> write_proofs(const std::string& file, const std::vector<Finding>& findings,
                                      CallFiles files) {
    std::vector<std::string> names(findings.size());
    std::size_t proofs = 0;
    files.outputs.clear();
    for (std::size_t i = 0; i < findings.size(); ++i) {
        if (findings[i].proof && (proofs == 0 || !is_standard_output(file))) {
            names[i] = proof_name(file, proofs++);
            files.outputs.push_back({"--proof", names[i], FileKind::drill});
        }
    }
    check_files(files);  // the numbered names too belong to nobody else
    for (std::size_t i = 0; i < findings.size(); ++i) {
        if (!names[i].empty()) {
            write_text(names[i], format_drill(*findings[i].proof));
        }
    }
    return names;
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

int check_command(const CheckOptions& options) {
    const CallFiles files{
        {{"CHART", options.chart}}, {{"--proof", options.proof, FileKind::drill}}, options.json};
    check_files(files);
    const ChartFile chart = open_chart(options.chart);
    std::vector<Finding> findings = survey::check(chart.spec);
    survey::prove(chart.spec, findings);
    const std::vector<std::string> proofs = options.proof.empty()
                                                ? std::vector<std::string>(findings.size())
                                                : write_proofs(options.proof, findings, files);
    bool wrong = false;
    for (const Finding& finding : findings) {
        wrong = wrong || finding.severity != Severity::advice;
    }
    if (options.json) {
        using nlohmann::ordered_json;
        ordered_json json{{"chart", chart.spec.name}, {"sound", !wrong}, {"findings", ordered_json::array()}};
        for (std::size_t i = 0; i < findings.size(); ++i) {
            const Finding& finding = findings[i];
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
        fmt::print("{}\n", json.dump(2));
        return wrong ? 1 : 0;
    }
    std::FILE* const to = text_stream(files);
    fmt::print(to, "{}", findings_text(shown_name(options.chart), chart, findings, proofs));
    fmt::print(to, "{}: {}\n", chart.spec.name,
               findings.empty() ? fmt::format("sound: {} states, nothing to find", chart.spec.states.size())
                                : counts_text(findings));
    if (!options.proof.empty() &&
        std::all_of(proofs.begin(), proofs.end(), [](const auto& name) { return name.empty(); })) {
        fmt::print(to, "no drill shows any of it: {} was not written\n", options.proof);
    }
    return wrong ? 1 : 0;
}

}  // namespace cursimeter::tool
