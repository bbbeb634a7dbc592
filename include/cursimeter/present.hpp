#pragma once

#include <array>
#include <cursimeter/id_map.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>

/// What a game shows of a runner: numbers for bars, animation and sound. Nothing here acts back on the run, so
/// none of it is saved, rolled back or sent; the values that remember something live beside the runner.
namespace cursimeter {

/// Read off a runner after a tick. Cheap, allocates nothing.
struct Presentation {
    double pace = 0.0;  ///< speed over the forward speed of the chart's lowest ranked ground state
    double heading =
        0.0;             ///< rad from the facing to the way it goes, counter-clockwise, -pi to pi; 0 at rest
    double rise = 0.0;   ///< m/s upward
    double slope = 0.0;  ///< rad that the ground rises ahead of the facing
    double lean_forward = 0.0;  ///< m/s^2 ahead of the facing, by which its own speed changes now
    double lean_side = 0.0;     ///< m/s^2 to the right
    double stride = 0.0;        ///< 0 to 1: phase of a stride of two steps; the left foot comes down at 0
    double cadence = 0.0;       ///< steps per second at the present speed
    Seconds time_in_state{0.0};
};
/// By the facing: the look, or under Facing::movement the way it goes, and at rest the look. The way that it came is for a
/// `BodyFacing` beside the runner to remember: then present by that. Throws ChartError for a runner of another chart.
[[nodiscard]] Presentation present(const Chart& chart, const Runner& runner);
/// By the body's own direction, such as `BodyFacing::yaw`, in rad.
[[nodiscard]] Presentation present(const Chart& chart, const Runner& runner, double yaw);

/// Which of the last two states an animation shows, and how much.
class Blend {
  public:
    /// seconds: from one state to the next, above 0.
    explicit Blend(StateId start, Seconds seconds = Seconds{0.2})
        : from_(start), to_(start), seconds_(seconds) {}
    /// After each tick.
    void follow(const Report& report);
    /// Goes on with another version of the chart; `now` is the runner's state, shown in place of states that are gone.
    void carry_over(const IdMap& ids, StateId now);
    [[nodiscard]] StateId from() const { return from_; }
    [[nodiscard]] StateId to() const { return to_; }
    /// Weight of `to`, 0 to 1.
    [[nodiscard]] double weight() const;

  private:
    StateId from_, to_;
    Seconds seconds_;
    double since_ = 1e9;  ///< s
};

/// A number shown to people that runs after another: the gap halves every `half_life`, at any tick rate.
class Smoothed {
  public:
    explicit Smoothed(double start, Seconds half_life) : value_(start), half_life_(half_life) {}
    double follow(double target, Seconds dt);
    /// At once, as after a teleport.
    void set(double value) { value_ = value; }
    [[nodiscard]] double value() const { return value_; }

  private:
    double value_;
    Seconds half_life_;
};

/// The direction in which the body stands: it turns after what it faces, the short way round, at a limited
/// rate, the same at any tick rate.
class BodyFacing {
  public:
    /// rad, and rad/s; a rate of 0 turns at once.
    explicit BodyFacing(double yaw, double rate) : yaw_(yaw), rate_(rate) {}
    /// Turns towards `target` (rad) for the time of a tick.
    double turn_to(double target, Seconds dt);
    /// Towards where the runner goes if it faces its movement (and stays where it is at rest), else towards its
    /// look.
    double follow(const Runner& runner, Facing facing, Seconds dt);
    [[nodiscard]] double yaw() const { return yaw_; }  ///< -pi to pi
    /// rad/s; 0 or more. `turn_rate` has what modifiers make of it.
    void set_rate(double rate) { rate_ = rate; }

  private:
    double yaw_, rate_;
};

/// Watches the target of a lock-on: when it is reached, and when it is too far away to be kept.
class LockOn {
  public:
    enum class Status : std::uint8_t { held, reached, lost };
    /// m, along the ground; `lost_beyond` above `reach`. A target that was reached counts as held again only
    /// a tenth further off, so that it does not flicker.
    LockOn(double reach, double lost_beyond) : reach_(reach), lost_beyond_(lost_beyond) {}
    /// After each tick. Once lost it stays lost until `renew`.
    Status follow(const Runner& runner, const Focus& focus);
    [[nodiscard]] Status status() const { return status_; }
    void renew() { status_ = Status::held; }

  private:
    double reach_, lost_beyond_;
    Status status_ = Status::held;
};

/// Calls functions with the events of each tick, in their order; for those who prefer that to reading the
/// report. A value of fixed size: nothing is allocated. Whatever the context points to must outlive it.
class Observers {
  public:
    using Call = void (*)(void* context, const Chart& chart, const Runner& runner, const Event& event);
    static constexpr std::size_t most = 16;
    /// Returns false if there is no place left; then nothing has changed.
    bool add(EventKind kind, Call call, void* context);
    /// Takes away what was added with this call and context. Returns how many there were.
    std::size_t remove(Call call, void* context);
    /// After a tick: every event in order of time, to every observer of its kind in the order of adding.
    void tell(const Chart& chart, const Runner& runner, const Report& report) const;

  private:
    struct Entry {
        EventKind kind = EventKind::left;
        Call call = nullptr;
        void* context = nullptr;
    };
    std::array<Entry, most> entries_{};
    std::size_t count_ = 0;
};

}  // namespace cursimeter
