#include <cursimeter/diagnostics.hpp>
#include <random>

#include "link/guard/guard.hpp"
#include "link/wire/packet.hpp"

/// For machines without libsodium. Nothing here keeps a secret.
namespace cursimeter::link {
namespace {

[[noreturn]] void cannot() {
    throw ChartError(
        {{"keys", "this build cannot seal", "build with libsodium (CURSIMETER_SODIUM=ON)", {}, 0, 0}});
}

}  // namespace

bool can_seal() noexcept {
    return false;
}
KeyPair make_key_pair() {
    cannot();
}
KeyPair key_pair_of(const SecretKey&) {
    cannot();
}

std::uint64_t random_number() {
    std::random_device source;
    return (std::uint64_t{source()} << 32U | source()) | 1U;
}

namespace guard {

std::uint64_t keyed_hash(std::uint64_t secret, std::span<const std::uint64_t> words) noexcept {
    std::uint64_t value = secret;
    for (const std::uint64_t word : words) {
        value = wire::mix(value, word);
    }
    return value;
}
std::optional<SessionKeys> client_keys(const KeyPair&, const PublicKey&) noexcept {
    return std::nullopt;
}
std::optional<SessionKeys> server_keys(const KeyPair&, const PublicKey&) noexcept {
    return std::nullopt;
}
void close(const std::array<std::uint8_t, 32>&, std::uint64_t, std::uint8_t, std::span<std::byte>,
           std::span<std::byte, tag_bytes>) noexcept {}
bool open(const std::array<std::uint8_t, 32>&, std::uint64_t, std::uint8_t, std::span<const std::byte>,
          std::span<const std::byte, tag_bytes>, std::span<std::byte>) noexcept {
    return false;
}
void close_letter(const std::array<std::uint8_t, 32>&, std::uint64_t, std::span<const std::byte>,
                  std::span<std::byte>) noexcept {}
bool open_letter(const std::array<std::uint8_t, 32>&, std::uint64_t, std::span<const std::byte>,
                 std::span<std::byte>) noexcept {
    return false;
}

}  // namespace guard
}  // namespace cursimeter::link
