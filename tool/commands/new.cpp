#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/diagnostics.hpp>
#include <filesystem>

#include "commands/commands.hpp"
#include "files/files.hpp"
#include "starter/texts.hpp"

namespace cursimeter::tool {
namespace {

/// A template with the name put in.
std::string filled(std::string_view text, const std::string& name) {
    constexpr std::string_view mark = "@NAME@";
    std::string made;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t next = std::min(text.find(mark, at), text.size());
        made += text.substr(at, next - at);
        made += next < text.size() ? name : std::string();
        at = next + mark.size();
    }
    return made;
}

}  // namespace

int new_command(const NewOptions& options) {
    const auto plain = [](char c) { return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_'; };
    if (options.name.empty() || options.name.size() > 64 ||
        !std::all_of(options.name.begin(), options.name.end(), plain) ||
        !(options.name[0] >= 'a' && options.name[0] <= 'z')) {
        throw ChartError({{"NAME",
                           fmt::format("'{}' cannot be a name", options.name),
                           "names are a letter, then letters, digits and _, all in lower case, 64 at most",
                           {},
                           0,
                           0}});
    }
    const std::filesystem::path place(options.folder);
    const std::filesystem::path folder = options.game ? (place / options.name).lexically_normal() : place;
    struct Fresh {
        std::string file;
        std::string_view text;
    };
    const auto of = [&](const std::string& name) { return (folder / name).string(); };
    std::vector<Fresh> fresh{{of(options.name + ".chart.toml"), starter::chart},
                             {of(options.name + ".drill.toml"), starter::drill},
                             {of(options.name + ".course.toml"), starter::course}};
    if (options.game) {
        fresh.insert(fresh.end(), {{of(options.name + ".controls.toml"), starter::controls},
                                   {of("main.cpp"), starter::main},
                                   {of("window.hpp"), starter::window},
                                   {of("CMakeLists.txt"), starter::cmake},
                                   {of("README.md"), starter::readme}});
    }
    for (const Fresh& one : fresh) {
        if (std::filesystem::exists(one.file)) {
            throw ChartError({{"", "is there already and was left as it is", "choose another name or folder",
                               one.file, 0, 0}});
        }
    }
    if (options.game) {
        std::error_code failed;
        std::filesystem::create_directories(folder, failed);
        if (failed) {
            throw ChartError({{"", "cannot be made: " + failed.message(), "choose another folder",
                               folder.string(), 0, 0}});
        }
    }
    for (const Fresh& one : fresh) {
        write_text(one.file, filled(one.text, options.name));
        fmt::print("wrote {}\n", one.file);
    }
    if (options.game) {
        fmt::print(
            "once:     apt-get install libsdl2-dev libimgui-dev libgl-dev, and scripts/install in the folder "
            "of Cursimeter\n"
            "build it: cmake -S {0} -B {0}/build -G Ninja && cmake --build {0}/build\n"
            "play it:  cd {0} && build/{1}\n",
            folder.string(), options.name);
    }
    fmt::print("try: cursimeter {0} {1}{2} --course {3}\n", options.game ? "try" : "run", fresh[0].file,
               options.game ? std::string() : " --drill " + fresh[1].file, fresh[2].file);
    return 0;
}

}  // namespace cursimeter::tool
