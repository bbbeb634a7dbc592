#pragma once

#include "support/demo.hpp"

namespace support {

/// Straight ahead, with these actions held.
inline Intent held_ahead(const Chart& chart, std::initializer_list<const char*> held = {}, double yaw = 0.0) {
    Intent intent;
    intent.move.forward = 1.0;
    intent.look.yaw = yaw;
    for (const char* action : held) {
        intent.hold(chart.action(action));
    }
    return intent;
}

}  // namespace support
