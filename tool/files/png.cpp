#include "files/png.hpp"

#include <fmt/format.h>

#include <cursimeter/diagnostics.hpp>

namespace cursimeter::tool {

cairo_status_t append_to_string(void* string, const unsigned char* data, unsigned length) {
    static_cast<std::string*>(string)->append(reinterpret_cast<const char*>(data), length);
    return CAIRO_STATUS_SUCCESS;
}

void check_drawn(cairo_status_t status, const std::string& file) {
    if (status != CAIRO_STATUS_SUCCESS) {
        throw ChartError({{"", fmt::format("cannot be drawn: {}", cairo_status_to_string(status)),
                           "free some memory", file, 0, 0}});
    }
}

std::string png_of(cairo_surface_t* surface, const std::string& file) {
    std::string bytes;
    check_drawn(cairo_surface_write_to_png_stream(surface, append_to_string, &bytes), file);
    return bytes;
}

}  // namespace cursimeter::tool
