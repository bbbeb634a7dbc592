"""A second client, written from docs/netcode.md: joins, sends intents, reads what the server says of them.
Talks to tests/link/second/server.cpp over two pipes. usage: client.py SERVER CHART_DIGEST [PLAYERS]
"""
import sys

from wire import Coder, IntentCoder, Model, NumberModel, Pipe, opened

pipe = Pipe(sys.argv[1])
PLAYERS = int(sys.argv[3]) if len(sys.argv) > 3 else 1


def hello(cookie):
    c = Coder()
    for bits, value in ((16, 7), (64, 0xABCDEF), (64, cookie), (32, 77), (1, 0), (64, 5), (64, 9), (64, 0), (64, 0), (32, 60000), (2, PLAYERS - 1), (5, 1)):
        c.bits(bits, value)
    for i in range(16):
        c.bits(32, int(sys.argv[2], 16) & 0xFFFFFFFF if i == 0 else 0)
    c.bits(9, 0)  # no ticket
    pipe.say(0xC1, c, 0, 475)


hello(0)
(answer,), places = pipe.tick()
assert not places
kind, c = opened(answer, 0)
assert kind == 0xC2 and len(answer) == 29 and c.bits(64) == 0xABCDEF, "no challenge"
hello(c.bits(64))
packets, _ = pipe.tick()
kind, c = opened(packets[0], 0)
assert kind == 0xC3 and len(packets[0]) == 45 and c.bits(64) == 0xABCDEF, "no welcome"
key, sent, seat, now, every, places = (c.bits(n) for n in (64, 32, 16, 32, 8, 16))
assert (sent, seat, every) == (77, 0, 3) and places >= 1

newest, acknowledged, snapshot = now + 6, None, None
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
    predicted = Model()
    for _ in range(PLAYERS):
        c.bit(predicted, False)  # predicts nothing
    c.bit(Model(0x0800), True)  # no message
    for player in range(PLAYERS):
        IntentCoder(c).code((127 if player == 0 else -127, 0), (0, 0))
    behind = NumberModel((0x0800, 0x3C00, 0xE800, 0xC800))
    c.number(behind, 0)
    pipe.say(0xC5, c, key)
    packets, places = pipe.tick()
    for packet in packets:
        kind, c = opened(packet, key)
        assert kind == 0xC6, "not a snapshot"
        snapshot = c.bits(16)
        if c.bit(Model(0x1000)):
            acknowledged = c.bits(16)
        if c.bit(Model(0x1000)):
            beyond, spare = c.number(NumberModel()), c.number(NumberModel())
            assert beyond == 0 and 0 <= spare <= 16 * 7, spare
        owned, exact = Model(0x1000), Model(0xE000)
        for player in range(PLAYERS):
            assert c.bit(owned) and c.bits(10) == player and c.bits(16) == 0, "no runner"
            assert c.bit(exact), "only whole runners come where nothing is predicted"
            assert c.bits(4) == 0, "another chart"

assert newest - 3 <= acknowledged <= newest, (newest, acknowledged)
places = [float(place) for place in places]
assert len(places) == PLAYERS and places[0] > 3.0 and all(place < -2.0 for place in places[1:]), places
print(f"acknowledged {acknowledged} of {newest}, the runners are at {places} m")
