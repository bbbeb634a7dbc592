#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <cursimeter/link/seal.hpp>
#include <optional>
#include <span>

/// What is taken from a library for security, and nothing of it is our own: guard_sodium.cpp takes it from libsodium.
/// guard_bare.cpp is for machines that have none: there nothing can be sealed, and a server is for trusted networks only.
namespace cursimeter::link::guard {

/// A keyed hash of a few words (SipHash-2-4), for cookies and session keys: from any number of its values nobody learns
/// the secret, or another value.
[[nodiscard]] std::uint64_t keyed_hash(std::uint64_t secret, std::span<const std::uint64_t> words) noexcept;

/// The keys of one session, one for each direction.
struct SessionKeys {
    std::array<std::uint8_t, 32> in{}, out{};
};
/// Both ends come to the same, with `in` and `out` exchanged. Nothing if the other's key is none.
[[nodiscard]] std::optional<SessionKeys> client_keys(const KeyPair& own, const PublicKey& server) noexcept;
[[nodiscard]] std::optional<SessionKeys> server_keys(const KeyPair& own, const PublicKey& client) noexcept;

inline constexpr std::size_t tag_bytes = 16, long_nonce_bytes = 24;

/// Packets of a session: the number may come once only under one key. `bytes` are encrypted where they stand.
void close(const std::array<std::uint8_t, 32>& key, std::uint64_t number, std::uint8_t kind,
           std::span<std::byte> bytes, std::span<std::byte, tag_bytes> tag) noexcept;
/// Whether they are whole and of this key; then they are decrypted to `to`, which is as long.
[[nodiscard]] bool open(const std::array<std::uint8_t, 32>& key, std::uint64_t number, std::uint8_t kind,
                        std::span<const std::byte> bytes, std::span<const std::byte, tag_bytes> tag,
                        std::span<std::byte> to) noexcept;

/// The same with a random nonce of its own, for what is said before there is a session. `bound` is what else it must have
/// been said with.
inline constexpr std::size_t letter_overhead = long_nonce_bytes + tag_bytes;
void close_letter(const std::array<std::uint8_t, 32>& key, std::uint64_t bound,
                  std::span<const std::byte> bytes, std::span<std::byte> to) noexcept;
[[nodiscard]] bool open_letter(const std::array<std::uint8_t, 32>& key, std::uint64_t bound,
                               std::span<const std::byte> bytes, std::span<std::byte> to) noexcept;

}  // namespace cursimeter::link::guard
