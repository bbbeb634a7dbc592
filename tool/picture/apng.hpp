#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace cursimeter::tool {

/// An animated PNG (the PNG specification, third edition: acTL, fcTL, fdAT), in true colour. Of each picture after the first only
/// the rectangle that has changed is kept. Programs that know no animation show the first picture.
class AnimatedPng {
  public:
    /// Plays over and over, each picture for 1 / `rate` s.
    AnimatedPng(int width, int height, int rate) : width_(width), height_(height), rate_(rate) {}
    /// Rows of pixels from the top, four bytes each: blue, green, red and one that does not count.
    void add(const unsigned char* pixels, std::size_t stride);
    /// The whole file.
    [[nodiscard]] std::string bytes() const;

  private:
    struct Frame {
        int x = 0, y = 0, width = 0, height = 0;
        std::string data;  ///< compressed
    };
    int width_, height_, rate_;
    std::vector<std::uint8_t> last_;  ///< three bytes a pixel
    std::vector<Frame> frames_;
};

}  // namespace cursimeter::tool
