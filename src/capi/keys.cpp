#include <cursimeter/cursimeter_link.h>

#include <cursimeter/link/protocol.hpp>
#include <cursimeter/link/seal.hpp>

#include "capi/boundary.hpp"

using namespace cursimeter;

static_assert(CURSIMETER_PACKET_BYTES == link::packet_bytes);
static_assert(CURSIMETER_LONGEST_MESSAGE == link::longest_message);
static_assert(CURSIMETER_LONGEST_TICKET == link::longest_ticket);
static_assert(CURSIMETER_EXTRA_BYTES == link::ExtraBytes::most);
static_assert(CURSIMETER_KEY_BYTES == sizeof(link::PublicKey) &&
              CURSIMETER_KEY_BYTES == sizeof(link::SecretKey));
static_assert(CURSIMETER_FAREWELL_TURNED_AWAY == static_cast<int>(link::Farewell::turned_away));

extern "C" {

uint64_t cursimeter_random_number(void) {
    return link::random_number();
}

cursimeter_status cursimeter_make_keys(uint8_t secret[CURSIMETER_KEY_BYTES],
                                       uint8_t open[CURSIMETER_KEY_BYTES], cursimeter_error* error) {
    if (secret == nullptr || open == nullptr) {
        return capi::bad_argument(error, secret == nullptr ? "secret" : "open");
    }
    return capi::guarded(error, [&] {
        const link::KeyPair pair = link::make_key_pair();
        std::copy(pair.secret.bytes.begin(), pair.secret.bytes.end(), secret);
        std::copy(pair.open.bytes.begin(), pair.open.bytes.end(), open);
        return CURSIMETER_OK;
    });
}

cursimeter_status cursimeter_public_key(const uint8_t secret[CURSIMETER_KEY_BYTES],
                                        uint8_t open[CURSIMETER_KEY_BYTES], cursimeter_error* error) {
    if (secret == nullptr || open == nullptr) {
        return capi::bad_argument(error, secret == nullptr ? "secret" : "open");
    }
    return capi::guarded(error, [&] {
        link::SecretKey kept;
        std::copy_n(secret, kept.bytes.size(), kept.bytes.begin());
        const link::KeyPair pair = link::key_pair_of(kept);
        std::copy(pair.open.bytes.begin(), pair.open.bytes.end(), open);
        return CURSIMETER_OK;
    });
}

size_t cursimeter_describe_farewell(int32_t farewell, uint32_t detail, char* buffer, size_t size) {
    std::string text;
    if (farewell >= 0 && farewell <= CURSIMETER_FAREWELL_TURNED_AWAY) {
        static_cast<void>(capi::guarded(nullptr, [&] {
            text = link::describe_farewell(static_cast<link::Farewell>(farewell), detail);
            return CURSIMETER_OK;
        }));
    }
    return capi::put_text(text, buffer, size);
}

}  // extern "C"
