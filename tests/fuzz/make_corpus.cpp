#include <fmt/format.h>
#include <fmt/os.h>

#include <cursimeter/link/match.hpp>
#include <filesystem>

#include "link/scene.hpp"
#include "link/wire/exact_runner.hpp"
#include "link/wire/messages.hpp"

/// Writes the bodies of real packets, as seeds for the fuzz targets. usage: make_corpus FOLDER
namespace {

using namespace support;

void write(const std::filesystem::path& folder, const std::string& name, std::span<const std::byte> bytes) {
    std::filesystem::create_directories(folder);
    auto file = fmt::output_file((folder / name).string());
    for (const std::byte byte : bytes) {
        file.print("{}", static_cast<char>(byte));
    }
}

}  // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        fmt::print(stderr, "usage: make_corpus FOLDER\n");
        return 2;
    }
    const std::filesystem::path folder = argv[1];
    Table table;
    link::MatchRecorder recorder(table.server);
    table.server.record(&recorder);
    table.sit(1);
    table.sit(2);
    rehearsal::Random random(1);
    for (int i = 0; i < 400; ++i) {
        for (Intent& intent : table.intents) {
            if (random.chance(0.1)) {
                intent.move = {random.between(-1.0, 1.0), random.between(-1.0, 1.0)};
                intent.look = {random.between(-3.0, 3.0), 0.2};
                intent.held = static_cast<std::uint32_t>(random.below(64));
            }
        }
        table.tick();
    }
    std::size_t written = 0;
    const auto sort = [&](const std::vector<std::vector<std::byte>>& packets, std::size_t every) {
        for (std::size_t i = 0; i < packets.size(); i += i < 8 ? 1 : every) {
            const std::span<const std::byte> body = std::span(packets[i]).subspan(link::wire::envelope_bytes);
            switch (static_cast<link::wire::Kind>(packets[i][0])) {
                case link::wire::Kind::hello:
                    write(folder / "hello", std::to_string(i), body);
                    break;
                case link::wire::Kind::intents:
                    write(folder / "intents", std::to_string(i), body);
                    break;
                case link::wire::Kind::snapshot:
                    write(folder / "snapshot", std::to_string(i), body);
                    break;
                default:
                    continue;
            }
            ++written;
        }
    };
    // Greetings begin with a byte for their kind; the target puts in the token that it waits for.
    std::array<std::byte, link::wire::most_packet_bytes> greeting{};
    const auto greet = [&](std::uint8_t kind, std::size_t size) {
        greeting[link::wire::envelope_bytes - 1] = static_cast<std::byte>(kind);
        write(folder / "greeting", std::to_string(kind),
              std::span(greeting).subspan(link::wire::envelope_bytes - 1,
                                          size - link::wire::envelope_bytes + 1));
        ++written;
    };
    greet(0,
          link::wire::write_message(greeting, link::wire::Kind::challenge, link::wire::Challenge{0, 9}, 0));
    greet(1, link::wire::write_message(greeting, link::wire::Kind::welcome,
                                       link::wire::Welcome{0, 5, 0, 0, 100, 3, 8}, 0));
    greet(2, link::wire::write_message(greeting, link::wire::Kind::refusal,
                                       link::wire::Refused{0, link::Farewell::full, 16}, 0));
    sort(table.sent_up, 17);
    sort(table.sent_down, 11);
    for (const auto& [identity, key] : table.keys) {
        std::vector<std::byte> buffer(1000);
        link::wire::Writer writer(buffer);
        link::wire::write_runner(writer, table.server.runner(key));
        write(folder / "runner", std::to_string(identity), std::span(buffer).first(writer.finish()));
        ++written;
    }
    // Ticks of matches begin with a byte for their length.
    const link::Match match = link::read_match(recorder.bytes());
    std::vector<std::byte> ticks;
    for (std::size_t i = 0; i < match.blocks.size(); ++i) {
        const link::Match::Block& block = match.blocks[i];
        if (block.size < 256) {
            ticks.push_back(static_cast<std::byte>(block.size));
            const auto body = std::span(match.bytes).subspan(block.begin, block.size);
            ticks.insert(ticks.end(), body.begin(), body.end());
        }
        if (i % 16 == 15) {
            write(folder / "match", std::to_string(i), ticks);
            ++written;
        }
        if (ticks.size() > 700) {
            break;
        }
    }
    fmt::print("{} seeds\n", written);
    return 0;
}
