"""A second client, written from docs/netcode.md: joins, sends intents, reads what the server says of them.

Talks to tests/link/second/peer.cpp over two pipes: "packet HEX" goes there, "tick" lets the server play one,
"packet HEX" and "at X" come back. usage: client.py PEER CHART_DIGEST
"""
import subprocess
import sys

MASK = (1 << 64) - 1


def digest(*words):
    state = 0x63757273696D6574
    for word in words:
        z = ((state ^ word) + 0x9E3779B97F4A7C15) & MASK
        z = (z ^ z >> 30) * 0xBF58476D1CE4E5B9 & MASK
        z = (z ^ z >> 27) * 0x94D049BB133111EB & MASK
        state = z ^ z >> 31
    return state


def checksum(kind, body, key):
    words = [int.from_bytes(body[i:i + 8], "little") for i in range(0, len(body), 8)]
    return (digest(digest(key, kind, 0), len(body), *words) & 0xFFFFFFFF).to_bytes(4, "little")


class Model:
    def __init__(self, zero=0x8000):
        self.zero, self.seen = zero, 0

    def learn(self, bit):
        shift = 3 + (self.seen > 3) + (self.seen > 12)
        self.seen += 1
        self.zero += -(self.zero >> shift) if bit else (65536 - self.zero) >> shift
        self.zero = min(max(self.zero, 32), 65504)


class NumberModel:
    def __init__(self, ends=()):
        self.length = [Model(end) for end in ends] + [Model() for _ in range(33 - len(ends))]
        self.second = [Model() for _ in range(33)]
        self.sign = Model()


class Coder:
    """Writes if it is given no body."""

    def __init__(self, body=None):
        self.range, self.low, self.shifts, self.body = (1 << 32) - 1, 0, 0, body
        if body is not None:
            self.code, self.at = int.from_bytes((body + bytes(4))[:4], "big"), 4

    def take(self, low, size, chosen):
        if self.body is None:
            self.low += low
        else:
            self.code -= low
        self.range = size
        while self.range < 1 << 24:
            self.range <<= 8
            self.low <<= 8
            self.shifts += 1
            if self.body is not None:
                self.code = self.code << 8 | (self.body[self.at] if self.at < len(self.body) else 0)
                self.at += 1
        return chosen

    def bit(self, model, value=None):
        bound = (self.range >> 16) * model.zero
        value = self.code >= bound if self.body is not None else bool(value)
        self.take(bound if value else 0, self.range - bound if value else bound, value)
        model.learn(value)
        return value

    def bits(self, n, value=0):
        done = 0
        while n > 0:
            part = min(n, 16)
            n -= part
            size = self.range >> part
            piece = min(self.code // size, (1 << part) - 1) if self.body is not None else value >> n & (1 << part) - 1
            self.take(piece * size, size, piece)
            done = done << part | piece
        return done

    def count(self, model, value=0):
        raised = value + 1
        length = 0
        while self.bit(model.length[length], length < raised.bit_length() - 1):
            length += 1
        if length == 0:
            return 0
        second = self.bit(model.second[length], raised >> length - 1 & 1)
        rest = self.bits(length - 1, raised & (1 << length - 1) - 1)
        return (1 << length | second << length - 1 | rest) - 1

    def number(self, model, value=0):
        size = self.count(model, abs(value))
        return -size if size and self.bit(model.sign, value < 0) else size

    def finish(self):
        top = self.low + self.range - 1
        for zeros in range(31, -1, -1):
            if top >> zeros << zeros >= self.low:
                return (top >> zeros << zeros).to_bytes(4 + self.shifts, "big").rstrip(b"\0")
        raise AssertionError


peer = subprocess.Popen([sys.argv[1]], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)


def say(kind, coder, key, least=0):
    body = coder.finish().ljust(least, b"\0")
    print("packet", (bytes([kind]) + checksum(kind, body, key) + body).hex(), file=peer.stdin)


def tick():
    """Lets the server play a tick; returns what it says, and where the runner is."""
    print("tick", file=peer.stdin, flush=True)
    packets = []
    for line in peer.stdout:
        word, value = line.split()
        if word == "at":
            return packets, float(value)
        packets.append(bytes.fromhex(value))


def opened(packet, key):
    assert packet[1:5] == checksum(packet[0], packet[5:], key), "a checksum is wrong"
    return packet[0], Coder(packet[5:])


def hello(cookie):
    c = Coder()
    for bits, value in ((16, 5), (64, 0xABCDEF), (64, cookie), (32, 77), (1, 0), (64, 5), (64, 9), (64, 0), (64, 0), (32, 60000), (5, 1)):
        c.bits(bits, value)
    for i in range(16):
        c.bits(32, int(sys.argv[2], 16) & 0xFFFFFFFF if i == 0 else 0)
    c.bits(9, 0)  # no ticket
    say(0xC1, c, 0, 475)


hello(0)
(answer,), _ = tick()
kind, c = opened(answer, 0)
assert kind == 0xC2 and len(answer) == 29 and c.bits(64) == 0xABCDEF, "no challenge"
hello(c.bits(64))
packets, _ = tick()
kind, c = opened(packets[0], 0)
assert kind == 0xC3 and len(packets[0]) == 45 and c.bits(64) == 0xABCDEF, "no welcome"
key, sent, seat, now, every, places = (c.bits(n) for n in (64, 32, 16, 32, 8, 16))
assert (sent, seat, every) == (77, 0, 3) and places >= 1

newest, acknowledged, snapshot, place = now + 6, None, None, 0.0
for _ in range(120):
    newest += 1
    c = Coder()
    c.bits(16, newest)
    c.bits(6, 0)  # one intent
    c.bit(Model(0x1000), False)  # by nothing before it
    if c.bit(Model(0x1000), snapshot is not None):
        c.bits(16, snapshot)
        came = Model(0x1800)
        for i in range(16):
            c.bit(came, True)
    c.bit(Model(), False)  # predicts nothing
    c.bit(Model(0x0800), True)  # no message
    move, behind = NumberModel((0x2400, 0x0800, 0x0800, 0x0800, 0x0C00, 0x3400, 0x8400, 0xF000)), NumberModel((0x0800, 0x3C00, 0xE800, 0xC800))
    c.bit(Model(0x5000), True)  # differs from wanting nothing
    c.bit(Model(0xF000), True)
    c.number(move, 127)
    c.number(move, 0)
    for start in (0x1000, 0x2000, 0xF000, 0xF800, 0xF800, 0xF800, 0xE800):  # yaw, pitch, held, faces, focus, extra, changes
        c.bit(Model(start), False)
    c.number(behind, 0)
    say(0xC5, c, key)
    packets, place = tick()
    for packet in packets:
        kind, c = opened(packet, key)
        assert kind == 0xC6, "not a snapshot"
        snapshot = c.bits(16)
        if c.bit(Model(0x1000)):
            acknowledged = c.bits(16)
        if c.bit(Model(0x1000)):
            beyond, spare = c.number(NumberModel()), c.number(NumberModel())
            assert beyond == 0 and 0 <= spare <= 16 * 7, spare
        assert c.bit(Model(0x1000)) and c.bits(10) == 0, "no runner"

assert newest - 3 <= acknowledged <= newest, (newest, acknowledged)
assert place > 3.0, place
print(f"acknowledged {acknowledged} of {newest}, the runner is at {place:.2f} m")
