#include "picture/apng.hpp"

#include <zlib.h>

#include <algorithm>
#include <array>
#include <cstring>
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

/// Of a difference of bytes, as a number with a sign.
long size_of(std::uint8_t difference) {
    return difference < 128 ? difference : 256 - difference;
}

/// Rows with the filter that leaves the smallest sum of differences, as the PNG specification advises.
std::string filtered(const std::vector<std::uint8_t>& pixels, std::size_t row_bytes, std::size_t rows) {
    std::string all((row_bytes + 1) * rows, '\0');
    auto* to = reinterpret_cast<std::uint8_t*>(all.data());
    const std::vector<std::uint8_t> nothing(row_bytes, 0);
    const std::uint8_t* above = nothing.data();
    for (std::size_t row = 0; row < rows; ++row, to += row_bytes + 1) {
        const std::uint8_t* now = pixels.data() + row * row_bytes;
        std::array<long, 3> sums{};  // none, sub, up
        for (std::size_t i = 0; i < row_bytes; ++i) {
            const std::uint8_t left = i >= 3 ? now[i - 3] : std::uint8_t{0};
            sums[0] += size_of(now[i]);
            sums[1] += size_of(static_cast<std::uint8_t>(now[i] - left));
            sums[2] += size_of(static_cast<std::uint8_t>(now[i] - above[i]));
        }
        const auto best = std::min_element(sums.begin(), sums.end()) - sums.begin();
        to[0] = static_cast<std::uint8_t>(best);
        for (std::size_t i = 0; i < row_bytes; ++i) {
            const std::uint8_t left = i >= 3 ? now[i - 3] : std::uint8_t{0};
            to[i + 1] = static_cast<std::uint8_t>(now[i] - (best == 1 ? left : best == 2 ? above[i] : 0));
        }
        above = now;
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
        const std::uint8_t* row = now.data() + y * width * 3;
        const std::uint8_t* old = last_.empty() ? nullptr : last_.data() + y * width * 3;
        if (old != nullptr && std::memcmp(row, old, width * 3) == 0) {
            continue;
        }
        const auto differs = [&](std::size_t x) {
            return old == nullptr || std::memcmp(row + x * 3, old + x * 3, 3) != 0;
        };
        std::size_t from = 0, to = width - 1;
        while (from < left && !differs(from)) {
            ++from;
        }
        while (to > right && !differs(to)) {
            --to;
        }
        left = std::min(left, from);
        right = std::max(right, to);
        top = std::min(top, y);
        bottom = y;
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
