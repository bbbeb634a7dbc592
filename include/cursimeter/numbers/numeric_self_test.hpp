#pragma once

#include <string>

namespace cursimeter {

/// What `numeric_self_test` found.
struct NumericHealth {
    bool rounding_ok = false;     ///< round to nearest is in force
    bool contraction_ok = false;  ///< the library was built without fused multiply-add
    bool denormals_ok = false;    ///< denormals are not flushed (some flags set that process-wide)
    bool digest_ok = false;       ///< a short built-in run gives the known digest
    [[nodiscard]] bool ok() const { return rounding_ok && contraction_ok && denormals_ok && digest_ok; }
    /// One sentence for a log.
    [[nodiscard]] std::string text() const;
};

/// Checks, in a millisecond or two, that this process computes as every other does. Call it once at
/// start-up, on each thread that advances runners if threads may have other floating-point settings.
[[nodiscard]] NumericHealth numeric_self_test();

}  // namespace cursimeter
