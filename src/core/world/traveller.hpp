#pragma once

#include <algorithm>

#include <cursimeter/terrain.hpp>

#include "core/runner/instant.hpp"
#include "core/world/asked_world.hpp"

/// Moving a runner through a world.
namespace cursimeter::detail {

class Traveller {
  public:
    /// `begin` is the runner's clock at the start of the tick, which is `seconds` long.
    Traveller(Instant& instant, const Terrain& terrain, double begin, double seconds, Questions questions)
        : instant_(instant),
          chart_(instant.chart),
          runner_(instant.runner),
          world_(terrain),
          begin_(begin),
          questions_(questions) {
        ask_world(seconds);
        feel_ground();
    }

    /// Lets at most `seconds` pass on the segment that was planned, up to the first contact that changes
    /// anything. Returns the time that has passed.
    double pass(double seconds);
    /// Begins a tick: finds out what the runner stands on, and gets it out of what has come to where it is.
    void arrive();
    /// Goes `seconds` along a straight line if nothing about the world around changes on it and nothing that moves is near.
    /// Then tells the place and the surroundings at its end; otherwise returns false. The runner is left as it is.
    /// `velocity`: at its end.
    [[nodiscard]] bool crosses(const glm::dvec3& motion, const glm::dvec3& velocity, double seconds,
                               glm::dvec3& place, Surroundings& around);

  private:
    void stand_still();
    void make_room();
    /// What a stretch of time would do to the runner.
    struct Chord {
        glm::dvec3 position{0.0};
        /// Its own at the end, m/s: what decides whether an edge bears it there. That of its begin would let go of an edge up to
        /// a chord late who speeds up on it.
        glm::dvec3 velocity{0.0};
        Surroundings around;
        double seconds = 0.0;
        double stepped = 0.0;  ///< m by which a step, or an edge, has raised it above its segment
        bool blocked = false;  ///< something stopped it; then `normal` is the obstacle's
        bool changed = false;  ///< the world around is another than before
        glm::dvec3 normal{0.0};
        glm::dvec3 rest{0.0};  ///< where it stands on an edge: the direction from there to the body
        glm::dvec3 edge{
            0.0};  ///< where it lost the ground over an edge: the direction from there to the body
        glm::dvec3 edge_line{0.0};  ///< along that edge
        const Push* push = nullptr;
    };

    [[nodiscard]] Capsule body() const;
    /// s since the tick's begin. A segment that was due an instant's width ago puts the clock back by as much.
    [[nodiscard]] double time() const { return std::max(0.0, runner_.clock - begin_); }
    void ask_world(double seconds);
    [[nodiscard]] double carrying_speed() const;
    /// How far a chord may lead, m.
    [[nodiscard]] double longest_reach() const;
    [[nodiscard]] double longest_chord(double seconds) const;
    [[nodiscard]] bool walkable(const glm::dvec3& normal) const;
    [[nodiscard]] bool carries_weight(const Hit& hit, const glm::dvec3& position) const;
    [[nodiscard]] bool touches(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion,
                               Hit& hit) const;
    [[nodiscard]] bool sweep(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion,
                             Hit& hit) const;

    [[nodiscard]] Chord begin_chord(double seconds);
    void probe(Chord& chord) const;
    [[nodiscard]] Chord chord(double seconds);
    [[nodiscard]] Chord without_bend(Chord stopped, double length);
    [[nodiscard]] bool pays(const Chord& chord) const;
    [[nodiscard]] bool meets(const Chord& chord, glm::dvec3& motion, Hit& hit) const;
    [[nodiscard]] double turns_back(const Chord& chord) const;
    void walk(Chord& chord, glm::dvec3 motion) const;
    bool gets_over(Chord& chord, const glm::dvec3& motion, Hit& hit) const;
    bool step_over(Chord& chord, const glm::dvec3& motion, Hit& hit) const;
    [[nodiscard]] bool looks_down(const glm::dvec3& position, const glm::dvec3& down, Hit& hit) const;
    void keep_to_ground(Chord& chord) const;
    [[nodiscard]] bool rolls_off(const Hit& hit, const glm::dvec3& own) const;
    [[nodiscard]] bool clears_edge(const Hit& hit, const glm::dvec3& own) const;
    [[nodiscard]] bool stands_beside(const glm::dvec3& position, double drop, Hit& ground) const;
    bool sets_down();
    [[nodiscard]] bool is_seam(const glm::dvec3& position, const glm::dvec3& own) const;
    [[nodiscard]] bool falls_away(const Hit& hit, const glm::dvec3& position, const glm::dvec3& own,
                                  double drop) const;
    [[nodiscard]] bool bears(const Hit& hit, const glm::dvec3& position, const glm::dvec3& own) const;
    [[nodiscard]] bool lands_on(const Hit& hit, const glm::dvec3& position, const glm::dvec3& velocity) const;
    [[nodiscard]] double step_reach() const;
    [[nodiscard]] bool step_holds(const glm::dvec3& position) const;
    void roll_off(const Chord& chord);
    void fly(Chord& chord, glm::dvec3 motion) const;
    [[nodiscard]] bool skims(Chord& chord, const glm::dvec3& motion, double most) const;
    void stop_at(Chord& chord, const Hit& hit) const;
    [[nodiscard]] bool lies_on_other_ground(const Hit& hit) const;
    void stand_on(Chord& chord, const Hit& hit) const;
    void probe_barriers(Chord& chord) const;
    void probe_wall(Chord& chord) const;
    void probe_headroom(Chord& chord) const;
    void probe_zones(Chord& chord) const;
    void take(const Chord& chord);
    /// How far a surface moves in `seconds` from now on, m; nothing where the world answers no number.
    [[nodiscard]] glm::dvec3 surface_motion(std::uint32_t surface, double seconds) const;
    [[nodiscard]] glm::dvec3 velocity_of(std::uint32_t surface) const;
    void feel_ground();

    Instant& instant_;
    const ChartData& chart_;
    RunnerState& runner_;
    AskedWorld world_;
    double begin_;
    Questions questions_;
    bool stood_ = false;      ///< on the ground, when time passed last
    double chord_end_ = 0.0;  ///< s after the tick's start
    int chords_ = 0;
    int stuck_ = 0;  ///< contacts, one after the other, that left no time and turned nothing aside
};

}  // namespace cursimeter::detail
