"""Reads a match by docs/match-format.md: its heading and every tick, with what all wanted and the runners that are told as a whole.
usage: match.py PROGRAM FILE
"""
import math
import re
import struct
import subprocess
import sys

from whole import Intent, IntentReader, read_runner
from wire import Coder, Model, NumberModel, digest

program, file = sys.argv[1:]
subprocess.run([program, "net", "demo/charts/bearer.toml", "--clients", "3", "--seconds", "12", "--course", "demo/courses/relay.toml",
                "--match", file], check=True, capture_output=True)
with open(file, "rb") as opened:
    data = opened.read()
at = 0


def take(count):
    global at
    at += count
    assert at <= len(data), "the heading is cut off"
    return data[at - count:at]


def number(count):
    return int.from_bytes(take(count), "little")


assert take(8) == b"curmatch" and number(4) == 1
rate = struct.unpack("<d", take(8))[0]
number(8)  # game
number(8)  # world
places, charts = number(2), []
assert rate == 60.0 and places >= 3, (rate, places)
for _ in range(number(1)):
    told = number(8)
    charts.append((told, take(number(4)).decode()))
course, note = take(number(4)).decode(), take(number(4)).decode()
assert len(charts) == 1 and "[states.sprint]" in charts[0][1] and "[[platform]]" in course, "no chart, or no course"
shown = subprocess.run([program, "replay", file], check=True, capture_output=True, text=True).stdout

ticks = []
while at < len(data):
    length = shift = 0
    while True:
        byte = number(1)
        length |= (byte & 127) << shift
        shift += 7
        if byte < 128:
            break
    told, body = number(2), take(length)
    words = [int.from_bytes(body[i:i + 8], "little") for i in range(0, len(body), 8)]
    assert told == digest(1, length, *words) & 0xFFFF, f"the checksum of tick {len(ticks) + 1}"
    ticks.append(body)
count = int(re.search(r"(\d+) ticks", shown.replace(",", "")).group(1))
assert len(ticks) == count, (len(ticks), count)

# Models go on from tick to tick.
leapt, whole, more, owned, skipped, tick = Model(0xF000), Model(0xF000), Model(0xF000), Model(0x4000), NumberModel(), 0
seats, wanted, readers, begun, wholes = {}, {}, {}, {}, 0
for index, body in enumerate(ticks):
    c = Coder(body)
    tick = c.bits(32) if c.bit(leapt) else tick + 1
    is_whole, place = c.bit(whole), 0
    assert is_whole == (index % 600 == 599), index
    while c.bit(more):
        place += c.count(skipped)
        kind = c.bits(2)
        assert kind == 0, "nobody touches a runner here, nor takes it away"
        life, chart = c.bits(16), c.bits(4)
        assert (life, chart) == (0, 0) and c.bit(owned), "the first life, of a client"
        seats[place], begun[place] = c.bits(16), tick
        runner = read_runner(c, meters=1)
        assert runner["clock"] == 0 and runner["levels"] == [100], runner
        wanted[place], readers[place] = Intent(), IntentReader()
        place += 1
    for place in sorted(wanted):
        wanted[place] = now = readers[place].read(c, wanted[place])
        c.bits(8)  # of the digest
        if not is_whole:
            continue
        wholes += 1
        runner, left = read_runner(c, meters=1), now.after()
        assert abs(runner["clock"] - (tick - begun[place] + 1) / rate) < 1e-9, runner
        assert runner["held"] == left.held, (runner, left.held)
        assert abs(runner["forward"] - left.forward / 127) < 1e-12 and abs(runner["side"] - left.side / 127) < 1e-12, runner
        turn = runner["yaw"] / math.tau - left.yaw / 65536
        assert abs(turn - round(turn)) < 1e-9 and abs(runner["pitch"] - left.pitch / 32767 * math.pi / 2) < 1e-9, (runner, left.yaw)
        assert 0 < runner["distance"] < 100 and 0 <= runner["levels"][0] <= 100, runner
    assert len(body) <= c.at, f"tick {tick} has more than was read"
assert sorted(seats.values()) == [0, 1, 2] and wholes == 3, (seats, wholes)
shown_begin = float(re.search(r"\n +1 +bearer +0 +([0-9.]+)", shown).group(1))
assert abs((begun[0] - 1) / rate - shown_begin) < 1.1 / rate, (begun, shown_begin)
print(f"{count} ticks at {rate:g} a second, {len(data)} bytes, {wholes} whole runners agree with what was wanted")
