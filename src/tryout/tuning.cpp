#include <algorithm>
#include <cctype>
#include <cursimeter/chartfile/chart_edit.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/tryout/tuning.hpp>
#include <sstream>

namespace cursimeter::tryout {
namespace {

std::string lower(std::string_view text) {
    std::string letters(text);
    std::transform(letters.begin(), letters.end(), letters.begin(),
                   [](unsigned char letter) { return static_cast<char>(std::tolower(letter)); });
    return letters;
}

const survey::ChartValue* find_value(const std::vector<survey::ChartValue>& values, std::string_view path) {
    const auto found = std::find_if(values.begin(), values.end(),
                                    [&](const survey::ChartValue& value) { return value.path == path; });
    return found != values.end() ? &*found : nullptr;
}

}  // namespace

Tuning::Tuning(std::string text, std::string name)
    : text_(std::move(text)),
      name_(std::move(name)),
      saved_(parse_chart(text_, name_)),
      spec_(saved_.spec),
      chart_(saved_.chart),
      values_(survey::chart_values(spec_)),
      saved_values_(values_) {}

std::vector<const survey::ChartValue*> Tuning::find(std::string_view words) const {
    std::vector<std::string> wanted;
    std::istringstream in(lower(words));
    for (std::string word; in >> word;) {
        wanted.push_back(word);
    }
    std::vector<const survey::ChartValue*> found;
    for (const survey::ChartValue& value : values_) {
        const std::string text = lower(value.path + " " + value.meaning);
        if (std::all_of(wanted.begin(), wanted.end(),
                        [&](const std::string& word) { return text.find(word) != std::string::npos; })) {
            found.push_back(&value);
        }
    }
    return found;
}

void Tuning::put(ChartSpec spec) {
    Chart chart = compile(spec);  // throws before anything is changed
    spec_ = std::move(spec);
    chart_ = chart;
    values_ = survey::chart_values(spec_);
    find_changes();
    ++edition_;
}

void Tuning::remember(const std::string& path) {
    if (path.empty() || turning_ != path) {
        undone_.push_back(spec_);
        if (undone_.size() > most_steps) {
            undone_.erase(undone_.begin());
        }
    }
    turning_ = path;
    redone_.clear();
}

void Tuning::set(const std::string& path, double value) {
    ChartSpec spec = spec_;
    survey::set_chart_value(spec, path, value);
    if (spec == spec_) {
        return;
    }
    static_cast<void>(compile(spec));
    remember(path);
    put(std::move(spec));
}

bool Tuning::undo() {
    return exchange(undone_, redone_);
}

bool Tuning::redo() {
    return exchange(redone_, undone_);
}

/// Goes to the last of some specs, and keeps the present one among the others.
bool Tuning::exchange(std::vector<ChartSpec>& last_of, std::vector<ChartSpec>& kept_in) {
    if (last_of.empty()) {
        return false;
    }
    kept_in.push_back(spec_);
    ChartSpec spec = std::move(last_of.back());
    last_of.pop_back();
    put(std::move(spec));
    turning_.clear();
    return true;
}

bool Tuning::revert(const std::string& path) {
    if (!is_changed(path)) {
        return false;
    }
    // Every number that differs but this one, put into the file's own spec: what it does not say, it does not say again.
    ChartSpec spec = saved_.spec;
    for (const ChangedValue& change : changed()) {
        if (change.path != path && change.now) {
            survey::set_chart_value(spec, change.path, *change.now);
        }
    }
    static_cast<void>(compile(spec));
    remember({});
    put(std::move(spec));
    return true;
}

bool Tuning::revert_all() {
    if (spec_ == saved_.spec) {
        return false;
    }
    remember({});
    put(saved_.spec);
    return true;
}

void Tuning::find_changes() {
    changed_.clear();
    for (const survey::ChartValue& value : values_) {
        const survey::ChartValue* saved = find_value(saved_values_, value.path);
        const std::optional<double> before = saved != nullptr ? saved->value : std::nullopt;
        // Numbers that a state takes over by `like` change with those of the other: they are not turned themselves.
        const bool own = value.said || (saved != nullptr && saved->said);
        if (own && before != value.value) {
            changed_.push_back({value.path, value.unit, before, value.value});
        }
    }
}

bool Tuning::is_changed(const std::string& path) const {
    return std::any_of(changed_.begin(), changed_.end(),
                       [&](const ChangedValue& change) { return change.path == path; });
}

std::string Tuning::text_to_save() const {
    std::vector<NumberEdit> edits;
    for (const ChangedValue& change : changed()) {
        if (change.now) {
            edits.push_back({change.path, *change.now});
        }
    }
    std::string text = edit_chart_text(text_, name_, edits);
    if (parse_chart(text, name_).chart.digest() != chart_.digest()) {
        throw ChartError({{"", "the numbers cannot be written into this file without changing more",
                           "undo the last step, or write them by hand", name_, 0, 0}});
    }
    return text;
}

void Tuning::mark_saved(std::string text) {
    saved_ = parse_chart(text, name_);
    text_ = std::move(text);
    saved_values_ = survey::chart_values(saved_.spec);
    find_changes();
    turning_.clear();
    ++edition_;
}

std::vector<std::string> Tuning::take_in(std::string text) {
    ChartFile file = parse_chart(text, name_);
    std::vector<std::string> lost;
    ChartSpec spec = file.spec;
    for (const ChangedValue& change : changed()) {
        ChartSpec turned = spec;
        try {
            if (change.now) {
                survey::set_chart_value(turned, change.path, *change.now);
                static_cast<void>(compile(turned));
                spec = std::move(turned);
            }
        } catch (const ChartError&) {
            lost.push_back(change.path);
        }
    }
    saved_ = std::move(file);
    text_ = std::move(text);
    saved_values_ = survey::chart_values(saved_.spec);
    undone_.clear();
    redone_.clear();
    turning_.clear();
    put(std::move(spec));
    return lost;
}

}  // namespace cursimeter::tryout
