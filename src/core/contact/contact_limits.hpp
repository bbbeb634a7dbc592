#pragma once

/// The lengths, times and angles by which contacts are told apart, each with its reason.
namespace cursimeter::detail {

/// The body keeps this far from everything, m: sweeps then never begin in a touch.
inline constexpr double skin = 1e-4;
/// Deviation of a chord from the segment's path, m.
inline constexpr double chord_error = 1e-4;
/// A change is placed in time to this, s.
inline constexpr double moment_width = 1e-5;
/// How far behind a barrier may be and still be leant against, m.
inline constexpr double lean_reach = 0.01;
/// In the air, what moves away from a barrier faster than this leans against it no longer, m/s. At 0 rounding would
/// let go of it in every other chord.
inline constexpr double leaving_speed = 0.02;
/// Motion at this angle at most to a barrier that is leant against goes along it, rad. The bits of its normal leave 3e-5
/// open, and between two barriers at a sharp angle some tens of times that.
inline constexpr double graze = 1e-3;
/// Cosine between a barrier and the ground's plane; below it nothing is to be gained by turning aside along the ground.
inline constexpr double least_facing = 0.1;
/// Motion at a face closes in on it by this part of its length at least, or only brushes it: there the skin takes off no
/// more of the way than it would at this angle.
inline constexpr double brushed = 0.01;
/// A way beyond an obstacle, m, that is short enough for what is climbed on it to be no more than a step.
inline constexpr double short_step = 0.01;
/// Ground this much deeper than a steep thing beside the body still carries it, m.
inline constexpr double beside_reach = 0.003;
/// A change of the ground's gradient that is worth a new segment.
inline constexpr double gradient_step = 1e-3;
/// A touch whose direction is this far off a face's normal (1 - cosine) is one of an edge.
inline constexpr double edge_turn = 1e-6;
/// Ground that is no more than this lower beyond an edge is the same ground, m: worlds are not put together more exactly.
inline constexpr double seam_depth = 1e-3;
/// A level burst is on ground that it comes over no more than this above it, m: at its own height, as exactly as worlds are put
/// together.
inline constexpr double skim_height = seam_depth + 2.0 * skin;
/// Ground that falls away from the motion by less than this (sine) is no crest: a curved ground is made of many faces.
inline constexpr double crest = 0.005;
/// A slide that rolls over an edge pays for its height in stretches of this length, s, or it would go on at its speed for a tick.
inline constexpr double longest_paying_chord = 0.001;
/// What rises by less than this part of the way is the world's own rounding.
inline constexpr double least_climb = 1e-3;
/// Walls are this upright: their normal's vertical part is at most this.
inline constexpr double wall_upright = 0.35;
/// Where the body touches a wall's edge, its direction may be this far off the wall's face (cosine): 8
/// degrees. So a curved wall of many faces is one wall, and a corner is the end of it.
inline constexpr double wall_edge = 0.99;
/// A wall's normal counts as another when it has turned by this, rad.
inline constexpr double wall_turn = 0.05;
/// Chords of one call; past that they grow longer. Sweeps stay safe at any length.
inline constexpr int most_chords = 256;
/// A zone that was entered or left is not left or entered again sooner, s.
inline constexpr double zone_dwell = 0.01;
/// A zone's push acts for this long at least, s, and pushes nobody on whom a push still acts: at its border
/// it could otherwise push without end.
inline constexpr double least_gust = 0.05;
/// A blow that is told of is at least this fast, m/s.
inline constexpr double least_blow = 0.1;
/// What moves faster in a world, m/s, is a mistake of the world.
inline constexpr double fastest_world = 1e4;
/// To get out of solids, to end a chord on its segment, and contacts without time between before a place counts as a corner.
inline constexpr int most_attempts = 8;
inline constexpr double crush_depth = 1e-3;           ///< m
inline constexpr double ground_time = 1e-4;           ///< s over which the velocity of moving ground is taken
inline constexpr double longest_moving_chord = 0.01;  ///< s, where the world moves

}  // namespace cursimeter::detail
