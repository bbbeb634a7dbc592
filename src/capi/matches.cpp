#include <fmt/format.h>

#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

#include "capi/server_handle.hpp"

using namespace cursimeter;

namespace {

std::string text_of(const char* text) {
    return text == nullptr ? std::string() : std::string(text);
}

/// The charts that a match holds.
capi::Cast cast_of(const link::Match& match) {
    capi::Cast cast;
    for (std::size_t i = 0; i < match.origin.charts.size(); ++i) {
        cast.charts.push_back({parse_chart(match.origin.charts[i], fmt::format("match: chart {}", i + 1))});
    }
    if (cast.charts.empty()) {
        throw ChartError({{"", "has no charts in it", "record with their texts", "match", 0, 0}});
    }
    cast.others.reserve(match.places);
    return cast;
}

}  // namespace

extern "C" {

cursimeter_status cursimeter_server_record(cursimeter_server* server, const char* course_text,
                                           const char* note, cursimeter_error* error) {
    if (server == nullptr) {
        return capi::bad_argument(error, "server");
    }
    return capi::guarded(error, [&] {
        link::MatchOrigin origin{{}, text_of(course_text), text_of(note)};
        if (!origin.course.empty()) {
            static_cast<void>(parse_course(origin.course, "course_text"));
        }
        for (const cursimeter_chart& chart : server->cast.charts) {
            origin.charts.push_back(format_chart(chart.file.spec));
        }
        auto match = std::make_unique<link::MatchRecorder>(server->server, origin);
        server->server.record(match.get());
        server->match = std::move(match);
        return CURSIMETER_OK;
    });
}

const void* cursimeter_server_recorded(const cursimeter_server* server, size_t* length) {
    const bool records = server != nullptr && server->match != nullptr;
    const std::span<const std::byte> bytes = records ? server->match->bytes() : std::span<const std::byte>();
    if (length != nullptr) {
        *length = bytes.size();
    }
    return bytes.empty() ? nullptr : bytes.data();
}

void cursimeter_server_clear_recorded(cursimeter_server* server) {
    if (server != nullptr && server->match != nullptr) {
        server->match->clear();
    }
}

int cursimeter_server_record_over(const cursimeter_server* server) {
    return server != nullptr && server->match != nullptr && server->match->over() ? 1 : 0;
}

cursimeter_status cursimeter_replay_match(const void* bytes, size_t length,
                                          const cursimeter_advancer* advancer, cursimeter_match_replay* out,
                                          cursimeter_error* error) {
    if (bytes == nullptr) {
        return capi::bad_argument(error, "bytes");
    }
    return capi::guarded(error, [&] {
        const link::Match match = link::read_match(capi::bytes_of(bytes, length), "match");
        capi::Cast cast = cast_of(match);
        capi::CalledAdvancer called(cast, advancer);
        if (!called.ok()) {
            return capi::bad_argument(error, "advancer");
        }
        std::optional<rehearsal::OnCourse> course;
        if (advancer == nullptr && !match.origin.course.empty()) {
            course.emplace(parse_course(match.origin.course, "match: course"), cast.list(), match.tick_rate);
        }
        link::Advancer& world = course ? static_cast<link::Advancer&>(*course) : called;
        link::MatchPlayer player(match, cast.list());
        cursimeter_match_replay told = CURSIMETER_MATCH_REPLAY_INIT;
        std::string first;
        while (player.next(world)) {
            ++told.ticks;
            told.runners = std::max(told.runners, player.runners().size());
            told.differing += player.differences().size();
            if (first.empty() && !player.differences().empty()) {
                const link::MatchDifference& one = player.differences().front();
                first = fmt::format("tick {}: the runner in place {} came out otherwise", one.tick.value,
                                    one.runner.place);
            }
        }
        told.seconds = static_cast<double>(told.ticks) / match.tick_rate;
        if (out != nullptr && !capi::hand_out(told, out)) {
            return capi::bad_argument(error, "out");
        }
        return first.empty() ? CURSIMETER_OK : capi::fail(error, CURSIMETER_NO, first.c_str());
    });
}

}  // extern "C"
