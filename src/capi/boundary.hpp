#pragma once

#include <cursimeter/cursimeter.h>

#include <algorithm>
#include <cstring>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <glm/vec3.hpp>
#include <new>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

/// What all functions of the C interface share: the objects behind its handles, and the one way over the boundary.

struct cursimeter_error {
    std::vector<cursimeter::Diagnostic> mistakes;
    std::string text;
};

struct cursimeter_chart {
    cursimeter::ChartFile file;
};

namespace cursimeter::capi {

/// Keeps an error, if there is an object to keep it in. Without the memory for its words it stays without them.
void keep(cursimeter_error* error, std::vector<Diagnostic> mistakes) noexcept;
cursimeter_status fail(cursimeter_error* error, cursimeter_status status, const char* what) noexcept;
/// A null pointer, a wrong index, a struct without its size: `what` names the argument.
cursimeter_status bad_argument(cursimeter_error* error, const char* what) noexcept;

/// Runs `work`, which returns a status, and turns every exception into one.
template <class Work>
cursimeter_status guarded(cursimeter_error* error, Work&& work) noexcept {
    keep(error, {});
    try {
        return std::forward<Work>(work)();
    } catch (const ChartError& wrong) {
        keep(error, wrong.diagnostics());
        return CURSIMETER_BAD_INPUT;
    } catch (const std::bad_alloc&) {
        return fail(error, CURSIMETER_NO_MEMORY, "there is not enough memory");
    } catch (const std::exception& wrong) {
        return fail(error, CURSIMETER_FAILED, wrong.what());
    } catch (...) {
        return fail(error, CURSIMETER_FAILED, "something unknown went wrong");
    }
}

/// A runner's bytes in a C program, as the Runner that they are: in place where they lie on a line of the cache, otherwise
/// as a copy, which is written back at the end unless the bytes are const.
template <class Bytes>
class Borrowed {
    static constexpr bool is_const = std::is_const_v<Bytes>;
    using Value = std::conditional_t<is_const, const Runner, Runner>;
    using Place = std::conditional_t<is_const, const void, void>;

  public:
    static_assert(sizeof(Runner) <= sizeof(Bytes));
    explicit Borrowed(Bytes* bytes) noexcept : bytes_(bytes) {
        if (!in_place()) {
            std::memcpy(room_, bytes, sizeof(Runner));
        }
    }
    Borrowed(const Borrowed&) = delete;
    Borrowed& operator=(const Borrowed&) = delete;
    ~Borrowed() {
        if constexpr (!is_const) {
            if (!in_place()) {
                std::memcpy(static_cast<void*>(bytes_), room_, sizeof(Runner));
            }
        }
    }
    [[nodiscard]] Value& operator*() noexcept {
        return *std::launder(reinterpret_cast<Value*>(in_place() ? static_cast<Place*>(bytes_) : room_));
    }

  private:
    [[nodiscard]] bool in_place() const noexcept {
        return reinterpret_cast<std::uintptr_t>(bytes_) % alignof(Runner) == 0;
    }
    Bytes* bytes_;
    alignas(Runner) std::byte room_[sizeof(Runner)];
};

/// Writes a runner whole, with zeros behind it.
inline void put_runner(const Runner& runner, cursimeter_runner* out) noexcept {
    *out = {};
    std::memcpy(static_cast<void*>(out), &runner, sizeof(runner));
}

/// The smallest size that a struct has had: that of version 0.1. A struct that grows gets a specialisation with its old size,
/// which must end with a whole field: half a pointer leads anywhere.
template <class Struct>
inline constexpr std::size_t first_size = sizeof(Struct);

/// The caller's struct as this version knows it: what an older caller has not is as by default, what a newer one has besides is
/// left out. False without a size.
template <class Struct>
bool take_in(const Struct* given, Struct& known) noexcept {
    if (given == nullptr || given->size < first_size<Struct>) {
        return false;
    }
    std::memcpy(&known, given, std::min(given->size, sizeof(Struct)));
    return true;
}
/// Writes as much of a struct as the caller has room for; its size stays. False without a size.
template <class Struct>
bool hand_out(Struct known, Struct* out) noexcept {
    if (out == nullptr || out->size < first_size<Struct>) {
        return false;
    }
    known.size = out->size;
    std::memcpy(out, &known, std::min(out->size, sizeof(Struct)));
    return true;
}

inline glm::dvec3 vector_of(const double* numbers) {
    return {numbers[0], numbers[1], numbers[2]};
}
inline void put(const glm::dvec3& vector, double* numbers) {
    for (int i = 0; i < 3; ++i) {
        numbers[i] = vector[i];
    }
}

/// Null: the origin.
inline Placement placement_of(const cursimeter_placement* placement) {
    return placement == nullptr ? Placement{} : Placement{vector_of(placement->position), placement->yaw};
}
/// Throws nothing: the library says what is wrong with a push when it is used.
inline Push push_of(const cursimeter_push_spec& said) noexcept {
    return {vector_of(said.direction), said.strength,     said.lift, said.seconds,
            said.locks != 0,           said.replaces != 0};
}
/// Writes a text, cut to `size` bytes with its 0. Returns the length of the whole.
inline std::size_t put_text(std::string_view text, char* buffer, std::size_t size) noexcept {
    if (buffer != nullptr && size > 0) {
        const std::size_t length = std::min(text.size(), size - 1);
        std::copy_n(text.data(), length, buffer);
        buffer[length] = '\0';
    }
    return text.size();
}

/// Whether an index is one of a chart's list.
bool is_index(const Chart& chart, int list, int index) noexcept;

}  // namespace cursimeter::capi
