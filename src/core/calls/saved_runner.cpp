#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/saved_runner.hpp>

#include "core/calls/carrier.hpp"
#include "core/chart/recording_bytes.hpp"
#include "core/numbers/digest.hpp"
#include "core/runner/field_words.hpp"
#include "core/runner/pair.hpp"
#include "core/runner/plausible.hpp"

namespace cursimeter {
namespace {

using detail::ByteReader;
using detail::ChartData;

constexpr std::string_view heading = "runner-";
/// Counts up whenever fields.hpp changes, or what follows here.
constexpr std::string_view version = "1";
constexpr std::size_t longest_saved = 100'000;
constexpr std::size_t most_words = 1024;

[[noreturn]] void refuse(const std::string& what, const std::string& mend) {
    throw ChartError({{"saved runner", what, mend, {}, 0, 0}});
}
[[noreturn]] void refuse_damaged() {
    refuse("is damaged", "it has to be kept letter by letter, as save_runner wrote it");
}

void put_name(std::vector<std::byte>& to, const std::string& name) {
    detail::put_number(to, name.size(), 1);
    detail::put_letters(to, name);
}
std::string get_name(ByteReader& from) {
    const auto size = static_cast<std::size_t>(from.get(1));
    if (size > from.left()) {
        refuse_damaged();
    }
    const std::span<const std::byte> letters = from.skip(size);
    return {reinterpret_cast<const char*>(letters.data()), letters.size()};
}

/// Name and former name of each thing in a list, and one small number.
template <class Thing, class Number>
void put_list(std::vector<std::byte>& to, const std::vector<Thing>& list, Number&& number) {
    detail::put_number(to, list.size(), 1);
    for (const Thing& thing : list) {
        put_name(to, thing.name);
        put_name(to, thing.was);
        detail::put_number(to, number(thing), 1);
    }
}
template <class Thing, class Number>
void get_list(ByteReader& from, std::vector<Thing>& list, std::size_t most, Number&& number) {
    const auto size = static_cast<std::size_t>(from.get(1));
    if (size > most) {
        refuse_damaged();
    }
    for (std::size_t i = 0; i < size; ++i) {
        Thing& thing = list.emplace_back();
        thing.name = get_name(from);
        thing.was = get_name(from);
        number(thing, static_cast<std::uint8_t>(from.get(1)));
    }
}

/// What has to be known of a runner's chart to read its state with another one.
void put_lists(std::vector<std::byte>& to, const ChartData& chart) {
    const auto nothing = [](const auto&) { return 0U; };
    put_list(to, chart.states, nothing);
    put_list(to, chart.actions, [](const detail::CompiledAction& action) { return action.buffer_slot; });
    put_list(to, chart.meters, [](const detail::CompiledMeter& meter) { return meter.marks.size(); });
    put_list(to, chart.cooldowns, [](const detail::CompiledCooldown& cooldown) { return cooldown.charges; });
    put_list(to, chart.modifiers, nothing);
    put_list(to, chart.blocks, nothing);
    detail::put_number(to, chart.zones.size(), 1);
    for (const std::string& zone : chart.zones) {
        put_name(to, zone);
    }
    detail::put_number(to, chart.toggles, 4);
    detail::put_number(to, chart.buffered_count, 1);
}
ChartData get_lists(ByteReader& from) {
    ChartData chart;
    const auto nothing = [](auto&, std::uint8_t) {};
    get_list(from, chart.states, limits::states, nothing);
    get_list(from, chart.actions, limits::actions,
             [](detail::CompiledAction& action, std::uint8_t slot) { action.buffer_slot = slot; });
    get_list(from, chart.meters, limits::meters,
             [](detail::CompiledMeter& meter, std::uint8_t marks) { meter.marks.resize(marks); });
    get_list(from, chart.cooldowns, limits::cooldowns,
             [](detail::CompiledCooldown& cooldown, std::uint8_t charges) { cooldown.charges = charges; });
    get_list(from, chart.modifiers, limits::modifier_kinds, nothing);
    get_list(from, chart.blocks, limits::blocks, nothing);
    const auto zones = static_cast<std::size_t>(from.get(1));
    for (std::size_t i = 0; i < zones && i < limits::zones; ++i) {
        chart.zones.push_back(get_name(from));
    }
    chart.toggles = static_cast<detail::ActionMask>(from.get(4));
    chart.buffered_count = static_cast<std::uint8_t>(from.get(1));
    const bool fits =
        zones <= limits::zones && chart.buffered_count <= limits::buffers &&
        std::all_of(chart.actions.begin(), chart.actions.end(), [&](const auto& action) {
            return action.buffer_slot == detail::no_buffer || action.buffer_slot < chart.buffered_count;
        });
    if (!fits) {
        refuse_damaged();
    }
    return chart;
}

/// The number of bytes of each word, and those. Most words are 0.
void put_words(std::vector<std::byte>& to, const Runner& runner) {
    const std::size_t count_at = to.size();
    detail::put_number(to, 0, 2);
    std::size_t count = 0;
    detail::for_each_word(runner, [&](std::uint64_t word) {
        const auto bytes = static_cast<unsigned>(std::bit_width(word) + 7) / 8;
        detail::put_number(to, bytes, 1);
        detail::put_number(to, word, bytes);
        ++count;
    });
    to[count_at] = static_cast<std::byte>(count & 0xffU);
    to[count_at + 1] = static_cast<std::byte>(count >> 8U);
}
std::vector<std::uint64_t> get_words(ByteReader& from) {
    const auto count = static_cast<std::size_t>(from.get(2));
    std::vector<std::uint64_t> words;
    for (std::size_t i = 0; i < count && count <= most_words; ++i) {
        words.push_back(from.get(static_cast<unsigned>(std::min<std::uint64_t>(from.get(1), 8))));
    }
    return words;
}

std::uint64_t check_of(std::span<const std::byte> bytes) {
    detail::Digest check;
    for (const std::byte byte : bytes) {
        check.add(static_cast<std::uint64_t>(byte));
    }
    return check.value();
}

/// A digit is 0 to 9 and a to f; anything else is -1.
int digit_of(char letter) {
    return letter >= '0' && letter <= '9'   ? letter - '0'
           : letter >= 'a' && letter <= 'f' ? letter - 'a' + 10
                                            : -1;
}

std::vector<std::byte> bytes_of(std::string_view saved) {
    if (saved.size() > longest_saved || !saved.starts_with(heading)) {
        refuse("is none", "save_runner writes them");
    }
    saved.remove_prefix(heading.size());
    const std::string_view found = saved.substr(0, saved.find('-'));
    if (found != version) {
        refuse(fmt::format("is of version '{}'", found.substr(0, 12)),
               fmt::format("this version of the library reads version {}", version));
    }
    const std::string_view digits = saved.substr(std::min(saved.size(), version.size() + 1));
    if (digits.size() % 2 != 0) {
        refuse_damaged();
    }
    std::vector<std::byte> bytes;
    bytes.reserve(digits.size() / 2);
    for (std::size_t i = 0; i < digits.size(); i += 2) {
        const int high = digit_of(digits[i]), low = digit_of(digits[i + 1]);
        if (high < 0 || low < 0) {
            refuse_damaged();
        }
        bytes.push_back(static_cast<std::byte>(high * 16 + low));
    }
    return bytes;
}

}  // namespace

std::string save_runner(const Chart& chart, const Runner& runner) {
    static_cast<void>(detail::paired(chart, runner, "save_runner"));
    std::vector<std::byte> bytes;
    detail::put_number(bytes, chart.digest(), 8);
    detail::put_number(bytes, chart.naming(), 4);
    put_lists(bytes, chart.data());
    put_words(bytes, runner);
    detail::put_number(bytes, check_of(bytes), 8);
    std::string saved = fmt::format("{}{}-", heading, version);
    for (const std::byte byte : bytes) {
        saved += fmt::format("{:02x}", static_cast<unsigned>(byte));
    }
    return saved;
}

RestoredRunner restore_runner(const Chart& chart, std::string_view saved) {
    const std::vector<std::byte> bytes = bytes_of(saved);
    const std::string no_file;
    ByteReader reader(bytes, no_file);
    const std::uint64_t chart_digest = reader.get(8);
    const std::uint64_t naming = reader.get(4);
    ChartData from = get_lists(reader);
    const std::vector<std::uint64_t> words = get_words(reader);
    const std::size_t end = reader.at();
    const std::uint64_t check = reader.get(8);
    if (reader.over() || reader.left() != 0 || check != check_of(std::span(bytes).first(end))) {
        refuse_damaged();
    }
    from.tag = detail::tag_of(chart_digest);
    Runner then = spawn(chart);
    detail::RunnerState& state = detail::RunnerAccess::state(then);
    state = detail::RunnerState();
    state.meter_count = static_cast<std::uint8_t>(from.meters.size()) & 15U;
    if (!detail::fill_from_words(words, then) || !detail::plausible(from, state)) {
        refuse_damaged();
    }
    if (chart_digest == chart.digest() && naming == chart.naming()) {
        if (!detail::plausible(chart.data(), state)) {
            refuse_damaged();
        }
        return {then, true, {}};
    }
    RestoredRunner restored{spawn(chart, {then.position(), then.yaw()}), false, {}};
    restored.lost =
        detail::carry_state(from, state, chart.data(), detail::RunnerAccess::state(restored.runner));
    return restored;
}

}  // namespace cursimeter
