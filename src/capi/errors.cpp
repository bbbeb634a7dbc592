#include <cursimeter/numbers/numeric_self_test.hpp>
#include <cursimeter/version.hpp>

#include "capi/boundary.hpp"

namespace cursimeter::capi {

void keep(cursimeter_error* error, std::vector<Diagnostic> mistakes) noexcept {
    if (error == nullptr) {
        return;
    }
    error->text.clear();
    error->mistakes = std::move(mistakes);
    try {
        for (const Diagnostic& mistake : error->mistakes) {
            error->text += error->text.empty() ? "" : "\n";
            error->text += mistake.text();
        }
    } catch (...) {
        error->text.clear();
    }
}

cursimeter_status fail(cursimeter_error* error, cursimeter_status status, const char* what) noexcept {
    try {
        keep(error, {{"", what, "", {}, 0, 0}});
    } catch (...) {
        keep(error, {});
    }
    return status;
}

cursimeter_status bad_argument(cursimeter_error* error, const char* what) noexcept {
    try {
        keep(error, {{what, "is null, out of range or without its size", "see cursimeter.h", {}, 0, 0}});
    } catch (...) {
        keep(error, {});
    }
    return CURSIMETER_BAD_ARGUMENT;
}

}  // namespace cursimeter::capi

using namespace cursimeter;

extern "C" {

cursimeter_error* cursimeter_error_new(void) {
    return new (std::nothrow) cursimeter_error();
}
void cursimeter_error_free(cursimeter_error* error) {
    delete error;
}
const char* cursimeter_error_text(const cursimeter_error* error) {
    return error == nullptr ? "" : error->text.c_str();
}
size_t cursimeter_error_count(const cursimeter_error* error) {
    return error == nullptr ? 0 : error->mistakes.size();
}
cursimeter_status cursimeter_error_at(const cursimeter_error* error, size_t index, cursimeter_mistake* out) {
    if (error == nullptr || index >= error->mistakes.size()) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const Diagnostic& one = error->mistakes[index];
    const cursimeter_mistake told{
        0, one.file.c_str(), one.line, one.column, one.path.c_str(), one.what.c_str(), one.mend.c_str()};
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

const char* cursimeter_version(void) {
    return CURSIMETER_VERSION_TEXT;
}
cursimeter_status cursimeter_self_test(cursimeter_error* error) {
    return capi::guarded(error, [&] {
        const NumericHealth health = numeric_self_test();
        return health.ok() ? CURSIMETER_OK : capi::fail(error, CURSIMETER_FAILED, health.text().c_str());
    });
}

}  // extern "C"
