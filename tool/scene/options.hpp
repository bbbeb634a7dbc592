#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>

/// What a command says of the run that it looks at.
namespace cursimeter::tool {

/// The run that a command looks at: of a drill, or of a take.
struct SceneOptions {
    std::string chart;  ///< may be left out with a take: then its own
    std::string drill;
    std::string from;               ///< take file, instead of a drill
    std::string course;             ///< empty: open flat ground, or the take's
    double rate = 60.0;             ///< ticks a second
    std::optional<double> seconds;  ///< the drill's length if not given
};

/// A server and clients over a simulated link. Times in ms and parts in percent, as people say them.
struct NetOptions {
    std::string chart;
    std::string drill;           ///< empty: hands
    std::string hands{"human"};  ///< or "calm"
    std::string course;
    std::size_t clients = 3;
    std::size_t players = 1;  ///< at each client
    std::size_t peers = 0;    ///< players without a server; 0: a server and clients
    double seconds = 60.0;
    double rate = 60.0;                                    ///< ticks a second
    double snapshots = 20.0;                               ///< a second
    double delay = 0.0;                                    ///< ms, one way
    double jitter = 0.0;                                   ///< ms, more or less
    double loss = 0.0;                                     ///< %
    double burst = 0.0;                                    ///< ms
    double duplicate = 0.0, reorder = 0.0, corrupt = 0.0;  ///< %
    double bandwidth = 0.0;                                ///< kB/s; 0: any
    double frames = 144.0;  ///< turns of the clients' loops a second; 0: as needed
    double stall = 0.0;     ///< ms for which a client's program stands still, each 10 s
    bool sealed = false;
    std::uint64_t seed = 1;
    std::string picture;  ///< PNG or SVG file; empty: none
    std::string match;    ///< file for the match; empty: none
    bool json = false;
};

}  // namespace cursimeter::tool
