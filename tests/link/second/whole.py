"""Intents and runners in full, read as docs/netcode.md has them and, for the order of a runner's fields, src/core/runner/fields.hpp."""
import struct

from wire import Model, NumberModel

LOOK, SIXTEEN, KEYS = 65536, 16, 32
YAW = (0x0400, 0x1600, 0x2C00, 0x4A00, 0x5400, 0x5200, 0x4400, 0x4000, 0x4800, 0x8000, 0x9800, 0x8000, 0xB000, 0xE000, 0xF800)
PITCH = (0x0400, 0x3800, 0x4200, 0x5000, 0x5800, 0x4800, 0x4000, 0x4800, 0x8C00, 0xC800, 0xB800, 0xF000)
MOVE = (0x2400, 0x0800, 0x0800, 0x0800, 0x0C00, 0x3400, 0x8400, 0xF000)


def signed(value, bits=16):
    return (value + (1 << bits - 1)) % (1 << bits) - (1 << bits - 1)


class Intent:
    """Numbers as on the wire; `changes` are (at, kind, action or x, y)."""

    def __init__(self, forward=0, side=0, yaw=0, pitch=0, held=0, focus=(0,) * 7):
        self.forward, self.side, self.yaw, self.pitch, self.held, self.focus = forward, side, yaw, pitch, held, focus
        self.faces_movement = self.focused = False
        self.extra, self.changes = b"", []

    def after(self):
        """What the next tick begins with, if nothing else is wanted."""
        left = Intent(self.forward, self.side, self.yaw, self.pitch, self.held, self.focus)
        left.faces_movement, left.focused = self.faces_movement, self.focused
        for _, kind, x, y in self.changes:
            if kind == 0:
                left.held |= 1 << x
            elif kind == 1:
                left.held &= ~(1 << x)
            elif kind == 2:
                left.forward, left.side = x, y
            else:
                left.yaw, left.pitch = x, y
        return left


class IntentReader:
    """A row of intents, each by the one before it."""

    def __init__(self):
        self.yaw_change = self.pitch_change = 0
        starts = (0x5000, 0xF000, 0x1000, 0x2000, 0xF000, 0xF800, 0xF800, 0xE800, 0xF800)
        (self.changed, self.moved, self.turned, self.pitched, self.keyed, self.focused, self.faced, self.more,
         self.extra) = (Model(start) for start in starts)
        self.yaw, self.pitch, self.move, self.focus = NumberModel(YAW), NumberModel(PITCH), NumberModel(MOVE), NumberModel()
        self.differing, self.gap = NumberModel((0x0400,)), NumberModel((0x4000,))

    def mask(self, c, before):
        mask, at = 0, 0
        for _ in range(c.count(self.differing)):
            at += c.count(self.gap)
            assert at < KEYS, "a key that there is not"
            mask |= 1 << at
            at += 1
        return before ^ mask

    def read(self, c, before):
        now = before.after()
        now.yaw = signed(now.yaw + self.yaw_change)
        now.pitch = max(-32767, min(32767, now.pitch + self.pitch_change))
        if c.bit(self.changed):
            self.read_parts(c, now)
        self.yaw_change = signed(now.yaw - before.yaw)
        self.pitch_change = max(-32767, min(32767, now.pitch - before.pitch))
        return now

    def read_parts(self, c, now):
        if c.bit(self.moved):
            now.forward, now.side = signed(now.forward + c.number(self.move)), signed(now.side + c.number(self.move))
        if c.bit(self.turned):
            now.yaw = signed(now.yaw + c.number(self.yaw))
        if c.bit(self.pitched):
            now.pitch = signed(now.pitch + c.number(self.pitch))
        if c.bit(self.keyed):
            now.held = self.mask(c, now.held)
        now.faces_movement, now.focused = c.bit(self.faced), c.bit(self.focused)
        if now.focused:
            focus = list(now.focus)
            for axis in range(3):
                for place in (axis, axis + 3):
                    focus[place] = signed(focus[place] + c.number(self.focus), 32)
            focus[6] = signed(focus[6] + c.number(self.focus))
            now.focus = tuple(focus)
        if c.bit(self.extra):
            now.extra = bytes(c.bits(8) for _ in range(c.bits(4) + 1))
        at = 0
        while len(now.changes) < SIXTEEN and c.bit(self.more):
            at += c.bits(10)
            kind = c.bits(2)
            now.changes.append((at, kind, c.bits(5), 0) if kind < 2 else (at, kind, signed(c.bits(16)), signed(c.bits(16))))


