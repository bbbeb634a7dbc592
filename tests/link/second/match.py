"""Reads a match by docs/match-format.md: its heading, that every tick is whole, and how the first begins.
usage: match.py PROGRAM FILE
"""
import re
import struct
import subprocess
import sys

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

# Models go on from tick to tick. Ticks are empty until the first runner begins.
leapt, whole, more, tick = Model(0xF000), Model(0xF000), Model(0xF000), 0
for body in ticks:
    c = Coder(body)
    tick = c.bits(32) if c.bit(leapt) else tick + 1
    assert not c.bit(whole), "nothing is told as a whole yet"
    if c.bit(more):
        break
assert c.count(NumberModel()) == 0, "place 0"
kind, life, chart = c.bits(2), c.bits(16), c.bits(4)
assert kind == 0 and life == 0 and chart == 0, (kind, life, chart)  # the first life
assert c.bit(Model(0x4000)) and c.bits(16) == 0, "its seat"
begun = float(re.search(r"\n +1 +bearer +0 +([0-9.]+)", shown).group(1))
assert abs((tick - 1) / rate - begun) < 1.1 / rate, (tick, begun)
print(f"{count} ticks at {rate:g} a second, {len(data)} bytes")
