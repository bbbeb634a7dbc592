#include "files/errors.hpp"

#include <fmt/format.h>

#include <unistd.h>

#include <cstdlib>
#include <nlohmann/json.hpp>

namespace cursimeter::tool {

std::string error_text(const Diagnostic& error, bool colours) {
    const std::string place = error.place();
    return fmt::format("{}: {}error:{} {}", place.empty() ? "cursimeter" : place, colours ? "\x1b[1;31m" : "",
                       colours ? "\x1b[0m" : "", error.message());
}

bool takes_colours(std::FILE* stream) {
    const char *none = std::getenv("NO_COLOR"), *terminal = std::getenv("TERM");
    return ::isatty(::fileno(stream)) == 1 && (none == nullptr || *none == '\0') && terminal != nullptr &&
           std::string_view(terminal) != "dumb";
}

std::string errors_json(const std::vector<Diagnostic>& errors) {
    using nlohmann::ordered_json;
    ordered_json json{{"errors", ordered_json::array()}};
    for (const Diagnostic& error : errors) {
        json["errors"].push_back({{"file", error.file},
                                  {"line", error.line},
                                  {"column", error.column},
                                  {"path", error.path},
                                  {"what", error.what},
                                  {"mend", error.mend}});
    }
    // Names that are no UTF-8 must not keep a program from reading what is wrong with them.
    return json.dump(2, ' ', false, ordered_json::error_handler_t::replace) + "\n";
}

}  // namespace cursimeter::tool
