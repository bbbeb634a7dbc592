#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <span>

/// Bits on the wire: a binary range coder with adaptive models, after Martin (1979), with the carry handling of
/// Schindler's byte-wise coders. A flag that is nearly always the same costs a few hundredths of a bit.
///
/// Writer and Reader have the same functions, which take values by reference: a message is described once, as a
/// template over the coder, and read and written by the same lines (see docs/netcode.md for the bits).
namespace cursimeter::link::wire {

/// Probability that a bit is 0, in parts of 65,536, learnt while coding. Learns quickly first, then slowly.
class Model {
  public:
    constexpr Model() = default;
    constexpr explicit Model(std::uint16_t zero) : zero_and_seen_(zero) {}
    [[nodiscard]] std::uint32_t zero() const { return zero_and_seen_ & 0xffffU; }
    /// Without a branch: which flags come is what a processor cannot guess.
    void learn(bool bit) {
        const Pace& pace = paces[zero_and_seen_ >> 16U];
        const auto zero = static_cast<std::int32_t>(zero_and_seen_ & 0xffffU);
        const std::int32_t next = zero - ((zero - pace.towards[bit ? 1 : 0]) >> pace.shift);
        // Never so sure that a surprise would cost more than 11 bits.
        zero_and_seen_ = static_cast<std::uint32_t>(std::min(std::max(next, 32), 65504)) | pace.seen;
    }

  private:
    /// How far it goes after so many bits: by an eighth of what is left, then a sixteenth, then a thirty-second, rounded down
    /// towards where it was.
    struct Pace {
        std::array<std::int32_t, 2> towards;  ///< by the bit that came
        std::int32_t shift;
        std::uint32_t seen;  ///< afterwards, in its place
    };
    static constexpr std::uint32_t most_seen = 13;  ///< more make no difference
    static constexpr std::array<Pace, most_seen + 1> paces = [] {
        std::array<Pace, most_seen + 1> made{};
        for (std::uint32_t seen = 0; seen <= most_seen; ++seen) {
            const std::int32_t shift = 3 + (seen > 3 ? 1 : 0) + (seen > 12 ? 1 : 0);
            made[seen] = {{65537 - (1 << shift), 0}, shift, std::min(seen + 1, most_seen) << 16U};
        }
        return made;
    }();

    std::uint32_t zero_and_seen_ =
        0x8000;  ///< one word, read and written at once: the seen bits above, as far as they count
};

/// Models of whole numbers: how many bits they have, then their leading bits.
struct NumberModel {
    constexpr NumberModel() = default;
    /// For numbers that are mostly 0.
    constexpr explicit NumberModel(std::uint16_t zero) { length[0] = Model(zero); }
    /// For numbers whose lengths are known beforehand: the probability, for each length, that it is this and no
    /// longer one.
    constexpr NumberModel(std::initializer_list<std::uint16_t> ends) {
        std::size_t i = 0;
        for (const std::uint16_t end : ends) {
            length[i++] = Model(end);
        }
    }
    std::array<Model, 33> length{};
    std::array<Model, 33> second{};
    Model sign;
};

/// What a message says, put down to be written into any packet: a flag with the place of its model among those of
/// the packet, or a plain number.
class Step {
  public:
    static Step flag(std::uint32_t model, bool value) {
        return Step{model << 1U | static_cast<std::uint32_t>(value)};
    }
    /// Of at most 16 bits.
    static Step plain(std::uint32_t value, unsigned bits) { return Step{is_plain | bits << 16U | value}; }
    [[nodiscard]] bool is_flag() const { return (code_ & is_plain) == 0; }
    [[nodiscard]] std::uint32_t model() const { return code_ >> 1U; }
    [[nodiscard]] bool value() const { return (code_ & 1U) != 0; }
    [[nodiscard]] std::uint32_t number() const { return code_ & 0xffffU; }
    [[nodiscard]] unsigned bits() const { return code_ >> 16U & 0x1fU; }

