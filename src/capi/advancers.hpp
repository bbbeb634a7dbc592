#pragma once

#include <cursimeter/cursimeter_link.h>

#include <cursimeter/link/protocol.hpp>
#include <optional>
#include <span>

#include "capi/boundary.hpp"
#include "capi/intents.hpp"

/// The advancer of a C program, as the servers and clients of the link call it.
namespace cursimeter::capi {

/// What a server's or client's advancer is handed: its charts, and room for the others.
struct Cast {
    std::vector<cursimeter_chart> charts;
    std::vector<cursimeter_neighbour> others;
    /// Copies the caller's charts. False if one is null, or there is none.
    bool take_in(cursimeter_chart* const* given, std::size_t count, std::size_t runners);
    [[nodiscard]] std::vector<Chart> list() const;
    /// Which of the charts it is: two of one digest are one.
    [[nodiscard]] std::size_t index_of(const Chart& chart) const noexcept;
};

inline cursimeter_runner_key key_of(link::RunnerKey key) noexcept {
    return static_cast<cursimeter_runner_key>(key.place | static_cast<std::uint32_t>(key.life) << 16U);
}
inline link::RunnerKey key_of(cursimeter_runner_key key) noexcept {
    return {static_cast<std::uint16_t>(key & 0xffffU), static_cast<std::uint16_t>(key >> 16U)};
}
/// An event of a runner elsewhere.
cursimeter_remote_event told_of(const link::RemoteEvent& event) noexcept;
/// Writes as many keys as there is room for.
std::size_t put_keys(std::span<const link::RunnerKey> keys, cursimeter_runner_key* out,
                     std::size_t room) noexcept;
inline std::span<const std::byte> bytes_of(const void* bytes, std::size_t length) noexcept {
    return bytes == nullptr ? std::span<const std::byte>()
                            : std::span(static_cast<const std::byte*>(bytes), length);
}
/// CURSIMETER_NO without bytes.
cursimeter_status put_bytes(std::optional<std::span<const std::byte>> bytes, const void** out,
                            std::size_t* length) noexcept;

class CalledAdvancer final : public link::Advancer {
  public:
    /// `given` may be null: open ground. The cast must live as long as this.
    CalledAdvancer(Cast& cast, const cursimeter_advancer* given) noexcept
        : cast_(cast), ok_(given == nullptr || take_in(given, known_)) {}
    /// False if `given` has no size.
    [[nodiscard]] bool ok() const noexcept { return ok_; }
    [[nodiscard]] Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                        const link::AdvanceContext& context) noexcept override;
    [[nodiscard]] bool wants_others() const noexcept override {
        return known_.advance != nullptr && known_.wants_others != 0;
    }

  private:
    Cast& cast_;
    cursimeter_advancer known_ = CURSIMETER_ADVANCER_INIT;
    bool ok_;
};

/// A packet for whoever predicts: a client, or a game of peers, and the charts that it was made with.
template <class Predicting>
cursimeter_status receive_by(Predicting& predicting, Cast& cast, const void* bytes, std::size_t length,
                             const cursimeter_advancer* advancer) noexcept {
    CalledAdvancer called(cast, advancer);
    if ((bytes == nullptr && length > 0) || !called.ok()) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    predicting.receive(bytes_of(bytes, length), called);
    return CURSIMETER_OK;
}
/// A tick of it.
template <class Predicting>
cursimeter_status tick_by(Predicting& predicting, Cast& cast, const cursimeter_intent* intent,
                          const cursimeter_advancer* advancer, const void* extra,
                          std::size_t length) noexcept {
    ReadIntent read;
    link::ExtraBytes riding;
    CalledAdvancer called(cast, advancer);
    if (!read.take_in(intent) || (extra == nullptr && length > 0) || !riding.add(bytes_of(extra, length)) ||
        !called.ok()) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    predicting.tick(read.intent(), called, riding);
    return CURSIMETER_OK;
}
/// The next event of runners elsewhere, and the digest after a tick of the last seconds.
template <class Predicting>
cursimeter_status next_event_of(Predicting& predicting, cursimeter_remote_event* out) noexcept {
    if (out == nullptr || out->size < sizeof(*out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto event = predicting.next_event();
    if (!event) {
        return CURSIMETER_NO;
    }
    return hand_out(told_of(*event), out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}
inline cursimeter_status put_digest(std::optional<std::uint64_t> known, std::uint64_t* digest) noexcept {
    *digest = known.value_or(0);
    return known ? CURSIMETER_OK : CURSIMETER_NO;
}
template <class Predicting>
cursimeter_status digest_of(const Predicting& predicting, std::uint32_t tick,
                            std::uint64_t* digest) noexcept {
    if (digest == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return put_digest(predicting.digest_at({tick}), digest);
}

}  // namespace cursimeter::capi
