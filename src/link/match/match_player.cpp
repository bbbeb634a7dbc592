#include <fmt/format.h>

#include <cursimeter/link/match.hpp>
#include <stdexcept>

#include "link/match/match_coding.hpp"
#include "link/neighbours.hpp"
#include "link/wire/exact_runner.hpp"
#include "link/wire/messages.hpp"

namespace cursimeter::link {

struct MatchPlayer::Work {
    /// A place for a runner.
    struct Place {
        bool used = false;
        std::uint16_t life = 0;
        std::uint8_t chart = 0;
        std::optional<SeatId> owner;
        Runner runner;
        Report report;
        StatedIntent intent;
        wire::IntentModels models;
    };

    Work(const Match& m, std::vector<Chart> given)
        : match(m), charts(std::move(given)), neighbours(m.places), places(m.places) {}

    [[nodiscard]] RunnerKey key(std::size_t i) const {
        return {static_cast<std::uint16_t>(i), places[i].life};
    }
    [[nodiscard]] const Place& at(RunnerKey key) const {
        if (key.place >= places.size() || !places[key.place].used || places[key.place].life != key.life) {
            throw std::out_of_range("there is no runner with this key now");
        }
        return places[key.place];
    }
    [[noreturn]] void refuse(const std::string& what) const {
        throw ChartError({{fmt::format("tick {}", played + 1), what, "the match is damaged", {}, 0, 0}});
    }
    void take_runner(wire::Reader& reader, Place& place) const {
        if (!wire::read_runner(reader, charts[place.chart], place.runner)) {
            refuse("has a runner that its chart cannot have");
        }
    }
    void take_changes(wire::Reader& reader);
    void play(wire::Reader& reader, Advancer& advancer);

    const Match& match;
    std::vector<Chart> charts;
    Neighbours neighbours;
    std::vector<Place> places;
    match::Models models;
    Tick now;
    std::uint32_t played = 0;  ///< ticks
    std::vector<MatchDifference> differences;
};

void MatchPlayer::Work::take_changes(wire::Reader& reader) {
    std::uint32_t from = 0;
    for (bool more = false;;) {
        reader.bit(models.more, more);
        if (!more) {
            return;
        }
        match::Change change;
        match::code(reader, models, change, from);
        if (change.place < from || change.place >= places.size() || change.chart >= charts.size()) {
            refuse("has a runner in a place that there is not");
        }
        from = change.place + 1;
        Place& place = places[change.place];
        if (change.what != match::What::begins && !place.used) {
            refuse("changes a runner that is not there");
        }
        if (change.what == match::What::begins) {
            place.chart = change.chart;
            place.life = change.life;
            place.owner = change.owner;
            place.intent = {};
            place.report = {};
            place.runner = spawn(charts[place.chart]);
        }
        place.used = change.what != match::What::gone;
        if (place.used) {
            take_runner(reader, place);
        }
    }
}

void MatchPlayer::Work::play(wire::Reader& reader, Advancer& advancer) {
    bool whole = false;
    match::code_head(reader, models, now.value, now.value, whole);
    take_changes(reader);
    neighbours.clear();
    for (std::size_t i = 0; advancer.wants_others() && i < places.size(); ++i) {
        if (places[i].used) {
            neighbours.add(key(i), charts[places[i].chart], places[i].runner);
        }
    }
    const Seconds dt{1.0 / match.tick_rate};
    for (std::size_t i = 0; i < places.size(); ++i) {
        Place& place = places[i];
        if (!place.used) {
            continue;
        }
        StatedIntent intent;
        wire::code_intent(reader, place.models, intent, place.intent);
        intent.held &= actions_below(charts[place.chart].action_count());
        place.intent = intent;
        const PlayedIntent wanted(intent, dt.value);
        neighbours.around(i, [&](std::span<const Neighbour> others) {
            place.report = advancer.advance_runner(charts[place.chart], place.runner, wanted.intent(),
                                                   {now, dt, key(i), false, intent.extra.bytes(), others});
        });
        const std::uint64_t came_out = digest(place.runner);
        std::uint32_t told = 0;
        reader.bits(told, match::told_digest_bits);
        bool differs = told != match::short_digest(came_out);
        if (whole) {
            take_runner(reader, place);
            differs = digest(place.runner) != came_out;
        }
        if (differs) {
            differences.push_back({now, key(i)});
        }
    }
}

MatchPlayer::MatchPlayer(const Match& match, std::vector<Chart> charts) {
    for (std::size_t i = 0; i < std::max(charts.size(), match.chart_digests.size()); ++i) {
        if (i >= charts.size() || i >= match.chart_digests.size() ||
            charts[i].digest() != match.chart_digests[i]) {
            throw ChartError({{fmt::format("chart {}", i),
                               "is not the match's",
                               fmt::format("give the {} charts that it was recorded with, in their order",
                                           match.chart_digests.size()),
                               {},
                               0,
                               0}});
        }
    }
    work_ = std::make_unique<Work>(match, std::move(charts));
}
MatchPlayer::~MatchPlayer() = default;
MatchPlayer::MatchPlayer(MatchPlayer&&) noexcept = default;
MatchPlayer& MatchPlayer::operator=(MatchPlayer&&) noexcept = default;

bool MatchPlayer::next(Advancer& advancer) {
    Work& w = *work_;
    w.differences.clear();
    if (w.played == w.match.ticks) {
        return false;
    }
    const Match::Block& block = w.match.blocks[w.played];
    wire::Reader reader(std::span(w.match.bytes).subspan(block.begin, block.size));
    w.play(reader, advancer);
    ++w.played;
    return true;
}

Tick MatchPlayer::now() const {
    return work_->now;
}
std::vector<RunnerKey> MatchPlayer::runners() const {
    std::vector<RunnerKey> keys;
    for (std::size_t i = 0; i < work_->places.size(); ++i) {
        if (work_->places[i].used) {
            keys.push_back(work_->key(i));
        }
    }
    return keys;
}
const Runner& MatchPlayer::runner(RunnerKey key) const {
    return work_->at(key).runner;
}
const Chart& MatchPlayer::chart(RunnerKey key) const {
    return work_->charts[work_->at(key).chart];
}
std::size_t MatchPlayer::chart_index(RunnerKey key) const {
    return work_->at(key).chart;
}
std::optional<SeatId> MatchPlayer::owner(RunnerKey key) const {
    return work_->at(key).owner;
}
const Report& MatchPlayer::report(RunnerKey key) const {
    return work_->at(key).report;
}
std::span<const MatchDifference> MatchPlayer::differences() const {
    return work_->differences;
}

}  // namespace cursimeter::link
