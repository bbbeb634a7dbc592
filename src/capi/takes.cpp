#include <fmt/format.h>

#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/survey/take.hpp>

#include "capi/boundary.hpp"
#include "capi/intents.hpp"

using namespace cursimeter;

struct cursimeter_recorder {
    survey::TakeRecorder recorder;
};

extern "C" {

cursimeter_status cursimeter_recorder_new(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                          const char* chart_text, const char* note, cursimeter_recorder** out,
                                          cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (chart == nullptr || runner == nullptr || out == nullptr) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : runner == nullptr ? "runner" : "out");
    }
    return capi::guarded(error, [&] {
        const survey::TakeOrigin origin{
            chart_text == nullptr ? "" : chart_text, {}, note == nullptr ? "" : note};
        *out = new cursimeter_recorder{{chart->file.chart, *capi::Borrowed(runner), origin}};
        return CURSIMETER_OK;
    });
}

void cursimeter_recorder_free(cursimeter_recorder* recorder) {
    delete recorder;
}

cursimeter_status cursimeter_record_begin(cursimeter_recorder* recorder, const cursimeter_runner* runner,
                                          const cursimeter_intent* intent, double seconds) {
    capi::ReadIntent read;
    if (recorder == nullptr || runner == nullptr || !read.take_in(intent)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return recorder->recorder.begin(*capi::Borrowed(runner), read.intent(), Seconds{seconds}) ? CURSIMETER_OK
                                                                                              : CURSIMETER_NO;
}

cursimeter_status cursimeter_record_end(cursimeter_recorder* recorder, const cursimeter_runner* runner) {
    if (recorder == nullptr || runner == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return recorder->recorder.end(*capi::Borrowed(runner)) ? CURSIMETER_OK : CURSIMETER_NO;
}

const void* cursimeter_recorder_bytes(const cursimeter_recorder* recorder, size_t* length) {
    const auto bytes = recorder == nullptr ? std::span<const std::byte>() : recorder->recorder.bytes();
    if (length != nullptr) {
        *length = bytes.size();
    }
    return bytes.data();
}

void cursimeter_recorder_clear(cursimeter_recorder* recorder) {
    if (recorder != nullptr) {
        recorder->recorder.clear();
    }
}

cursimeter_status cursimeter_replay_take(const void* bytes, size_t length, cursimeter_replay* out,
                                         cursimeter_error* error) {
    if (bytes == nullptr) {
        return capi::bad_argument(error, "bytes");
    }
    return capi::guarded(error, [&] {
        const survey::Take take = survey::read_take({static_cast<const std::byte*>(bytes), length}, "take");
        if (take.origin.chart.empty()) {
            throw ChartError({{"", "has no chart in it", "record with its text", "take", 0, 0}});
        }
        const ChartFile chart = parse_chart(take.origin.chart, "take: chart");
        std::optional<Course> course;
        if (!take.origin.course.empty()) {
            course = parse_course(take.origin.course, "take: course");
        }
        const survey::Replay again = survey::replay(take, chart.chart, course ? &*course : nullptr);
        const cursimeter_replay told{0, again.ticks, again.differing, again.seconds, again.digest};
        if (out != nullptr && !capi::hand_out(told, out)) {
            return capi::bad_argument(error, "out");
        }
        return again.first ? capi::fail(error, CURSIMETER_NO,
                                        fmt::format("tick {}, at {} s: {} was {} and is {}",
                                                    again.first->tick, again.first->at, again.first->field,
                                                    again.first->recorded, again.first->replayed)
                                            .c_str())
                           : CURSIMETER_OK;
    });
}

}  // extern "C"
