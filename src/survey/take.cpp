#include <fmt/format.h>

#include <bit>
#include <cstring>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/survey/script.hpp>

#include "core/chart/recording_bytes.hpp"
#include "survey/run_watched.hpp"
#include "survey/take_fields.hpp"

namespace cursimeter::survey {
namespace {

constexpr std::array<char, 8> magic{'c', 'u', 'r', 's', 't', 'a', 'k', 'e'};
constexpr std::uint32_t version = 3;

/// Parts of a tick that differ from the tick before and therefore follow.
enum Part : std::uint16_t {
    has_length = 1,
    has_move = 2,
    has_look = 4,
    has_held = 8,
    has_facing = 16,
    has_focus = 32,
    has_changes = 64,
    has_touch = 128,
    has_world_time = 256,
};

std::uint64_t bits_of(double value) {
    return std::bit_cast<std::uint64_t>(value);
}

}  // namespace

void TakeRecorder::put(std::uint64_t value, unsigned bytes) noexcept {
    detail::put_number(bytes_, value, bytes);
}

/// The number of fields, a bit for each that differs from the last time, and what of those differs.
void TakeRecorder::put_fields(const Fields& now) noexcept {
    put(now.count, 2);
    const bool same_row = now.count == last_.count;
    for (std::size_t first = 0; first < now.count; first += 8) {
        std::uint64_t mask = 0;
        for (std::size_t i = first; i < first + 8 && i < now.count; ++i) {
            mask |= std::uint64_t{!same_row || now.values[i] != last_.values[i]} << (i - first);
        }
        put(mask, 1);
    }
    for (std::size_t i = 0; i < now.count; ++i) {
        if (!same_row || now.values[i] != last_.values[i]) {
            const std::uint64_t changed = now.values[i] ^ (same_row ? last_.values[i] : 0);
            const auto bytes = static_cast<unsigned>(std::bit_width(changed) + 7) / 8;
            put(bytes, 1);
            put(changed, bytes);
        }
    }
    last_ = now;
}

void TakeRecorder::put_intent(const Intent& intent, Seconds dt, double world_time) noexcept {
    std::uint16_t parts = 0;
    parts = static_cast<std::uint16_t>(parts | (bits_of(dt.value) != bits_of(last_dt_) ? has_length : 0));
    parts = static_cast<std::uint16_t>(parts | (intent.move == last_intent_.move ? 0 : has_move));
    parts = static_cast<std::uint16_t>(parts | (intent.look == last_intent_.look ? 0 : has_look));
    parts = static_cast<std::uint16_t>(parts | (intent.held == last_intent_.held ? 0 : has_held));
    parts = static_cast<std::uint16_t>(parts | (intent.facing == last_intent_.facing ? 0 : has_facing));
    parts = static_cast<std::uint16_t>(parts | (intent.focus != nullptr ? has_focus : 0));
    parts = static_cast<std::uint16_t>(parts | (intent.changes.empty() ? 0 : has_changes));
    parts = static_cast<std::uint16_t>(parts |
                                       (bits_of(world_time) == bits_of(world_time_) ? 0 : has_world_time));
    put(parts, 2);
    if ((parts & has_length) != 0) {
        put(bits_of(dt.value), 8);
    }
    if ((parts & has_world_time) != 0) {
        put(bits_of(world_time), 8);
    }
    if ((parts & has_move) != 0) {
        put(bits_of(intent.move.forward), 8);
        put(bits_of(intent.move.side), 8);
    }
    if ((parts & has_look) != 0) {
        put(bits_of(intent.look.yaw), 8);
        put(bits_of(intent.look.pitch), 8);
    }
    if ((parts & has_held) != 0) {
        put(intent.held, 4);
    }
    if ((parts & has_facing) != 0) {
        put(static_cast<std::uint64_t>(intent.facing), 1);
    }
    if (intent.focus != nullptr) {
        const Focus& focus = *intent.focus;
        for (const double value : {focus.position.x, focus.position.y, focus.position.z, focus.velocity.x,
                                   focus.velocity.y, focus.velocity.z, focus.eye_height}) {
            put(bits_of(value), 8);
        }
    }
    if (!intent.changes.empty()) {
        put(intent.changes.size(), 1);
        for (const Change& change : intent.changes) {
            put(bits_of(change.at), 8);
            put(static_cast<std::uint64_t>(change.kind), 1);
            put(change.action.index, 1);
            put(bits_of(change.x), 8);
            put(bits_of(change.y), 8);
        }
    }
    last_dt_ = dt.value;
    world_time_ = world_time + dt.value;
    last_intent_ = intent;
    last_intent_.changes = {};
    last_intent_.focus = nullptr;
}

TakeRecorder::TakeRecorder(const Chart& chart, const Runner& runner, const TakeOrigin& origin,
                           std::size_t room) {
    const std::size_t texts = origin.chart.size() + origin.course.size() + origin.note.size();
    bytes_.reserve(std::max(room, 4 * largest_tick) + texts + largest_tick);
    detail::put_letters(bytes_, {magic.data(), magic.size()});
    put(version, 4);
    put(chart.digest(), 8);
    for (const std::string* text : {&origin.chart, &origin.course, &origin.note}) {
        detail::put_text(bytes_, *text);
    }
    Fields now;
    TakeFields::read(runner, now);
    put_fields(now);
    last_digest_ = digest(runner);
}

bool TakeRecorder::begin(const Runner& runner, const Intent& intent, Seconds dt,
                         std::optional<double> world_time) noexcept {
    constexpr std::size_t change_bytes = 26;
    const std::size_t needed = largest_tick / 2 + change_bytes * intent.changes.size();
    over_ = over_ || bytes_.capacity() - bytes_.size() < largest_tick + needed || intent.changes.size() > 255;
    if (over_) {
        return false;
    }
    const std::size_t at = bytes_.size();
    put_intent(intent, dt, world_time.value_or(world_time_));
    if (digest(runner) != last_digest_) {
        bytes_[at] |= std::byte{has_touch};
        Fields now;
        TakeFields::read(runner, now);
        put_fields(now);
    }
    return true;
}

bool TakeRecorder::end(const Runner& runner) noexcept {
    if (over_) {
        return false;
    }
    last_digest_ = digest(runner);
    Fields now;
    TakeFields::read(runner, now);
    put_fields(now);
    put(last_digest_, 8);
    ++ticks_;
    return true;
}

std::vector<std::byte> record(const Chart& chart, Script& script, const Course* course,
                              const TakeOrigin& origin) {
    TakeRecorder recorder(chart, script.begin(chart), origin);
    std::vector<std::byte> bytes;
    TickWatch watch;
    watch.begin = [&](const Runner& runner, const Script::Tick& tick, Seconds dt) {
        static_cast<void>(recorder.begin(runner, tick.intent, dt, tick.world_time));
    };
    watch.end = [&](const Runner& runner, const Report& /*report*/) {
        static_cast<void>(recorder.end(runner));
        bytes.insert(bytes.end(), recorder.bytes().begin(), recorder.bytes().end());
        recorder.clear();
    };
    static_cast<void>(run_watched(chart, script, course, false, watch));
    bytes.insert(bytes.end(), recorder.bytes().begin(), recorder.bytes().end());
    return bytes;
}

std::vector<std::byte> record(const Chart& chart, const Drill& drill, const Course* course,
                              std::span<const double> tick_ends, const TakeOrigin& origin) {
    DrillScript script(drill, tick_ends);
    return record(chart, script, course, origin);
}

namespace {

/// Reads a take's bytes; a tick that is cut off at the end is left out.
class TakeReader {
  public:
    TakeReader(std::span<const std::byte> bytes, const std::string& name) : reader_(bytes, name) {}

