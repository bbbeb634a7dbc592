#include <fmt/format.h>

#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/diagnostics.hpp>

#include "files/files.hpp"
#include "window/session.hpp"

/// What a session reads and writes while it runs.
namespace cursimeter::tool {

bool Session::save() {
    try {
        look_at_files(true);  // others may have saved in the same moment
        std::error_code unknown;
        const bool gone = !std::filesystem::exists(chart_file_, unknown);
        if (!file_errors_.empty() && !gone) {
            tell("not saved: the file has errors of its own now; mend them first", true);
            return false;
        }
        const std::string text = tuning.text_to_save();
        write_text(chart_file_, text);
        tuning.mark_saved(text);
        static_cast<void>(chart_saved_.news());  // that was this session itself
        file_errors_.clear();
        written_.push_back(chart_file_);
        tell("saved " + chart_file_);
        return true;
    } catch (const ChartError& error) {
        tell(std::string("not saved: ") + error.what(), true);
        return false;
    }
}

void Session::look_at_files(bool closely) {
    const FileNews news = chart_saved_.news();
    if (news == FileNews::gone) {
        file_errors_ = chart_file_ + ": is gone; saving writes it again";
    }
    std::error_code unknown;
    if (news != FileNews::saved && !(closely && std::filesystem::exists(chart_file_, unknown))) {
        return;
    }
    try {
        std::string text = chart_saved_.read();
        if (text == tuning.saved_text()) {
            file_errors_.clear();
            return;
        }
        const std::vector<std::string> lost = tuning.take_in(std::move(text));
        file_errors_.clear();
        tell(lost.empty()
                 ? "taken in: " + chart_file_
                 : fmt::format("taken in: {}; no longer there: {}", chart_file_, fmt::join(lost, ", ")));
        use_tuned_chart();
    } catch (const ChartError& error) {
        file_errors_ = error.what();
    }
}

bool Session::save_controls() {
    const std::string file = controls_file_.empty() ? fresh_file("controls", ".toml") : controls_file_;
    try {
        write_text(file, format_controls(controls_spec_));
        controls_file_ = file;
        written_.push_back(file);
        tell(fmt::format("saved {}; next time: --controls {}", file, file));
        return true;
    } catch (const ChartError& error) {
        tell(std::string("not saved: ") + error.what(), true);
        return false;
    }
}

/// "demo/charts/bearer.played-2.take": the first number that is free.
std::string Session::fresh_file(const std::string& what, const std::string& ending) const {
    std::filesystem::path stem(chart_file_);
    for (const char* part : {".toml", ".chart"}) {
        if (stem.extension() == part) {
            stem.replace_extension();
        }
    }
    for (int number = 1;; ++number) {
        const std::string file = fmt::format("{}.{}-{}{}", stem.string(), what, number, ending);
        std::error_code unknown;  // a folder that cannot be read: writing will say so
        if (!std::filesystem::exists(file, unknown)) {
            return file;
        }
    }
}

void Session::save_drill(tryout::Moment since) {
    try {
        const std::string file = fresh_file("played", ".drill.toml");
        write_text(file, format_drill(play.drill_since(since, "played by hand")));
        written_.push_back(file);
        if (course_file_.empty()) {  // the yard is written down once
            course_file_ = fresh_file("yard", ".course.toml");
            write_text(course_file_, format_course(play.course()->spec()));
            written_.push_back(course_file_);
        }
        const bool changed = play.history().chart_since(play.now()) > since || !tuning.changed().empty();
        tell(fmt::format("saved {}; see it by: cursimeter run {} --drill {} --course {} --rate {:g}{}", file,
                         chart_file_, file, course_file_, rate_,
                         changed ? "; it was played with other numbers than the file's" : ""));
    } catch (const ChartError& error) {
        tell(std::string("not saved: ") + error.what(), true);
    }
}

void Session::save_take(tryout::Moment since) {
    try {
        const std::string file = fresh_file("played", ".take");
        const tryout::PlayedTake take = play.take_since(since, tuning.spec(), "played by hand");
        write_text(file, {reinterpret_cast<const char*>(take.bytes.data()), take.bytes.size()});
        written_.push_back(file);
        tell(fmt::format("saved {}: {} ticks{}; see it by: cursimeter replay {}", file, take.ticks,
                         take.since > since ? ", since the chart was changed last" : "", file));
    } catch (const ChartError& error) {
        tell(std::string("not saved: ") + error.what(), true);
    }
}

}  // namespace cursimeter::tool
