#include <algorithm>
#include <array>
#include <cursimeter/panels/network_graph.hpp>

#include "panels/words.hpp"

namespace cursimeter::panels {
namespace {

using tryout::alarm, tryout::faint, tryout::grid, tryout::ink, tryout::panel, tryout::sea;
constexpr std::size_t most_samples = 256;

/// Samples, the oldest first.
struct Samples {
    std::array<link::NetSample, most_samples> list{};
    std::size_t count = 0;
};

Samples samples_of(const link::Client& client) {
    Samples samples;
    while (samples.count < most_samples && client.sample(samples.count)) {
        ++samples.count;
    }
    for (std::size_t i = 0; i < samples.count; ++i) {
        samples.list[samples.count - 1 - i] = *client.sample(i);
    }
    return samples;
}

struct Curve {
    const char* name;
    const char* unit;
    tryout::Colour colour;
    double (*value)(const link::NetSample&);
    double least_scale;  ///< the plot's top at least
};

void plot(const Samples& samples, const Curve& curve) {
    const float text = ImGui::GetTextLineHeight(), height = 2.2F * text, label = 9.0F * text;
    const ImVec2 at = ImGui::GetCursorScreenPos();
    const float width = std::max(ImGui::GetContentRegionAvail().x, label + 40.0F);
    ImDrawList* draw = ImGui::GetWindowDrawList();
    double highest = curve.least_scale, newest = 0.0;
    for (std::size_t i = 0; i < samples.count; ++i) {
        newest = curve.value(samples.list[i]);
        highest = std::max(highest, newest);
    }
    draw->AddRectFilled({at.x + label, at.y}, {at.x + width, at.y + height}, packed(panel));
    for (std::size_t i = 0; i < samples.count; ++i) {
        const float x = at.x + label +
                        (width - label) * static_cast<float>(i + most_samples - samples.count) /
                            static_cast<float>(most_samples);
        const auto part = static_cast<float>(curve.value(samples.list[i]) / highest);
        draw->AddLine({x, at.y + height}, {x, at.y + height * (1.0F - part)}, packed(curve.colour), 1.5F);
    }
    draw->AddRect({at.x + label, at.y}, {at.x + width, at.y + height}, packed(grid));
    const ImVec2 after{at.x, at.y + height + ImGui::GetStyle().ItemSpacing.y};
    ImGui::SetCursorScreenPos(at);
    say(curve.name, ink);
    ImGui::SetCursorScreenPos({at.x, at.y + text});
    say(fmt::format("{:.4g} {}", newest, curve.unit), faint);
    ImGui::SetCursorScreenPos(after);
    ImGui::Dummy({0.0F, 0.0F});
}

}  // namespace

void show_network(const link::Client& client, double tick_rate) {
    const Samples samples = samples_of(client);
    const link::ClientStatistics& statistics = client.statistics();
    const Curve curves[] = {
        {"round trip", "ms", sea, [](const link::NetSample& s) { return s.round_trip.value * 1000.0; }, 50.0},
        {"in hand", "ms", tryout::state_colours[2],
         [](const link::NetSample& s) { return s.in_hand.value * 1000.0; }, 30.0},
        {"loss", "%", alarm, [](const link::NetSample& s) { return s.loss * 100.0; }, 10.0},
        {"corrections", "", alarm,
         [](const link::NetSample& s) { return static_cast<double>(s.corrections); }, 1.0},
        {"down", "bytes", tryout::lantern,
         [](const link::NetSample& s) { return static_cast<double>(s.bytes_in); }, 200.0},
        {"up", "bytes", tryout::state_colours[3],
         [](const link::NetSample& s) { return static_cast<double>(s.bytes_out); }, 200.0},
    };
    for (const Curve& curve : curves) {
        plot(samples, curve);
    }
    double up = 0.0, down = 0.0;
    const auto second = std::min(samples.count, static_cast<std::size_t>(tick_rate + 0.5));
    for (std::size_t i = samples.count - second; i < samples.count; ++i) {
        up += samples.list[i].bytes_out;
        down += samples.list[i].bytes_in;
    }
    say(fmt::format("{} corrections, at most {:.2f} m; {} ticks played again", statistics.corrections,
                    statistics.largest_correction, statistics.replayed),
        ink);
    say(fmt::format("the last second: {:.0f} bytes up, {:.0f} down", up, down), ink);
    say_wrapped(fmt::format("bytes down so far: own runner {}, others {}, messages {}",
                            statistics.own_bytes_in, statistics.others_bytes_in, statistics.message_bytes_in),
                faint);
    say_wrapped(
        fmt::format(
            "an input is played by the server {:.0f} ms after it was made; others are shown {:.0f} ms behind",
            statistics.input_delay / tick_rate * 1000.0, statistics.view_delay / tick_rate * 1000.0),
        faint);
}

}  // namespace cursimeter::panels
