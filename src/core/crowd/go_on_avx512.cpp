#include "core/crowd/go_on.hpp"

/// The same for processors with AVX-512 (go_on_avx2.cpp).
#if defined(__AVX512F__)  // other builds may compile all sources
namespace cursimeter::detail {

unsigned go_on_by_eights(LaneBlock& block, const LaneWork& work) {
    return go_on<EightNumbers>(block, 0, 0, work);
}

}  // namespace cursimeter::detail
#endif
