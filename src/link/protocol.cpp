#include <cursimeter/link/protocol.hpp>

namespace cursimeter::link {

std::string_view to_string(Farewell why) {
    switch (why) {
        case Farewell::none:
            return "none";
        case Farewell::other_version:
            return "other version";
        case Farewell::other_tick_rate:
            return "other tick rate";
        case Farewell::other_charts:
            return "other charts";
        case Farewell::full:
            return "full";
        case Farewell::too_many:
            return "too many runners";
        case Farewell::left:
            return "left";
        case Farewell::removed:
            return "removed";
        case Farewell::silent:
            return "silent";
        case Farewell::moved:
            return "moved";
    }
    return "unknown";
}

Report OpenGround::step(const Chart& chart, Runner& runner, const Intent& intent, Tick, Seconds dt) noexcept {
    return advance(chart, runner, intent, dt);
}

Report InTerrain::step(const Chart& chart, Runner& runner, const Intent& intent, Tick, Seconds dt) noexcept {
    return advance(chart, runner, intent, terrain_, dt);
}

}  // namespace cursimeter::link
