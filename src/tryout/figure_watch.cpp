#include <algorithm>
#include <cmath>
#include <condition_variable>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/tryout/figure_watch.hpp>
#include <map>
#include <mutex>
#include <optional>
#include <thread>

namespace cursimeter::tryout {
namespace {

bool differ(double a, double b) {
    if (std::isnan(a) || std::isnan(b)) {
        return std::isnan(a) != std::isnan(b);
    }
    return std::fabs(a - b) > 1e-6 * std::max({1e-3, std::fabs(a), std::fabs(b)});
}

}  // namespace

struct FigureWatch::Work {
    mutable std::mutex mutex;
    std::condition_variable asked;
    struct Question {
        ChartSpec before, after;
    };
    std::optional<Question> next;
    Answer answer;
    bool ends = false;
    std::thread thread;

    [[nodiscard]] bool is_old() const {
        const std::lock_guard lock(mutex);
        return ends || next.has_value();
    }

    /// Those of the chart that all are compared with stay the same for many questions.
    ChartSpec known_spec;
    std::map<std::string, survey::Figure> known;
    const survey::Figure* before_of(const ChartSpec& spec, const std::string& name) {
        if (known.empty() || !(known_spec == spec)) {
            known.clear();
            known_spec = spec;
        }
        auto found = known.find(name);
        if (found == known.end()) {
            survey::Figure figure;
            figure.value = std::nan("");
            try {
                figure = survey::figure(spec, name);
            } catch (const ChartError&) {  // a figure that the other chart has not
            }
            found = known.emplace(name, std::move(figure)).first;
        }
        return &found->second;
    }

    void work_off(const Question& question) {
        Answer found;
        try {
            for (const std::string& name : survey::figure_names(question.after)) {
                if (name.ends_with(".best_average")) {
                    continue;
                }
                if (is_old()) {
                    return;
                }
                const survey::Figure after = survey::figure(question.after, name);
                const double before = before_of(question.before, name)->value;
                ++found.figures;
                if (differ(before, after.value)) {
                    found.changes.push_back({name, after.unit, after.meaning, before, after.value});
                }
            }
        } catch (const ChartError&) {  // a chart that does not compile has no figures
        }
        const std::lock_guard lock(mutex);
        if (!next) {
            found.whole = true;
        }
        answer = std::move(found);
    }

    void run() {
        while (true) {
            Question question;
            {
                std::unique_lock lock(mutex);
                asked.wait(lock, [&] { return ends || next.has_value(); });
                if (ends) {
                    return;
                }
                question = std::move(*next);
                next.reset();
            }
            work_off(question);
        }
    }
};

FigureWatch::FigureWatch() : work_(std::make_unique<Work>()) {
    work_->thread = std::thread([work = work_.get()] { work->run(); });
}

FigureWatch::~FigureWatch() {
    {
        const std::lock_guard lock(work_->mutex);
        work_->ends = true;
    }
    work_->asked.notify_one();
    work_->thread.join();
}

void FigureWatch::ask(const ChartSpec& before, const ChartSpec& after) {
    {
        const std::lock_guard lock(work_->mutex);
        work_->next = Work::Question{before, after};
        work_->answer.whole = false;
    }
    work_->asked.notify_one();
}

FigureWatch::Answer FigureWatch::answer() const {
    const std::lock_guard lock(work_->mutex);
    return work_->answer;
}

}  // namespace cursimeter::tryout
