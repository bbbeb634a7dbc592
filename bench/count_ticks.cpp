#include <cstdio>
#include <cstdlib>
#include <string>

#include "rows.hpp"

/// One row's loop for a number of ticks, for a tool that counts instructions: of two runs with different numbers, the difference
/// is that of the ticks alone. Without arguments it prints the list.
int main(int argc, char** argv) {
    const std::string side = argc > 1 ? argv[1] : "", input = argc > 2 ? argv[2] : "";
    const auto number = [&](int place) {
        return argc > place ? std::strtoul(argv[place], nullptr, 10) : 0UL;
    };
    for (const bench::Row& row : bench::rows()) {
        if (side != row.side || input != row.input) {
            continue;
        }
        const std::unique_ptr<bench::Loop> loop = row.make(number(3));
        const std::size_t ticks = number(4);
        double sum = 0.0;
        for (std::size_t tick = 0; tick < ticks; ++tick) {
            sum += loop->tick(tick);
        }
        std::printf("%.17g\n", sum);
        return 0;
    }
    std::puts("usage: count_ticks SIDE INPUT RUNNERS TICKS");
    for (const bench::Row& row : bench::rows()) {
        std::printf("%s %s\n", row.side.c_str(), row.input.c_str());
    }
    return argc > 1 ? 2 : 0;
}
