#include <sodium.h>

#include <cstdlib>
#include <cstring>

#include "link/guard/guard.hpp"

namespace cursimeter::link {
namespace {

/// libsodium must be made ready before its random source is used. Doing it again costs nothing.
void make_ready() noexcept {
    if (sodium_init() < 0) {
        std::abort();  // the system gives no random numbers: nothing could be kept secret
    }
}

const unsigned char* in(std::span<const std::byte> bytes) {
    return reinterpret_cast<const unsigned char*>(bytes.data());
}
unsigned char* out(std::span<std::byte> bytes) {
    return reinterpret_cast<unsigned char*>(bytes.data());
}

template <std::size_t Size>
std::array<unsigned char, Size> little_endian(std::uint64_t value) {
    std::array<unsigned char, Size> bytes{};
    for (std::size_t i = 0; i < 8; ++i) {
        bytes[Size - 8 + i] = static_cast<unsigned char>(value >> (8 * i));
    }
    return bytes;
}

}  // namespace

bool can_seal() noexcept {
    return true;
}

KeyPair make_key_pair() {
    make_ready();
    KeyPair pair;
    crypto_kx_keypair(pair.open.bytes.data(), pair.secret.bytes.data());
    return pair;
}

KeyPair key_pair_of(const SecretKey& secret) {
    KeyPair pair;
    pair.secret = secret;
    crypto_scalarmult_base(pair.open.bytes.data(), secret.bytes.data());
    return pair;
}

std::uint64_t random_number() {
    make_ready();
    std::uint64_t number = 0;
    while (number == 0) {
        randombytes_buf(&number, sizeof number);
    }
    return number;
}

namespace guard {

std::uint64_t keyed_hash(std::uint64_t secret, std::span<const std::uint64_t> words) noexcept {
    static_assert(crypto_shorthash_KEYBYTES == 16 && crypto_shorthash_BYTES == 8);
    std::array<unsigned char, 16> key = little_endian<16>(secret);
    std::array<unsigned char, 64> text{};
    std::size_t size = 0;
    for (const std::uint64_t word : words) {
        for (unsigned i = 0; i < 8 && size < text.size(); ++i) {
            text[size++] = static_cast<unsigned char>(word >> (8 * i));
        }
    }
    std::array<unsigned char, 8> hash{};
    crypto_shorthash(hash.data(), text.data(), size, key.data());
    std::uint64_t value = 0;
    for (std::size_t i = 0; i < 8; ++i) {
        value |= std::uint64_t{hash[i]} << (8 * i);
    }
    return value;
}

std::optional<SessionKeys> client_keys(const KeyPair& own, const PublicKey& server) noexcept {
    SessionKeys keys;
    if (crypto_kx_client_session_keys(keys.in.data(), keys.out.data(), own.open.bytes.data(),
                                      own.secret.bytes.data(), server.bytes.data()) != 0) {
        return std::nullopt;
    }
    return keys;
}

std::optional<SessionKeys> server_keys(const KeyPair& own, const PublicKey& client) noexcept {
    SessionKeys keys;
    if (crypto_kx_server_session_keys(keys.in.data(), keys.out.data(), own.open.bytes.data(),
                                      own.secret.bytes.data(), client.bytes.data()) != 0) {
        return std::nullopt;
    }
    return keys;
}

void close(const std::array<std::uint8_t, 32>& key, std::uint64_t number, std::uint8_t kind,
           std::span<std::byte> bytes, std::span<std::byte, tag_bytes> tag) noexcept {
    static_assert(crypto_aead_chacha20poly1305_ietf_ABYTES == tag_bytes);
    const auto nonce = little_endian<crypto_aead_chacha20poly1305_ietf_NPUBBYTES>(number);
    crypto_aead_chacha20poly1305_ietf_encrypt_detached(out(bytes), out(tag), nullptr, in(bytes), bytes.size(),
                                                       &kind, 1, nullptr, nonce.data(), key.data());
}

bool open(const std::array<std::uint8_t, 32>& key, std::uint64_t number, std::uint8_t kind,
          std::span<const std::byte> bytes, std::span<const std::byte, tag_bytes> tag,
          std::span<std::byte> to) noexcept {
    const auto nonce = little_endian<crypto_aead_chacha20poly1305_ietf_NPUBBYTES>(number);
    return crypto_aead_chacha20poly1305_ietf_decrypt_detached(
               out(to), nullptr, in(bytes), bytes.size(), in(tag), &kind, 1, nonce.data(), key.data()) == 0;
}

void close_letter(const std::array<std::uint8_t, 32>& key, std::uint64_t bound,
                  std::span<const std::byte> bytes, std::span<std::byte> to) noexcept {
    static_assert(crypto_aead_xchacha20poly1305_ietf_NPUBBYTES == long_nonce_bytes &&
                  crypto_aead_xchacha20poly1305_ietf_ABYTES == tag_bytes);
    make_ready();
    randombytes_buf(to.data(), long_nonce_bytes);
    const auto with = little_endian<8>(bound);
    crypto_aead_xchacha20poly1305_ietf_encrypt(out(to.subspan(long_nonce_bytes)), nullptr, in(bytes),
                                               bytes.size(), with.data(), with.size(), nullptr, in(to),
                                               key.data());
}

bool open_letter(const std::array<std::uint8_t, 32>& key, std::uint64_t bound,
                 std::span<const std::byte> bytes, std::span<std::byte> to) noexcept {
    const auto with = little_endian<8>(bound);
    return bytes.size() >= letter_overhead && to.size() >= bytes.size() - letter_overhead &&
           crypto_aead_xchacha20poly1305_ietf_decrypt(
               out(to), nullptr, nullptr, in(bytes.subspan(long_nonce_bytes)),
               bytes.size() - long_nonce_bytes, with.data(), with.size(), in(bytes), key.data()) == 0;
}

}  // namespace guard
}  // namespace cursimeter::link
