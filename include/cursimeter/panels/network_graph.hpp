#pragma once

#include <cursimeter/link/client.hpp>

namespace cursimeter::panels {

/// A client's figures over its last ticks: round trip, intents in hand, loss, corrections, bytes by kind.
void show_network(const link::Client& client, double tick_rate);

}  // namespace cursimeter::panels
