#include "core/numbers/digest.hpp"

#include <cursimeter/runner.hpp>

#include "core/chart/chart_data.hpp"
#include "core/runner/fields.hpp"

namespace cursimeter {
namespace {

struct DigestVisitor {
    detail::Digest digest;
    double real(const char*, double value) {
        digest.add(value);
        return value;
    }
    std::uint64_t word(const char*, std::uint64_t value, unsigned) {
        digest.add(value);
        return value;
    }
    static std::uint64_t ahead(const char*, std::uint64_t value, unsigned) { return value; }
};

}  // namespace

std::uint64_t digest(const Runner& runner) {
    detail::RunnerState state = detail::RunnerAccess::state(runner);
    DigestVisitor visitor;
    detail::visit_fields(state, visitor);
    return visitor.digest.value();
}

}  // namespace cursimeter
