"""What a second client and a second peer share: packets and their coder, written from docs/netcode.md alone."""
import subprocess

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


class Pipe:
    """A program at the other end of two pipes: "packet HEX" goes there, "tick" lets it play one; "packet HEX" and "at ..." come back."""

    def __init__(self, program):
        self.program = subprocess.Popen([program], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)

    def say(self, kind, coder, key, least=0):
        body = coder.finish().ljust(least, b"\0")
        print("packet", (bytes([kind]) + checksum(kind, body, key) + body).hex(), file=self.program.stdin)

    def tick(self):
        """Returns the packets of a tick, and the words that stand behind "at"."""
        print("tick", file=self.program.stdin, flush=True)
        packets = []
        for line in self.program.stdout:
            word, *values = line.split()
            if word == "at":
                return packets, values
            packets.append(bytes.fromhex(values[0]))
        raise AssertionError("the other end has gone")


def opened(packet, key):
    assert packet[1:5] == checksum(packet[0], packet[5:], key), "a checksum is wrong"
    return packet[0], Coder(packet[5:])


class IntentCoder:
    """A row of intents. An intent is (forward, side) in 1/127, None where it is read; nothing else is wanted."""

    def __init__(self, coder):
        self.coder = coder
        self.changed, self.moved = Model(0x5000), Model(0xF000)
        self.rest = [Model(start) for start in (0x1000, 0x2000, 0xF000, 0xF800, 0xF800, 0xF800, 0xE800)]
        self.move = NumberModel((0x2400, 0x0800, 0x0800, 0x0800, 0x0C00, 0x3400, 0x8400, 0xF000))

    def code(self, intent, before):
        """Returns the intent."""
        if not self.coder.bit(self.changed, intent != before):
            return before
        if self.coder.bit(self.moved, intent != before):
            intent = tuple(was + self.coder.number(self.move, now - was) for now, was in zip(intent or before, before))
        for model in self.rest:  # yaw, pitch, held, faces, focus, extra, changes
            assert not self.coder.bit(model, False), "nothing else was wanted"
        return intent
