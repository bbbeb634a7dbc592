#include <cursimeter/chartfile/live_chart.hpp>
#include <memory>

#include "capi/boundary.hpp"

struct cursimeter_live_chart {
    cursimeter::LiveChart live;
};

using namespace cursimeter;

extern "C" {

cursimeter_status cursimeter_live_chart_new(const char* file, cursimeter_live_chart** out,
                                            cursimeter_chart** chart, cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (chart != nullptr) {
        *chart = nullptr;
    }
    if (file == nullptr || out == nullptr || chart == nullptr) {
        return capi::bad_argument(error, file == nullptr ? "file" : out == nullptr ? "out" : "chart");
    }
    return capi::guarded(error, [&] {
        auto made = std::make_unique<cursimeter_live_chart>(cursimeter_live_chart{LiveChart(file)});
        *chart = new cursimeter_chart{made->live.file()};
        *out = made.release();
        return CURSIMETER_OK;
    });
}

void cursimeter_live_chart_free(cursimeter_live_chart* live) {
    delete live;
}

cursimeter_status cursimeter_live_chart_take_in(cursimeter_live_chart* live, cursimeter_chart** next,
                                                cursimeter_error* error) {
    if (next != nullptr) {
        *next = nullptr;
    }
    if (live == nullptr || next == nullptr) {
        return capi::bad_argument(error, live == nullptr ? "live" : "next");
    }
    return capi::guarded(error, [&] {
        if (live->live.take_in()) {
            *next = new cursimeter_chart{live->live.file()};
            return CURSIMETER_OK;
        }
        capi::keep(error, live->live.mistakes());
        return CURSIMETER_NO;
    });
}

}  // extern "C"