    Take read() {
        reader_.expect({magic.data(), magic.size()}, version, "take",
                       "record one with `cursimeter run --take`, or TakeRecorder");
        Take take;
        take.chart_digest = get(8);
        for (std::string* text : {&take.origin.chart, &take.origin.course, &take.origin.note}) {
            *text = reader_.text();
        }
        take.start = fields();
        if (reader_.over()) {
            reader_.refuse("is cut off in its heading", "the file is not whole");
        }
        while (reader_.left() > 0) {
            TakeTick tick = read_tick();
            if (reader_.over()) {
                take.cut_short = true;
                break;
            }
            take.ticks.push_back(std::move(tick));
        }
        for (TakeTick& tick : take.ticks) {
            tick.intent.changes = tick.changes;
            tick.intent.focus = tick.focus ? &*tick.focus : nullptr;
        }
        return take;
    }

  private:
    std::uint64_t get(unsigned bytes) { return reader_.get(bytes); }
    double get_real() { return reader_.get_real(); }

    std::vector<std::uint64_t> fields() {
        const std::size_t count = get(2);
        std::vector<std::uint64_t> now = last_.size() == count ? last_ : std::vector<std::uint64_t>(count);
        std::vector<std::uint8_t> masks;
        for (std::size_t first = 0; first < count; first += 8) {
            masks.push_back(static_cast<std::uint8_t>(get(1)));
        }
        for (std::size_t i = 0; i < count; ++i) {
            if ((masks[i / 8] >> (i % 8) & 1U) != 0) {
                const std::uint64_t bytes = get(1);
                if (bytes > 8) {
                    reader_.refuse("a field has more than 8 bytes", "the file is damaged");
                }
                now[i] ^= get(static_cast<unsigned>(bytes));
            }
        }
        last_ = now;
        return now;
    }