  private:
    explicit Step(std::uint32_t code) : code_(code) {}
    static constexpr std::uint32_t is_plain = 1U << 31U;
    std::uint32_t code_;
};

/// Writes into a buffer of fixed size; what does not fit is dropped and `overflowed` says so.
class Writer {
  public:
    static constexpr bool reads = false;
    explicit Writer(std::span<std::byte> buffer) : buffer_(buffer) {}

    void bit(Model& model, bool& value) {
        const std::uint32_t bound = (range_ >> 16U) * model.zero();
        if (value) {
            low_ += bound;
            range_ -= bound;
        } else {
            range_ = bound;
        }
        model.learn(value);
        normalise();
    }
    /// A plain number of up to 32 bits.
    template <class Number>
    void bits(Number& value, unsigned count) {
        auto left = static_cast<std::uint64_t>(value);
        while (count > 0) {
            const unsigned part = count < 16 ? count : 16;
            count -= part;
            const auto piece = static_cast<std::uint32_t>(left >> count) & ((1U << part) - 1U);
            range_ >>= part;
            low_ += std::uint64_t{range_} * piece;
            normalise();
        }
    }
    /// Writes what was put down, by the models of this packet.
    void play(std::span<const Step> steps, std::span<Model> models) {
        // Both are kept at hand: bytes that go out could be anything's.
        std::uint64_t low = low_;
        std::uint32_t range = range_;
        for (const Step step : steps) {
            if (step.is_flag()) {
                Model& model = models[step.model()];
                const std::uint32_t bound = (range >> 16U) * model.zero();
                // As in `bit`, without a branch, and with as little as can be between one range and the next.
                const std::uint32_t if_one = step.value() ? ~0U : 0U;
                low += bound & if_one;
                range = (bound ^ if_one) + ((range & if_one) - if_one);
                model.learn(step.value());
            } else {
                range >>= step.bits();
                low += std::uint64_t{range} * step.number();
            }
            while (range < 1U << 24U) {
                range <<= 8U;
                low_ = low;
                shift_out();
                low = low_;
            }
        }
        low_ = low;
        range_ = range;
    }
    /// Ends the message; returns its length in bytes. Zeros at the end are left out: readers supply them.
    std::size_t finish() {
        // Of the values that mean this message, the one with most zeros at its end.
        const std::uint64_t top = low_ + range_ - 1;
        for (unsigned zeros = 32; zeros-- > 0;) {
            const std::uint64_t rounded = top >> zeros << zeros;
            if (rounded >= low_) {
                low_ = rounded;
                break;
            }
        }
        for (int i = 0; i < 5; ++i) {
            shift_out();
        }
        while (size_ > 0 && size_ <= buffer_.size() && buffer_[size_ - 1] == std::byte{0}) {
            --size_;
        }
        return size_;
    }
    /// Bytes that the message has at least so far.
    [[nodiscard]] std::size_t size() const { return size_ + held_ + 4; }
    [[nodiscard]] bool overflowed() const { return size_ > buffer_.size(); }

  private:
    void normalise() {
        while (range_ < 1U << 24U) {
            range_ <<= 8U;
            shift_out();
        }
    }
    void put(std::uint32_t byte) {
        if (size_ < buffer_.size()) {
            buffer_[size_] = static_cast<std::byte>(byte & 0xffU);
        }
        ++size_;
    }
    /// The topmost byte of `low_` leaves, unless a carry could still change it.
    void shift_out() {
        if (low_ < 0xff00'0000U || low_ > 0xffff'ffffU) {
            const auto carry = static_cast<std::uint32_t>(low_ >> 32U);
            if (!first_) {
                put(cache_ + carry);
            }
            first_ = false;
            for (; held_ > 0; --held_) {
                put(0xffU + carry);
            }
            cache_ = static_cast<std::uint32_t>(low_ >> 24U) & 0xffU;
        } else {
            ++held_;
        }
        low_ = (low_ & 0x00ff'ffffU) << 8U;
    }

    std::span<std::byte> buffer_;
    std::size_t size_ = 0, held_ = 0;
    std::uint64_t low_ = 0;
    std::uint32_t range_ = 0xffff'ffffU;
    std::uint32_t cache_ = 0;
    bool first_ = true;  ///< the first byte out is always 0 and is not kept
};

/// Reads what a Writer wrote. Bytes past the end read as 0. Any bytes can be read: they mean something else, and
/// what is read must be bounded by its reader.
class Reader {
  public:
    static constexpr bool reads = true;
    explicit Reader(std::span<const std::byte> bytes) : bytes_(bytes) {
        for (int i = 0; i < 4; ++i) {
            code_ = code_ << 8U | next();
        }
    }

