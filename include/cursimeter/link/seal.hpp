#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

/// Sealed connections: everything that a client and its server say is encrypted and authenticated, so that anybody who can
/// read, change or forge packets learns nothing and moves nobody. Key exchange, encryption and random numbers are those of
/// libsodium (X25519, XChaCha20-Poly1305, ChaCha20-Poly1305). docs/netcode.md says what it keeps out, and what not.
namespace cursimeter::link {

/// Known to everybody: a game ships it with its clients, or its login hands it over.
struct PublicKey {
    std::array<std::uint8_t, 32> bytes{};
    friend bool operator==(const PublicKey&, const PublicKey&) = default;
};
/// Known to the server alone.
struct SecretKey {
    std::array<std::uint8_t, 32> bytes{};
};
struct KeyPair {
    PublicKey open;
    SecretKey secret;
};

/// Whether this build can seal: it was built with libsodium.
[[nodiscard]] bool can_seal() noexcept;
/// A new pair. Throws ChartError if this build cannot seal.
[[nodiscard]] KeyPair make_key_pair();
/// The pair of a secret key that was kept. Throws as above.
[[nodiscard]] KeyPair key_pair_of(const SecretKey& secret);
/// A number from the system's random source that nobody can guess, never 0: for `secret` and `identity`.
[[nodiscard]] std::uint64_t random_number();

/// 64 hexadecimal digits, to keep and to hand over.
[[nodiscard]] std::string to_text(const PublicKey& key);
[[nodiscard]] std::string to_text(const SecretKey& key);
/// Nothing unless the text is such digits.
[[nodiscard]] std::optional<PublicKey> public_key_from(std::string_view text);
[[nodiscard]] std::optional<SecretKey> secret_key_from(std::string_view text);

}  // namespace cursimeter::link