    TakeTick read_tick() {
        TakeTick tick;
        const std::uint64_t parts = get(2);
        length_ = (parts & has_length) != 0 ? get_real() : length_;
        tick.world_time = (parts & has_world_time) != 0 ? get_real() : world_time_;
        world_time_ = tick.world_time + length_;
        if ((parts & has_move) != 0) {
            intent_.move.forward = get_real();
            intent_.move.side = get_real();
        }
        if ((parts & has_look) != 0) {
            intent_.look.yaw = get_real();
            intent_.look.pitch = get_real();
        }
        intent_.held = (parts & has_held) != 0 ? static_cast<std::uint32_t>(get(4)) : intent_.held;
        if ((parts & has_facing) != 0) {
            const std::uint64_t facing = get(1);
            if (facing > 1) {
                reader_.refuse(fmt::format("has a facing {} in tick {}", facing, ticks_ + 1),
                               "0 and 1 are known");
            }
            intent_.facing = static_cast<Facing>(facing);
        }
        if ((parts & has_focus) != 0) {
            Focus focus;
            for (double* value : {&focus.position.x, &focus.position.y, &focus.position.z, &focus.velocity.x,
                                  &focus.velocity.y, &focus.velocity.z, &focus.eye_height}) {
                *value = get_real();
            }
            tick.focus = focus;
        }
        const std::uint64_t changes = (parts & has_changes) != 0 ? get(1) : 0;
        for (std::uint64_t i = 0; i < changes && !reader_.over(); ++i) {
            Change change;
            change.at = get_real();
            const std::uint64_t kind = get(1);
            if (kind > static_cast<std::uint64_t>(ChangeKind::look)) {
                reader_.refuse(fmt::format("has a change of kind {} in tick {}", kind, ticks_ + 1),
                               "0 to 3 are known");
            }
            change.kind = static_cast<ChangeKind>(kind);
            change.action.index = static_cast<std::uint8_t>(get(1));
            change.x = get_real();
            change.y = get_real();
            tick.changes.push_back(change);
        }
        tick.touched = (parts & has_touch) != 0;
        if (tick.touched) {
            tick.before = fields();
        }
        tick.fields = fields();
        tick.digest = get(8);
        tick.seconds = length_;
        tick.intent = intent_;
        ++ticks_;
        return tick;
    }

    detail::ByteReader reader_;
    std::size_t ticks_ = 0;
    std::vector<std::uint64_t> last_;
    Intent intent_;
    double length_ = 0.0, world_time_ = 0.0;
};

}  // namespace

Take read_take(std::span<const std::byte> bytes, const std::string& name) {
    return TakeReader(bytes, name).read();
}

}  // namespace cursimeter::survey
