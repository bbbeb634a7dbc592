#pragma once

// What the C++ library of Emscripten 3.1 lacks of C++20, included before all sources of a WebAssembly build.
#include <version>

#ifndef __cpp_lib_bit_cast
namespace std {
template <class To, class From>
[[nodiscard]] constexpr To bit_cast(const From& from) noexcept {
    return __builtin_bit_cast(To, from);
}
}  // namespace std
#endif

#ifndef __cpp_lib_to_chars
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <string>
namespace std {
/// Of what it stands for, the plain decimal form: no sign but -, no blanks, no words, nothing hexadecimal.
inline from_chars_result from_chars(const char* first, const char* last, double& value) {
    const string text(first, last);
    const size_t digits = text.find_first_not_of("0123456789.", text.rfind('-', 0) == 0 ? 1 : 0);
    const bool has_exponent =
        digits != string::npos && digits > 0 && (text[digits] == 'e' || text[digits] == 'E');
    const string number = has_exponent ? text : text.substr(0, digits);
    char* end = nullptr;
    const double read = number.empty() || number == "-" ? 0.0 : strtod(number.c_str(), &end);
    if (end == nullptr || end == number.c_str()) {
        return {first, errc::invalid_argument};
    }
    if (isinf(read)) {
        return {first + (end - number.c_str()), errc::result_out_of_range};
    }
    value = read;
    return {first + (end - number.c_str()), errc()};
}
}  // namespace std
#endif
