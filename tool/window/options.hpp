#pragma once

#include <cstddef>
#include <string>

namespace cursimeter::tool {

/// What `try` is told.
struct TryOptions {
    std::string chart;
    std::string course;    ///< empty: a yard that fits the chart
    std::string drill;     ///< plays until a key is pressed; empty: none
    std::string controls;  ///< settings file; empty: keys by what actions are called
    std::string against;   ///< chart file of a ghost; empty: none
    double rate = 60.0;    ///< ticks a second
    std::string facing;    ///< "look" or "movement"; empty: as the drill says, or look
    bool network = false;
    std::string view{"behind"};
    std::string size{"1280x800"};
    double scale = 0.0;  ///< of text; 0: by the display
    // Without a person:
    std::size_t frames = 0;  ///< of 1/60 s each, then the window closes; 0: until it is closed
    std::string shot;        ///< PNG file for the last picture; empty: none
    std::string state_json;  ///< file that tells how things are, written anew as they change; empty: none
    std::string tab;         ///< that is open at the right: numbers, keys, record, network
    std::string look_for;    ///< words in the search of numbers
    std::string set;         ///< PATH=VALUE, turned as the window opens
};

}  // namespace cursimeter::tool
