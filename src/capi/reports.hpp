#pragma once

#include <cursimeter/report.hpp>

#include "capi/boundary.hpp"

/// Reports over the boundary, both ways.
namespace cursimeter::capi {

/// What an event is about, as a list of the chart.
cursimeter_list list_of(EventSubject subject) noexcept;
/// Whether a report can be written: null, or with its size.
inline bool has_report_size(const cursimeter_report* report) noexcept {
    return report == nullptr || report->size >= sizeof(cursimeter_report);
}
cursimeter_event told_of(const Event& event) noexcept;
/// Writes the head, and of the events those that there are.
void put_report(const Report& report, cursimeter_report* out) noexcept;
/// What a C program's advancer says: events about things that the chart has not are left out.
Report report_of(const Chart& chart, const cursimeter_report& given) noexcept;

}  // namespace cursimeter::capi
