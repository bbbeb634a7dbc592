#pragma once

#include <fmt/format.h>

#include <bit>
#include <cstddef>
#include <cstdint>
#include <cursimeter/diagnostics.hpp>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Recordings, takes and matches, byte by byte: numbers have their lowest byte first, on every machine.
namespace cursimeter::detail {

inline void put_number(std::vector<std::byte>& to, std::uint64_t value, unsigned bytes) {
    for (unsigned i = 0; i < bytes; ++i) {
        to.push_back(static_cast<std::byte>(value >> (8 * i) & 0xffU));
    }
}
inline void put_letters(std::vector<std::byte>& to, std::string_view letters) {
    for (const char c : letters) {
        to.push_back(static_cast<std::byte>(c));
    }
}
/// Behind its length in 4 bytes.
inline void put_text(std::vector<std::byte>& to, std::string_view text) {
    put_number(to, text.size(), 4);
    put_letters(to, text);
}

/// Reads what those write. What is past the end reads as 0, and `over` says so.
class ByteReader {
  public:
    ByteReader(std::span<const std::byte> bytes, const std::string& name) : bytes_(bytes), name_(name) {}

    [[nodiscard]] std::uint64_t get(unsigned bytes) {
        std::uint64_t value = 0;
        for (unsigned i = 0; i < bytes; ++i) {
            over_ = over_ || next_ >= bytes_.size();
            value |= over_ ? 0 : static_cast<std::uint64_t>(bytes_[next_]) << (8 * i);
            next_ += over_ ? 0 : 1;
        }
        return value;
    }
    [[nodiscard]] double get_real() { return std::bit_cast<double>(get(8)); }
    /// A text behind its length in 4 bytes.
    [[nodiscard]] std::string text() {
        const auto size = static_cast<std::size_t>(get(4));
        if (size > left()) {
            refuse("is cut off in its heading", "the file is not whole");
        }
        const char* begin = reinterpret_cast<const char*>(bytes_.data()) + next_;
        next_ += size;
        return {begin, size};
    }
    /// So many bytes as they are; there must be as many left.
    [[nodiscard]] std::span<const std::byte> skip(std::size_t count) {
        next_ += count;
        return bytes_.subspan(next_ - count, count);
    }
    /// What every recording begins with: eight letters, and the version in 4 bytes.
    void expect(std::string_view magic, std::uint32_t version, const char* what, const char* mend) {
        for (const char c : magic) {
            if (bytes_.size() < magic.size() + 4 || static_cast<char>(get(1)) != c) {
                refuse(fmt::format("is no {}", what), mend);
            }
        }
        const std::uint64_t found = get(4);
        if (found != version) {
            refuse(fmt::format("is a {} of version {}", what, found),
                   fmt::format("this program reads version {}", version));
        }
    }
    /// Throws ChartError that names the byte: the next one, if not another.
    [[noreturn]] void refuse(const std::string& what, const std::string& mend) const {
        refuse(next_, what, mend);
    }
    [[noreturn]] void refuse(std::size_t at, const std::string& what, const std::string& mend) const {
        throw ChartError({{fmt::format("byte {}", at), what, mend, name_, 0, 0}});
    }
    [[nodiscard]] std::size_t at() const { return next_; }
    [[nodiscard]] std::size_t left() const { return bytes_.size() - next_; }
    [[nodiscard]] bool over() const { return over_; }

  private:
    std::span<const std::byte> bytes_;
    const std::string& name_;
    std::size_t next_ = 0;
    bool over_ = false;
};

}  // namespace cursimeter::detail