class RunnerReader:
    """The fields of one runner, one after the other: quantities and words."""

    def __init__(self, c):
        self.c, self.last = c, 0
        self.zero, self.again, self.half, self.plain = Model(), Model(0xE000), Model(0xC000), Model()

    def real(self):
        if self.c.bit(self.zero):
            return 0.0
        if not self.c.bit(self.again):
            half = self.c.bit(self.half)
            self.last = self.c.bits(32) << 32 | (0 if half else self.c.bits(32))
            bits = self.last
        else:
            bits = self.last
        return struct.unpack(">d", struct.pack(">Q", bits))[0]

    def word(self, bits):
        if self.c.bit(self.plain):
            return 0
        upper = self.c.bits(bits - 32) if bits > 32 else 0
        return upper << 32 | self.c.bits(min(bits, 32))


def read_runner(c, meters):
    """A dictionary of what stands first, and of the meters' levels."""
    r = RunnerReader(c)
    names = ("clock", "next_due", "x", "y", "z", *("velocity",) * 3, *("acceleration",) * 3, "speed", "distance", "forward", "side",
             "yaw", "pitch", *("facing",) * 2, *("wanted",) * 2, "segment_due", "condition_due", "state_since", "landed_at", "switched_at",
             "floor", "metered_at", "scaled_until", "lag")
    runner = {name: r.real() for name in names}
    runner["held"] = r.word(32)
    for bits in (32, 2, 2, 1, 1):  # chart's tag, segment, trend, straight, idle
        r.word(bits)
    runner["state"] = r.word(6)
    # stale, lasting, derived, watched, momentary, on, held by the game, toggles, flowing, by distance, draining, used, spent, moving,
    # segment's end, locks, jumps, cut, struck, levels moved, carried, in a world, rooted, faces its movement
    for bits in (1, *(64,) * 2, *(64,) * 4, *(64,) * 4, 64, 32, 32, 32, 12, 12, 12, 64, 12, 8, 2, 2, 8, 1, 1, 12, 1, 1, 1, 1):
        r.word(bits)
    r.real()  # stride
    for bits in (32, 64, 1, 32):  # lately switched, lately left, undoing, last wall
        r.word(bits)
    ticking = r.word(38)
    r.real(), r.real()  # gradient
    barriers = r.word(2)
    for _ in range(3 * min(barriers, 2)):
        r.word(64)
    for _ in range(7):  # wall's normal, wind, pace
        r.real()
    for bits in (32, 32, 2, 8, 1, 1, 1, 1, 1):  # ground, beside, barriers, zones, grounded, headroom, by a wall, cornered, crushed
        r.word(bits)
    for _ in range(4):  # by which two pushes fade
        r.real()
    for i in range(38):
        if ticking >> i & 1:
            r.word(56)
    for _ in range(r.word(8)):  # modifiers
        for bits in (8, 8, 8, 4, 2, 1, 1, 56):
            r.word(bits)
    for _ in range(12):  # who granted what
        if r.word(8) == 0:
            break
        r.word(8), r.word(8)
    for _ in range(16):  # blocks
        r.word(8)
    runner["levels"] = []
    for _ in range(meters):
        runner["levels"].append(r.real())
        r.real(), r.real(), r.word(8)  # rate, scale, thresholds that it is above
    return runner
