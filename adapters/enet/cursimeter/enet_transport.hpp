#pragma once

#include <cstddef>
#include <cstdint>
#include <cursimeter/link/protocol.hpp>
#include <memory>
#include <optional>
#include <span>
#include <stdexcept>
#include <string>

/// Packets of the link over UDP by ENet (libenet-dev). ENet keeps the connections; the link brings its own order,
/// acknowledgements and repeats, so packets go unsequenced and unreliable.
namespace cursimeter::enet {

/// A socket could not be opened, or a name not found.
struct TransportError : std::runtime_error {
    using std::runtime_error::runtime_error;
};

struct Received {
    link::PeerId from;
    std::span<const std::byte> bytes;  ///< valid until the next call of `receive`
    bool gone = false;                 ///< no bytes: the connection has ended; tell Server::disconnected
};

/// The server's end: one socket for all clients.
class ServerTransport {
  public:
    /// Port 0 takes any that is free. `peers` connections at most, 1 to 4,095. Throws TransportError.
    explicit ServerTransport(std::uint16_t port, std::size_t peers = 64);
    ~ServerTransport();
    ServerTransport(const ServerTransport&) = delete;
    ServerTransport& operator=(const ServerTransport&) = delete;

    [[nodiscard]] std::uint16_t port() const;
    /// The next packet that has come. Never waits.
    [[nodiscard]] std::optional<Received> receive();
    /// Does nothing if the peer is gone.
    void send(link::PeerId to, std::span<const std::byte> bytes);
    /// Hands everything that was sent to the system. Call it once a tick.
    void flush();

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

/// A client's end.
class ClientTransport {
  public:
    /// Begins to connect; packets go out once that is done, those before are dropped. Throws TransportError.
    ClientTransport(const std::string& host, std::uint16_t port);
    ~ClientTransport();
    ClientTransport(const ClientTransport&) = delete;
    ClientTransport& operator=(const ClientTransport&) = delete;

    [[nodiscard]] bool connected() const;
    [[nodiscard]] std::optional<std::span<const std::byte>> receive();
    void send(std::span<const std::byte> bytes);
    void flush();

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

}  // namespace cursimeter::enet
