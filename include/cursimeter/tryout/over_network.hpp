#pragma once

#include <cursimeter/course/course.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/rehearsal/simulated_link.hpp>
#include <functional>
#include <memory>
#include <optional>

namespace cursimeter::tryout {

/// A character under one's hands over the library's own server and clients, in one process and in virtual time: its owner's
/// client, the server, and another player who looks on.
class OverNetwork {
  public:
    /// Throws ChartError if the rate is none that a server can have.
    /// `like`: a runner whose press modes the character has.
    OverNetwork(const Chart& chart, const std::optional<Course>& course, double rate, const Placement& start,
                const Runner& like);
    ~OverNetwork();
    OverNetwork(const OverNetwork&) = delete;
    OverNetwork& operator=(const OverNetwork&) = delete;

    /// Of both directions of both clients, from now on.
    void set_faults(const rehearsal::LinkFaults& faults);
    /// The hands: what is wanted in the next tick of the owner's client, of this length; valid until it is asked again.
    using Hands = std::function<Intent(Seconds)>;
    /// Lets time pass, up to a quarter of a second; s from any start, never going back.
    void run_until(double seconds, const Hands& hands);

    /// Whether the owner has a runner by now.
    [[nodiscard]] bool playing() const;
    [[nodiscard]] const Runner& own() const;                ///< as its owner predicts it
    [[nodiscard]] glm::dvec3 own_place() const;             ///< m, as its owner's picture shows it
    [[nodiscard]] const Runner& truth() const;              ///< the server's
    [[nodiscard]] std::optional<link::Shown> seen() const;  ///< by the other player
    [[nodiscard]] const link::Client& client() const;
    [[nodiscard]] link::SeatReading seat() const;
    /// Bytes a second, up and down, over the last second of the owner's client.
    struct Traffic {
        double up = 0.0, down = 0.0;
    };
    [[nodiscard]] Traffic traffic() const;

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

}  // namespace cursimeter::tryout
