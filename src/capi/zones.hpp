#pragma once

#include <array>
#include <cursimeter/terrain.hpp>

#include "capi/boundary.hpp"

namespace cursimeter::capi {

/// Zone readings of a C program, with their pushes, which the library may ask for as long as the stretch of a tick lasts in which
/// a zone was entered: a few readings later.
class ReadZones {
  public:
    [[nodiscard]] ZoneReading take_in(const cursimeter_zone_reading& given) noexcept {
        ZoneReading reading;
        reading.zones = static_cast<std::uint8_t>(given.zones);
        reading.pace = given.pace;
        reading.wind = vector_of(given.wind);
        cursimeter_push_spec said = CURSIMETER_PUSH_INIT;
        if (given.push != nullptr && capi::take_in(given.push, said)) {
            Push& kept = pushes_[next_++ % pushes_.size()];
            kept = push_of(said);
            reading.push = &kept;
        }
        return reading;
    }

  private:
    std::array<Push, 16> pushes_{};
    std::size_t next_ = 0;
};

}  // namespace cursimeter::capi
