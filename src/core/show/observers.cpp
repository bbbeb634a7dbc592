#include <algorithm>
#include <cursimeter/show/observers.hpp>

namespace cursimeter {

bool Observers::add(EventKind kind, Call call, void* context) {
    if (count_ == entries_.size() || call == nullptr) {
        return false;
    }
    entries_[count_++] = {kind, call, context};
    return true;
}

std::size_t Observers::remove(Call call, void* context) {
    const auto end = entries_.begin() + static_cast<std::ptrdiff_t>(count_);
    const auto kept = std::remove_if(entries_.begin(), end, [&](const Entry& entry) {
        return entry.call == call && entry.context == context;
    });
    const auto gone = static_cast<std::size_t>(end - kept);
    count_ -= gone;
    return gone;
}

void Observers::tell(const Chart& chart, const Runner& runner, const Report& report) const {
    for (const Event& event : report.events()) {
        for (std::size_t i = 0; i < count_; ++i) {
            if (entries_[i].kind == event.kind) {
                entries_[i].call(entries_[i].context, chart, runner, event);
            }
        }
    }
}

}  // namespace cursimeter
