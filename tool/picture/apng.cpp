#include "picture/apng.hpp"

#include <zlib.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <cursimeter/diagnostics.hpp>

namespace cursimeter::tool {
namespace {

void put(std::string& bytes, std::uint32_t value, int count) {
    for (int shift = 8 * (count - 1); shift >= 0; shift -= 8) {
        bytes += static_cast<char>(value >> shift & 0xffU);
    }
}

void put_chunk(std::string& file, const char* type, const std::string& data) {
    put(file, static_cast<std::uint32_t>(data.size()), 4);
    const std::string body = type + data;
    file += body;
    put(file,
        static_cast<std::uint32_t>(
            crc32(0, reinterpret_cast<const Bytef*>(body.data()), static_cast<uInt>(body.size()))),
        4);
}

/// Rows with the filter that leaves the smallest sum of differences, as the PNG specification advises.
std::string filtered(const std::vector<std::uint8_t>& pixels, std::size_t row_bytes, std::size_t rows) {
    std::string all;
    std::vector<std::uint8_t> above(row_bytes, 0);
    for (std::size_t row = 0; row < rows; ++row) {
        const std::uint8_t* now = pixels.data() + row * row_bytes;
        std::array<std::string, 3> tries;  // none, sub, up
        std::array<long, 3> sums{};
        for (std::size_t i = 0; i < row_bytes; ++i) {
            const std::uint8_t left = i >= 3 ? now[i - 3] : std::uint8_t{0};
            const std::array<std::uint8_t, 3> values{now[i], static_cast<std::uint8_t>(now[i] - left),
                                                     static_cast<std::uint8_t>(now[i] - above[i])};
            for (std::size_t k = 0; k < 3; ++k) {
                tries[k] += static_cast<char>(values[k]);
                sums[k] += std::abs(static_cast<int>(static_cast<std::int8_t>(values[k])));
            }
        }
        const auto best = static_cast<std::size_t>(std::min_element(sums.begin(), sums.end()) - sums.begin());
        all += static_cast<char>(best);
        all += tries[best];
        above.assign(now, now + row_bytes);
    }
    return all;
}

std::string compressed(const std::string& bytes) {
    uLongf size = compressBound(static_cast<uLong>(bytes.size()));
    std::string packed(size, '\0');
    if (compress2(reinterpret_cast<Bytef*>(packed.data()), &size,
                  reinterpret_cast<const Bytef*>(bytes.data()), static_cast<uLong>(bytes.size()),
                  Z_BEST_COMPRESSION) != Z_OK) {
        throw ChartError({{"", "the movie cannot be compressed", "free some memory", {}, 0, 0}});
    }
    packed.resize(size);
    return packed;
}

}  // namespace

void AnimatedPng::add(const unsigned char* pixels, std::size_t stride) {
    const auto width = static_cast<std::size_t>(width_), height = static_cast<std::size_t>(height_);
    std::vector<std::uint8_t> now(width * height * 3);
    for (std::size_t y = 0; y < height; ++y) {
        for (std::size_t x = 0; x < width; ++x) {
            const unsigned char* pixel = pixels + y * stride + x * 4;
            std::uint8_t* to = now.data() + (y * width + x) * 3;
            to[0] = pixel[2];
            to[1] = pixel[1];
            to[2] = pixel[0];
        }
    }
    std::size_t left = width, right = 0, top = height, bottom = 0;
    for (std::size_t y = 0; y < height; ++y) {
        for (std::size_t x = 0; x < width; ++x) {
            const std::size_t at = (y * width + x) * 3;
            if (last_.empty() || !std::equal(now.begin() + static_cast<std::ptrdiff_t>(at),
                                             now.begin() + static_cast<std::ptrdiff_t>(at) + 3,
                                             last_.begin() + static_cast<std::ptrdiff_t>(at))) {
                left = std::min(left, x);
                right = std::max(right, x);
                top = std::min(top, y);
                bottom = std::max(bottom, y);
            }
        }
    }
    if (left > right) {  // nothing has changed: one pixel says so
        left = right = top = bottom = 0;
    }
    const std::size_t columns = right - left + 1, rows = bottom - top + 1;
    std::vector<std::uint8_t> changed;
    for (std::size_t y = top; y <= bottom; ++y) {
        const auto from = now.begin() + static_cast<std::ptrdiff_t>((y * width + left) * 3);
        changed.insert(changed.end(), from, from + static_cast<std::ptrdiff_t>(columns * 3));
    }
    frames_.push_back({static_cast<int>(left), static_cast<int>(top), static_cast<int>(columns),
                       static_cast<int>(rows), compressed(filtered(changed, columns * 3, rows))});
    last_ = std::move(now);
}

std::string AnimatedPng::bytes() const {
    std::string file("\x89PNG\r\n\x1a\n");
    std::string head;
    put(head, static_cast<std::uint32_t>(width_), 4);
    put(head, static_cast<std::uint32_t>(height_), 4);
    head += {8, 2, 0, 0, 0};  // eight bits, true colour
    put_chunk(file, "IHDR", head);
    std::string control;
    put(control, static_cast<std::uint32_t>(frames_.size()), 4);
    put(control, 0, 4);  // over and over
    put_chunk(file, "acTL", control);
    std::uint32_t sequence = 0;
    for (std::size_t i = 0; i < frames_.size(); ++i) {
        const Frame& frame = frames_[i];
        std::string place;
        put(place, sequence++, 4);
        for (const int number : {frame.width, frame.height, frame.x, frame.y}) {
            put(place, static_cast<std::uint32_t>(number), 4);
        }
        put(place, 1, 2);
        put(place, static_cast<std::uint32_t>(rate_), 2);
        place += {0, 0};  // it stays, and replaces what was there
        put_chunk(file, "fcTL", place);
        if (i == 0) {
            put_chunk(file, "IDAT", frame.data);
        } else {
            std::string data;
            put(data, sequence++, 4);
            put_chunk(file, "fdAT", data + frame.data);
        }
    }
    put_chunk(file, "IEND", {});
    return file;
}

}  // namespace cursimeter::tool
