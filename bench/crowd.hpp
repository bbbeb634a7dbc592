#pragma once

#include <cstddef>
#include <cstdint>
#include <cursimeter/cursimeter.hpp>
#include <vector>

#include "rival.hpp"

/// A crowd with inputs as players give them, prepared for both sides before the clock starts.
namespace bench {

inline constexpr double tick = 1.0 / 60.0;

/// The chart that the rival hard-codes: walk, tread, sprint, crouch, slide, jump, fall, dash, glide. On the ground the speed
/// follows by the given law; `footsteps`: both are told, in the rival they are counted.
[[nodiscard]] cursimeter::Chart bearer_chart(rival::Law law = rival::Law::ramp, bool footsteps = false);

/// How the players look around: with keys only, they turn at times; with a mouse or a stick, in every
/// tick.
enum class Looking : std::uint8_t { at_times, every_tick };

/// One tick's input of one player. A player's keys and stick change every 0.3 to 1.5 s.
struct Frame {
    float forward = 0.0F, side = 0.0F, yaw = 0.0F;
    bool sprint = false, tread_pressed = false, crouch = false, jump = false, dash = false, cape = false;
};

/// Frames of 97 different players, of which a crowd uses as many as it needs, over and over.
class Script {
  public:
    explicit Script(Looking looking);
    [[nodiscard]] const Frame& frame(std::size_t runner, std::size_t tick_number) const {
        return frames_[(tick_number % ticks_) * players_ + runner % players_];
    }

  private:
    static constexpr std::size_t players_ = 97, ticks_ = 3000;
    std::vector<Frame> frames_;
};

[[nodiscard]] rival::Input rival_input(const Frame& frame);

/// The rival's tick in a world, as plain as such code is: one sweep ahead, one slide along what is met, one
/// sweep down.
void advance_rival(rival::Runner<double>& runner, const rival::Input& input,
                   const cursimeter::Terrain& terrain);

}  // namespace bench
