#include <algorithm>
#include <catch2/catch.hpp>
#include <cursimeter/link/tick.hpp>
#include <cursimeter/rehearsal/simulated_link.hpp>
#include <vector>

#include "link/wire/coder.hpp"
#include "link/wire/packet.hpp"
#include "link/wire/script.hpp"

using namespace cursimeter::link;
using namespace cursimeter::link::wire;
using cursimeter::rehearsal::Random;

namespace {

struct Item {
    int kind;
    std::uint32_t value;
    unsigned bits;
};
std::vector<Item> any_items(Random& random, int many) {
    std::vector<Item> items;
    for (int i = 0; i < many; ++i) {
        const auto kind = static_cast<int>(random.below(4));
        const auto bits = static_cast<unsigned>(1 + random.below(32));
        // Small numbers mostly, and the largest there are.
        const auto value = random.chance(0.05)
                               ? 0xffff'ffffU
                               : static_cast<std::uint32_t>(random.next() >> (32 + random.below(32)));
        items.push_back({kind, value, bits});
    }
    return items;
}

struct ItemModels {
    Model flag{0xe000};
    NumberModel counts, numbers;
};
void run(auto& coder, ItemModels& models, std::vector<Item>& all) {
    for (Item& item : all) {
        if (item.kind == 0) {
            bool value = (item.value & 1U) != 0;
            coder.bit(models.flag, value);
            item.value = value ? 1 : 0;
        } else if (item.kind == 1) {
            item.value &= item.bits == 32 ? ~0U : (1U << item.bits) - 1U;
            coder.bits(item.value, item.bits);
        } else if (item.kind == 2) {
            item.value = item.value == 0xffff'ffffU ? 0xffff'fffeU : item.value;
            count(coder, models.counts, item.value);
        } else {
            auto value = static_cast<std::int32_t>(item.value);
            number(coder, models.numbers, value);
            item.value = static_cast<std::uint32_t>(value);
        }
    }
}

}  // namespace

TEST_CASE(
    "What a writer writes a reader reads: flags, plain numbers, counts and signed numbers in any mixture") {
    for (std::uint64_t seed = 1; seed <= 300; ++seed) {
        Random random(seed);
        std::vector<Item> items = any_items(random, 200);
        std::vector<std::byte> buffer(4096);
        ItemModels models, again;
        Writer writer(buffer);
        run(writer, models, items);
        const std::size_t size = writer.finish();
        REQUIRE_FALSE(writer.overflowed());
        std::vector<Item> read = items;
        for (Item& item : read) {
            item.value = 0x5555'5555U;
        }
        Reader reader({buffer.data(), size});
        run(reader, again, read);
        for (std::size_t i = 0; i < items.size(); ++i) {
            INFO("seed " << seed << ", item " << i << " of kind " << items[i].kind);
            REQUIRE(read[i].value == items[i].value);
        }
    }
}

TEST_CASE("What is put down once takes the same bytes, and what does not fit was never written") {
    for (std::uint64_t seed = 1; seed <= 100; ++seed) {
        INFO("seed " << seed);
        Random random(seed);
        ItemModels names, models, played;
        Script script(in_a_row(names));
        std::vector<std::byte> plain(2000), by_script(plain.size());
        Writer writer(plain), player(by_script);
        Learnt learnt;
        for (int part = 0; part < 20; ++part) {
            std::vector<Item> items = any_items(random, static_cast<int>(random.below(20)));
            const std::size_t begin = script.size();
            run(script, names, items);
            const std::span<const Step> steps = script.steps(begin, script.size());
            if (random.chance(0.4)) {
                const Writer before = player;
                learnt.clear();
                learnt.note(steps, in_a_row(played));
                player.play(steps, in_a_row(played));
                player = before;
                learnt.restore(in_a_row(played));
                continue;
            }
            player.play(steps, in_a_row(played));
            run(writer, models, items);
        }
        REQUIRE(player.size() == writer.size());
        const std::size_t size = writer.finish();
        REQUIRE(player.finish() == size);
        CHECK(
            std::equal(plain.begin(), plain.begin() + static_cast<std::ptrdiff_t>(size), by_script.begin()));
        // Those that steps were put down by have learnt nothing.
        const ItemModels fresh;
        CHECK(std::ranges::equal(in_a_row(names), in_a_row(fresh), {}, &Model::zero, &Model::zero));
    }
}

TEST_CASE("A thousand flags that are nearly always the same take a few bytes") {
    std::vector<std::byte> buffer(400);
    Writer writer(buffer);
    Model model;
    for (int i = 0; i < 1000; ++i) {
        bool value = i == 500;
        writer.bit(model, value);
    }
    // 1,000 bits are 125 bytes when written plainly.
    CHECK(writer.finish() <= 12);
}

TEST_CASE("A buffer that is too small is told, and nothing is written past its end") {
    std::vector<std::byte> buffer(12, std::byte{0x5a});
    Writer writer({buffer.data(), 8});
    for (std::uint32_t i = 0; i < 8; ++i) {
        std::uint32_t value = 0x9e3779b9U * (i + 1);
        writer.bits(value, 32);
    }
    writer.finish();
    CHECK(writer.overflowed());
    for (std::size_t i = 8; i < 12; ++i) {
        CHECK(buffer[i] == std::byte{0x5a});
    }
}

TEST_CASE("A reader takes any bytes and any end, and its numbers stay within their bits") {
    Random random(9);
    for (int i = 0; i < 2000; ++i) {
        std::vector<std::byte> bytes(random.below(40));
        for (std::byte& byte : bytes) {
            byte = static_cast<std::byte>(random.next() & 0xffU);
        }
        Reader reader(bytes);
        NumberModel model;
        for (int k = 0; k < 100; ++k) {
            std::uint32_t value = 0;
            reader.bits(value, 5);
            REQUIRE(value < 32);
            std::uint32_t any = 0;
            count(reader, model, any);
        }
    }
}

TEST_CASE("Numbers of packets wrap round: low bits mean the nearest") {
    CHECK(expand(5, 3) == 5);
    CHECK(expand(0, 65535) == 65536);
    CHECK(expand(0xffff, 65536) == 65535);
    CHECK(expand(0xfff0, 0x2'0003) == 0x1'fff0);
    CHECK(Tick{3} - Tick{5} == -2);
    CHECK(Tick{2} - Tick{0xffff'ffff} == 3);
}

TEST_CASE("A stamp holds for its bytes, its kind and its key, and for nothing else") {
    std::vector<std::byte> packet(60);
    for (std::size_t i = 0; i < packet.size(); ++i) {
        packet[i] = static_cast<std::byte>(i * 37);
    }
    stamp(packet, Kind::intents, 1234);
    CHECK(is_stamped(packet, 1234));
    CHECK_FALSE(is_stamped(packet, 1235));
    CHECK_FALSE(is_stamped(std::span(packet).first(59), 1234));
    std::size_t held = 0;
    for (std::size_t bit = 0; bit < packet.size() * 8; ++bit) {
        packet[bit / 8] ^= static_cast<std::byte>(1U << (bit % 8));
        held += is_stamped(packet, 1234) ? 1 : 0;
        packet[bit / 8] ^= static_cast<std::byte>(1U << (bit % 8));
    }
    CHECK(held == 0);
    CHECK_FALSE(is_stamped({}, 0));
    CHECK_FALSE(is_stamped(std::vector<std::byte>(4), 0));
    CHECK_FALSE(is_stamped(std::vector<std::byte>(1201), 0));
}
