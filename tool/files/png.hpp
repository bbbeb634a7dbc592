#pragma once

#include <cairo.h>

#include <string>

namespace cursimeter::tool {

/// A surface as the bytes of a PNG file. `file` is for the complaint. Throws ChartError if there is no memory for it.
[[nodiscard]] std::string png_of(cairo_surface_t* surface, const std::string& file);
/// Appends what cairo writes to a std::string, for cairo's functions that take a stream.
cairo_status_t append_to_string(void* string, const unsigned char* data, unsigned length);
/// Throws ChartError unless the status is that of a success.
void check_drawn(cairo_status_t status, const std::string& file);

}  // namespace cursimeter::tool
