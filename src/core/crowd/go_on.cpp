#include "core/crowd/go_on.hpp"

/// With what every processor of its kind has.
namespace cursimeter::detail {

unsigned go_on_by_ones(LaneBlock& block, const LaneWork& work) {
    unsigned done = 0;
    for (std::size_t lane = 0; lane < lanes_of_block; ++lane) {
        if (work.how[lane] != GoingOn::whole) {
            done |= go_on<double>(block, lane, work.first_lane, work);
        }
    }
    return done;
}

unsigned go_on_by_twos(LaneBlock& block, const LaneWork& work) {
    unsigned done = 0;
    for (std::size_t lane = 0; lane < lanes_of_block; lane += 2) {
        done |= go_on<TwoNumbers>(block, lane, 0, work);
    }
    return done;
}

}  // namespace cursimeter::detail
