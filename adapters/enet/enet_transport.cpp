#include "cursimeter/enet_transport.hpp"

#include <enet/enet.h>

#include <vector>

namespace cursimeter::enet {
namespace {

constexpr std::size_t channels = 1;
/// ms that a client waits at most for its end to be heard.
constexpr int longest_farewell = 200;

/// ENet wants to be told once per process.
void initialise() {
    static const bool ready = enet_initialize() == 0;
    if (!ready) {
        throw TransportError("the network cannot be used: enet_initialize failed");
    }
}

struct HostEnd {
    void operator()(ENetHost* host) const { enet_host_destroy(host); }
};
struct PacketEnd {
    void operator()(ENetPacket* packet) const { enet_packet_destroy(packet); }
};
using Host = std::unique_ptr<ENetHost, HostEnd>;
using Packet = std::unique_ptr<ENetPacket, PacketEnd>;

/// ENet drops unreliable packets by a throttle that it learns from round trips; the link does better by itself.
void unthrottle(ENetPeer* peer) {
    enet_peer_throttle_configure(peer, ENET_PEER_PACKET_THROTTLE_INTERVAL, ENET_PEER_PACKET_THROTTLE_SCALE,
                                 0);
}

void send_to(ENetPeer* peer, std::span<const std::byte> bytes) {
    ENetPacket* packet = enet_packet_create(bytes.data(), bytes.size(), ENET_PACKET_FLAG_UNSEQUENCED);
    if (packet != nullptr && enet_peer_send(peer, 0, packet) != 0) {
        enet_packet_destroy(packet);
    }
}

std::span<const std::byte> bytes_of(const Packet& packet) {
    return {reinterpret_cast<const std::byte*>(packet->data), packet->dataLength};
}

}  // namespace

struct ServerTransport::Work {
    Host host;
    Packet packet;
    std::vector<link::PeerId> known;  ///< by ENet's number

    /// The same address that connects again is another peer.
    static link::PeerId id_of(const ENetPeer* peer) {
        return {std::uint64_t{peer->connectID} << 16U | peer->incomingPeerID};
    }
};

ServerTransport::ServerTransport(std::uint16_t port, std::size_t peers) : work_(std::make_unique<Work>()) {
    initialise();
    ENetAddress address{};
    address.host = ENET_HOST_ANY;
    address.port = port;
    work_->host.reset(enet_host_create(&address, peers, channels, 0, 0));
    work_->known.resize(peers);
    if (work_->host == nullptr) {
        throw TransportError("port " + std::to_string(port) +
                             " cannot be opened; is it in use? Port 0 takes a free one");
    }
}
ServerTransport::~ServerTransport() = default;

std::uint16_t ServerTransport::port() const {
    return work_->host->address.port;
}

std::optional<Received> ServerTransport::receive() {
    ENetEvent event{};
    while (enet_host_service(work_->host.get(), &event, 0) > 0) {
        if (event.type == ENET_EVENT_TYPE_CONNECT) {
            unthrottle(event.peer);
            work_->known[event.peer->incomingPeerID] = Work::id_of(event.peer);
        } else if (event.type == ENET_EVENT_TYPE_RECEIVE) {
            work_->packet.reset(event.packet);
            return Received{Work::id_of(event.peer), bytes_of(work_->packet)};
        } else if (event.type == ENET_EVENT_TYPE_DISCONNECT) {
            // ENet has forgotten who this was by now.
            return Received{work_->known[event.peer->incomingPeerID], {}, true};
        }
    }
    return std::nullopt;
}

void ServerTransport::send(link::PeerId to, std::span<const std::byte> bytes) {
    const std::size_t index = to.value & 0xffffU;
    if (index >= work_->host->peerCount) {
        return;
    }
    ENetPeer* peer = &work_->host->peers[index];
    if (peer->state == ENET_PEER_STATE_CONNECTED && Work::id_of(peer) == to) {
        send_to(peer, bytes);
    }
}

void ServerTransport::flush() {
    enet_host_flush(work_->host.get());
}

struct ClientTransport::Work {
    Host host;
    Packet packet;
    ENetPeer* peer = nullptr;  ///< belongs to the host
    bool connected = false;
};

ClientTransport::ClientTransport(const std::string& host, std::uint16_t port)
    : work_(std::make_unique<Work>()) {
    initialise();
    ENetAddress address{};
    address.port = port;
    if (enet_address_set_host(&address, host.c_str()) != 0) {
        throw TransportError("there is no host '" + host + "'");
    }
    work_->host.reset(enet_host_create(nullptr, 1, channels, 0, 0));
    work_->peer =
        work_->host == nullptr ? nullptr : enet_host_connect(work_->host.get(), &address, channels, 0);
    if (work_->peer == nullptr) {
        throw TransportError("no socket can be opened");
    }
}
ClientTransport::~ClientTransport() {
    if (!work_->connected) {
        return;
    }
    // What was sent last is to arrive; then the other end is told.
    enet_peer_disconnect_later(work_->peer, 0);
    ENetEvent event{};
    for (int i = 0; i < longest_farewell && work_->connected; ++i) {
        if (enet_host_service(work_->host.get(), &event, 1) > 0) {
            work_->packet.reset(event.type == ENET_EVENT_TYPE_RECEIVE ? event.packet : nullptr);
            work_->connected = event.type != ENET_EVENT_TYPE_DISCONNECT;
        }
    }
}

bool ClientTransport::connected() const {
    return work_->connected;
}

std::optional<std::span<const std::byte>> ClientTransport::receive() {
    ENetEvent event{};
    while (enet_host_service(work_->host.get(), &event, 0) > 0) {
        if (event.type == ENET_EVENT_TYPE_CONNECT) {
            work_->connected = true;
            unthrottle(event.peer);
        } else if (event.type == ENET_EVENT_TYPE_DISCONNECT) {
            work_->connected = false;
        } else if (event.type == ENET_EVENT_TYPE_RECEIVE) {
            work_->packet.reset(event.packet);
            return bytes_of(work_->packet);
        }
    }
    return std::nullopt;
}

void ClientTransport::send(std::span<const std::byte> bytes) {
    if (work_->connected) {
        send_to(work_->peer, bytes);
    }
}

void ClientTransport::flush() {
    enet_host_flush(work_->host.get());
}

}  // namespace cursimeter::enet
