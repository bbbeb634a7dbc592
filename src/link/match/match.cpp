#include <fmt/format.h>

#include <bit>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/link/match.hpp>

#include "link/match/match_coding.hpp"
#include "link/wire/packet.hpp"

namespace cursimeter::link {
namespace {

/// Reads what stands ahead of the ticks, and finds those.
class MatchReader {
  public:
    MatchReader(std::span<const std::byte> bytes, const std::string& name) : bytes_(bytes), name_(name) {}

    Match read() {
        for (const char c : match::magic) {
            if (bytes_.size() < 12 || static_cast<char>(get(1)) != c) {
                refuse("is no match", "record one with MatchRecorder, or `cursimeter net --match`");
            }
        }
        const std::uint64_t found = get(4);
        if (found != match::version) {
            refuse(fmt::format("is a match of version {}", found),
                   fmt::format("this program reads version {}", match::version));
        }
        Match match;
        match.tick_rate = std::bit_cast<double>(get(8));
        if (!(match.tick_rate >= 10.0 && match.tick_rate <= 1000.0)) {
            refuse(fmt::format("has {} ticks a second", match.tick_rate), "10 to 1000 are possible");
        }
        match.game = get(8);
        match.world = get(8);
        match.places = get(2);
        const std::uint64_t charts = get(1);
        if (match.places < 1 || match.places > 1024 || charts < 1 || charts > 16) {
            refuse(fmt::format("has {} places and {} charts", match.places, charts), "the file is damaged");
        }
        for (std::uint64_t i = 0; i < charts; ++i) {
            match.chart_digests.push_back(get(8));
            match.origin.charts.push_back(text());
        }
        match.origin.course = text();
        match.origin.note = text();
        if (over_) {
            refuse("is cut off in its heading", "the file is not whole");
        }
        while (next_ < bytes_.size()) {
            const std::uint64_t size = length(), checksum = get(match::checksum_bytes);
            if (over_ || size > bytes_.size() - next_) {
                match.cut_short = true;
                break;
            }
            const auto body = bytes_.subspan(next_, size);
            if ((wire::digest_of(body, match::version) & 0xffffU) != checksum) {
                refuse(fmt::format("is damaged in tick {}", match.ticks + 1),
                       "what stands before it can be kept: cut the file off here");
            }
            match.blocks.push_back({next_, size});
            next_ += size;
            ++match.ticks;
        }
        match.bytes.assign(bytes_.begin(), bytes_.end());
        return match;
    }

  private:
    [[noreturn]] void refuse(const std::string& what, const std::string& mend) const {
        throw ChartError({{fmt::format("byte {}", next_), what, mend, name_, 0, 0}});
    }
    std::uint64_t get(unsigned bytes) {
        std::uint64_t value = 0;
        for (unsigned i = 0; i < bytes; ++i) {
            over_ = over_ || next_ >= bytes_.size();
            value |= over_ ? 0 : static_cast<std::uint64_t>(bytes_[next_]) << (8 * i);
            next_ += over_ ? 0 : 1;
        }
        return value;
    }
    std::uint64_t length() {
        std::uint64_t value = 0;
        for (unsigned i = 0; i < match::most_length_bytes; ++i) {
            const std::uint64_t byte = get(1);
            value |= (byte & 0x7fU) << (7 * i);
            if ((byte & 0x80U) == 0) {
                break;
            }
        }
        return value;
    }
    std::string text() {
        const std::uint64_t size = get(4);
        if (size > bytes_.size() - next_) {
            refuse("is cut off in its heading", "the file is not whole");
        }
        const char* begin = reinterpret_cast<const char*>(bytes_.data()) + next_;
        next_ += size;
        return {begin, size};
    }

    std::span<const std::byte> bytes_;
    const std::string& name_;
    std::size_t next_ = 0;
    bool over_ = false;
};

}  // namespace

Match read_match(std::span<const std::byte> bytes, const std::string& name) {
    return MatchReader(bytes, name).read();
}

}  // namespace cursimeter::link