    void bit(Model& model, bool& value) {
        const std::uint32_t bound = (range_ >> 16U) * model.zero();
        value = code_ >= bound;
        if (value) {
            code_ -= bound;
            range_ -= bound;
        } else {
            range_ = bound;
        }
        model.learn(value);
        normalise();
    }
    template <class Number>
    void bits(Number& value, unsigned count) {
        std::uint64_t whole = 0;
        while (count > 0) {
            const unsigned part = count < 16 ? count : 16;
            count -= part;
            range_ >>= part;
            const std::uint32_t most = (1U << part) - 1U;
            const std::uint32_t piece = code_ / range_ < most ? code_ / range_ : most;
            code_ -= piece * range_;
            whole = whole << part | piece;
            normalise();
        }
        value = static_cast<Number>(whole);
    }

    /// Bytes of the message that have been looked at, less those that it looks ahead.
    [[nodiscard]] std::size_t used() const { return at_ > 4 ? at_ - 4 : 0; }

  private:
    std::uint32_t next() { return at_ < bytes_.size() ? std::to_integer<std::uint32_t>(bytes_[at_++]) : 0U; }
    void normalise() {
        while (range_ < 1U << 24U) {
            range_ <<= 8U;
            code_ = code_ << 8U | next();
        }
    }

    std::span<const std::byte> bytes_;
    std::size_t at_ = 0;
    std::uint32_t code_ = 0;
    std::uint32_t range_ = 0xffff'ffffU;
};

/// A whole number of 0 or more, below 2^32: small ones take few bits.
template <class Coder>
void count(Coder& coder, NumberModel& model, std::uint32_t& value) {
    // value + 1 has `length` + 1 bits: first how many, in unary, then those after the leading one.
    std::uint64_t raised = std::uint64_t{value} + 1;
    unsigned length = Coder::reads ? 0U : static_cast<unsigned>(std::bit_width(raised)) - 1U;
    for (unsigned i = 0; i <= 32; ++i) {
        bool more = i < length;
        coder.bit(model.length[i], more);
        if (!more) {
            length = i;
            break;
        }
        length = Coder::reads ? i + 1 : length;
    }
    length = length < 32 ? length : 32;
    if (length > 0) {
        bool second = (raised >> (length - 1) & 1U) != 0;
        coder.bit(model.second[length], second);
        std::uint64_t rest = raised & ((std::uint64_t{1} << (length - 1)) - 1);
        coder.bits(rest, length - 1);
        raised = std::uint64_t{1} << length | std::uint64_t{second} << (length - 1) | rest;
    } else {
        raised = 1;
    }
    value = static_cast<std::uint32_t>(raised - 1);
}

/// A whole number of either sign.
template <class Coder>
void number(Coder& coder, NumberModel& model, std::int32_t& value) {
    std::uint32_t size =
        value < 0 ? 0U - static_cast<std::uint32_t>(value) : static_cast<std::uint32_t>(value);
    count(coder, model, size);
    bool negative = value < 0;
    if (size != 0) {
        coder.bit(model.sign, negative);
    }
    value = static_cast<std::int32_t>(size != 0 && negative ? 0U - size : size);
}

/// `value` as its difference to what the reader expects; 32 bits, wrapping.
template <class Coder, class Number>
void against(Coder& coder, NumberModel& model, Number& value, Number expected) {
    auto difference =
        static_cast<std::int32_t>(static_cast<std::uint32_t>(value) - static_cast<std::uint32_t>(expected));
    number(coder, model, difference);
    value =
        static_cast<Number>(static_cast<std::uint32_t>(expected) + static_cast<std::uint32_t>(difference));
}

}  // namespace cursimeter::link::wire
