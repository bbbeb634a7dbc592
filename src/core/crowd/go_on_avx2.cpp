#include "core/crowd/go_on.hpp"

/// Compiled for processors with AVX2, and called where there is one. It may define nothing but this function: a linker could take what
/// else stands here in place of another source's, and run it on any processor. tests/core/crowd/check_symbols looks.
#if defined(__AVX2__)  // other builds may compile all sources
namespace cursimeter::detail {

unsigned go_on_by_fours(LaneBlock& block, const LaneWork& work) {
    return go_on<FourNumbers>(block, 0, 0, work) | go_on<FourNumbers>(block, 4, 0, work);
}

}  // namespace cursimeter::detail
#endif
