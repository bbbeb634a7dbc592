"""A second player of a game without a server, written from docs/netcode.md: says hello, plays, compares nothing, leaves.
Talks to tests/link/second/player.cpp over two pipes. usage: peer.py PLAYER CHART_DIGEST
"""
import struct
import sys

from wire import Coder, IntentCoder, Model, NumberModel, Pipe, digest, opened

SESSION, VERSION, GAME, WORLD, PLAYERS = 77, 7, 9, 0, 2
KEY = digest(SESSION, VERSION, 0)
OWN, OTHER = 1, 0
STARTS = ((0, 0.0, 0.0, 0.0, 0.0), (0, 0.0, 2.0, 0.0, 0.0))  # chart, place, yaw


def word(number):
    return struct.unpack("<Q", struct.pack("<d", number))[0]


setup = [1, int(sys.argv[2], 16), PLAYERS]
for chart, *place in STARTS:
    setup += [chart, *map(word, place)]
SETUP = digest(*setup)
pipe = Pipe(sys.argv[1])


def hello(setup, heard):
    c = Coder()
    for bits, value in ((16, VERSION), (2, OWN), (32, 60000), (64, GAME), (64, WORLD), (64, setup), (4, heard)):
        c.bits(bits, value)
    pipe.say(0xC9, c, KEY)


# A player with other charts or places is refused, and goes on saying hello in vain.
if len(sys.argv) > 3:
    hello(SETUP + 1, 0b10)
    _, at = pipe.tick()
    assert at[2] == "refused", at
    print("other players are refused")
    sys.exit(0)

packets, at = pipe.tick()
assert at[2] == "joining"
kind, c = opened(packets[0], KEY)
read = [c.bits(n) for n in (16, 2, 32, 64, 64, 64, 4)]
assert kind == 0xC9 and read == [VERSION, OTHER, 60000, GAME, WORLD, SETUP, 0b01], read
hello(SETUP, 0b11)

now, known, heard_of = 0, 0, 0  # the own tick; the newest of whose intents each end knows
others_now, wanted = 0, (0, 0)
compared = 0
BEHIND = 64  # 1/16 ticks that it says to be behind, so that the other end goes slower
for step in range(240):
    now += 1
    c = Coder()
    c.bits(2, OWN)
    c.bits(32, now)
    c.bits(4, 0)
    c.number(NumberModel(), 16 * (now - others_now) - BEHIND)
    gone, behind = Model(0xF000), NumberModel()
    for newest in (known, now):
        c.bit(gone, False)
        c.number(behind, newest - now)
    c.bit(Model(0x4000), False)  # compares nothing
    more = Model(0x4000)
    first, last = heard_of + 1, min(now, heard_of + 128)
    if c.bit(more, first <= last):
        c.bits(2, OWN)
        c.number(NumberModel(), first - now)
        c.bits(7, last - first)
        row = IntentCoder(c)
        for tick in range(first, last + 1):
            row.code((127, 0), (127, 0) if tick > 1 else (0, 0))
    c.bit(more, False)
    pipe.say(0xCA, c, KEY)
    packets, at = pipe.tick()
    for packet in packets:
        kind, c = opened(packet, KEY)
        if kind == 0xC9:
            continue
        assert kind == 0xCA, hex(kind)
        assert c.bits(2) == OTHER
        others_now = c.bits(32)
        c.bits(4)
        c.number(NumberModel())
        gone, behind, news = Model(0xF000), NumberModel(), []
        for _ in range(PLAYERS):
            assert not c.bit(gone), "who should be gone?"
            news.append(c.number(behind) + others_now)
        heard_of = max(heard_of, news[OWN])
        if c.bit(Model(0x4000)):
            compared = others_now + c.number(NumberModel())
            digests = [c.bits(32) for _ in range(PLAYERS)]
        more = Model(0x4000)
        while c.bit(more):
            player, first, count = c.bits(2), others_now + c.number(NumberModel()), c.bits(7) + 1
            assert player == OTHER and first <= known + 1, (player, first, known)
            row = IntentCoder(c)
            before = wanted if first > 1 else (0, 0)
            for tick in range(first, first + count):
                before = row.code(None, before)
                if tick > 10:
                    assert before == (64, 0), before
            known, wanted = max(known, first + count - 1), before

place, confirmed, phase = float(at[0]), int(at[1]), at[2]
assert phase == "playing", phase
assert place > 3.0, place
assert confirmed >= others_now - 3 and others_now > 150, (confirmed, others_now)
assert compared >= 60 and compared % 60 == 0, compared
assert 0 < now - others_now < 4, (now, others_now)  # -1 for an end that does not say that it is behind
c = Coder()
c.bits(2, OWN)
pipe.say(0xCC, c, KEY)
_, at = pipe.tick()
assert at[3] == "gone", at
print(f"confirmed {confirmed} of {others_now}, this end's runner is at {place:.2f} m there")
