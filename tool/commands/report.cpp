#include <fmt/format.h>
#include <unistd.h>

#include <cmath>
#include <cursimeter/survey/check.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/trial.hpp>
#include <cursimeter/version.hpp>
#include <filesystem>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "picture/diagram.hpp"
#include "picture/map.hpp"
#include "picture/timeline.hpp"
#include "scene/scene.hpp"
#include "text/check_output.hpp"
#include "text/escaped.hpp"
#include "text/figures_output.hpp"
#include "text/trial_output.hpp"

/// One page that needs nothing else: pictures are in it, nothing is fetched, and a policy in its head forbids it.
namespace cursimeter::tool {
namespace {

std::string base64(const std::string& bytes) {
    constexpr std::string_view letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string text;
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t group = 0;
        for (std::size_t k = 0; k < 3; ++k) {
            group = group << 8U | (i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0U);
        }
        for (std::size_t k = 0; k < 4; ++k) {
            text += i + k <= bytes.size() ? letters[group >> (18 - 6 * k) & 63U] : '=';
        }
    }
    return text;
}

/// Draws to a file of its own for a moment and returns what is in it.
template <class Draw>
std::string drawn(const char* name, Draw draw) {
    const std::filesystem::path file =
        std::filesystem::temp_directory_path() / fmt::format("cursimeter_{}_{}.png", ::getpid(), name);
    draw(file.string());
    std::string bytes = read_text(file.string());
    std::filesystem::remove(file);
    return bytes;
}

constexpr std::string_view style = R"css(
body { margin: 0 auto; max-width: 1280px; padding: 24px; background: #fbf9f2; color: #1c2936;
       font: 15px/1.45 "DejaVu Sans", Verdana, sans-serif; }
h1 { font-size: 26px; margin: 0 0 4px; } h2 { font-size: 18px; margin: 34px 0 8px; border-bottom: 2px solid #006699; }
p.under { color: #6b757f; margin: 0; }
nav a { margin-right: 18px; color: #006699; } nav { margin: 14px 0; }
img { width: 100%; height: auto; border: 1px solid #dedad0; }
table { border-collapse: collapse; width: 100%; font-size: 13px; }
th, td { text-align: left; padding: 3px 10px 3px 0; border-bottom: 1px solid #dedad0; vertical-align: top; }
td.n, th.n { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap; }
pre { background: #fffefc; border: 1px solid #dedad0; padding: 10px; overflow-x: auto; font: 12.5px/1.4 "DejaVu Sans Mono", monospace; white-space: pre-wrap; }
)css";

class Page {
  public:
    Page(const Scene& scene, const RunResult& result) : scene_(scene), result_(result) {}

    std::string html() {
        const std::string title = fmt::format("{}: {}", scene_.chart.spec.name, result_.drill);
        text_ = fmt::format(
            "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">\n"
            "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; img-src data:; "
            "style-src "
            "'unsafe-inline'\">\n<title>{}</title>\n<style>{}</style></head>\n<body>\n<h1>{}</h1>\n",
            escaped(title), style, escaped(title));
        text_ += fmt::format(
            "<p class=\"under\">{:g} s at {:g} ticks a second{}, {:.2f} m walked, chart {:016x}, run "
            "{:016x}, cursimeter {}</p>\n",
            result_.run.seconds, result_.rate,
            result_.course ? ", on " + escaped(result_.course->spec().name) : "", result_.run.distance,
            scene_.chart.chart.digest(), result_.run.digest, CURSIMETER_VERSION_TEXT);
        text_ += "<nav>";
        if (result_.course) {
            link("path", "Path");
        }
        link("timeline", "Timeline");
        if (expects_something()) {
            link("expectations", "Expectations");
        }
        link("states", "States");
        link("diagram", "Diagram");
        link("findings", "Findings");
        link("figures", "Figures");
        link("chart", "Chart");
        text_ += "</nav>\n";
        if (result_.course) {
            picture("path", "Path over the course",
                    drawn("map", [&](const std::string& file) { draw_map(result_, file); }), "image/png");
            legs();
        }
        picture("timeline", "Over time",
                drawn("timeline", [&](const std::string& file) { draw_timeline(result_, file); }),
                "image/png");
        if (expects_something()) {
            expectations();
        }
        states();
        picture("diagram", "States and changes", render_dot(diagram_dot(scene_.chart, &result_.run), "svg"),
                "image/svg+xml");
        findings();
        figures();
        chart();
        return text_ + "</body></html>\n";
    }

  private:
    void link(const char* id, const char* name) { text_ += fmt::format("<a href=\"#{}\">{}</a>", id, name); }
    void heading(const char* id, const std::string& name) {
        text_ += fmt::format("<h2 id=\"{}\">{}</h2>\n", id, name);
    }

    void picture(const char* id, const char* name, const std::string& bytes, const char* type) {
        heading(id, name);
        text_ += fmt::format("<img alt=\"{}\" src=\"data:{};base64,{}\">\n", name, type, base64(bytes));
    }

    void legs() {
        text_ +=
            "<table><tr><th>leg</th><th class=\"n\">begun s</th><th class=\"n\">ended s</th><th "
            "class=\"n\">time s</th></tr>\n";
        const auto time = [](double at) {
            return std::isnan(at) ? std::string("-") : fmt::format("{:.3f}", at);
        };
        for (const survey::LegTime& leg : result_.run.legs) {
            text_ += fmt::format(
                "<tr><td>{}</td><td class=\"n\">{}</td><td class=\"n\">{}</td><td class=\"n\">{}</td></tr>\n",
                escaped(leg.name), time(leg.begun), time(leg.ended), time(leg.ended - leg.begun));
        }
        text_ += "</table>\n";
    }

    [[nodiscard]] bool expects_something() const {
        return scene_.drill() != nullptr && !scene_.drill()->spec.expects.empty();
    }
    void expectations() {
        const DrillFile& drill = *scene_.drill();
        const survey::TrialRun run{&scene_.chart.spec, &drill.spec, scene_.world(), scene_.rate};
        const survey::Judged judged = survey::judge_all({&run, 1}, 1).front();
        heading("expectations", "What was agreed");
        for (const Diagnostic& wrong : judged.wrong) {
            text_ += fmt::format("<p>It cannot be judged here: {}</p>\n", escaped(wrong.text()));
        }
        text_ += "<table><tr><th></th><th>expected</th><th>instead</th><th>why</th></tr>\n";
        for (const survey::Verdict& verdict : judged.verdicts) {
            text_ += fmt::format("<tr><td>{}</td><td>{}</td><td>{}</td><td>{}</td></tr>\n",
                                 verdict.kept ? "kept" : "<strong>not kept</strong>", escaped(verdict.said),
                                 verdict.kept ? "" : escaped(instead_text(verdict)), escaped(verdict.why));
        }
        text_ += "</table>\n";
    }

    void states() {
        heading("states", "States of the run");
        text_ +=
            "<table><tr><th class=\"n\">at s</th><th>state</th><th class=\"n\">for s</th><th "
            "class=\"n\">m</th><th>cause</th></tr>\n";
        constexpr std::size_t most = 400;
        for (std::size_t i = 0; i < std::min(result_.run.visits.size(), most); ++i) {
            const survey::Visit& visit = result_.run.visits[i];
            text_ += fmt::format(
                "<tr><td class=\"n\">{:.3f}</td><td>{}</td><td class=\"n\">{:.3f}</td><td "
                "class=\"n\">{:.2f}</td><td>{}</td></tr>\n",
                visit.at, scene_.chart.chart.name(visit.state), visit.seconds, visit.distance,
                escaped(scene_.chart.chart.describe(visit.cause)));
        }
        text_ += "</table>\n";
        if (result_.run.visits.size() > most) {
            text_ += fmt::format("<p class=\"under\">and {} more</p>\n", result_.run.visits.size() - most);
        }
    }

    void findings() {
        heading("findings", "Findings");
        std::vector<survey::Finding> found = survey::check(scene_.chart.spec);
        survey::prove(scene_.chart.spec, found);
        text_ +=
            found.empty()
                ? "<p>The chart is sound: nothing to find.</p>\n"
                : "<pre>" + escaped(findings_text(scene_.chart_name, scene_.chart, found, {})) + "</pre>\n";
    }

    void figures() {
        heading("figures", "Figures");
        text_ +=
            "<table><tr><th>figure</th><th class=\"n\">value</th><th></th><th>what</th><th>how it was "
            "found</th></tr>\n";
        for (const survey::Figure& figure : survey::figures(scene_.chart.spec, scene_.world())) {
            text_ += fmt::format(
                "<tr><td>{}</td><td class=\"n\">{}</td><td>{}</td><td>{}</td><td>{}</td></tr>\n", figure.name,
                figure_text(figure), figure.unit, escaped(figure.meaning), escaped(figure.how));
        }
        text_ += "</table>\n";
    }

    void chart() {
        heading("chart", "Chart");
        text_ += "<pre>" + escaped(scene_.chart_text) + "</pre>\n";
    }

    const Scene& scene_;
    const RunResult& result_;
    std::string text_;
};

}  // namespace

int report_command(const ReportOptions& options) {
    if (ending_of(options.out) != ".html" && !is_standard_output(options.out)) {
        throw ChartError({{"--out", "is no .html file", "end its name in .html", options.out, 0, 0}});
    }
    const CallFiles files{inputs_of(options.scene), {{"--out", options.out, FileKind::html}}};
    check_files(files);
    const Scene scene(options.scene);
    const RunResult result = run_scene(scene);
    write_text(options.out, Page(scene, result).html());
    tell_written(files);
    return 0;
}

}  // namespace cursimeter::tool
