#!/usr/bin/env python3
"""Decodes an animated PNG by the PNG specification, with nothing of the project, and says what is in it.
usage: check_movie.py FILE [FOLDER], into which each picture is then written"""
import pathlib
import struct
import sys
import zlib


def chunks(data):
    assert data[:8] == b"\x89PNG\r\n\x1a\n", "no PNG"
    at = 8
    while at < len(data):
        length, kind = struct.unpack(">I4s", data[at : at + 8])
        body = data[at + 8 : at + 8 + length]
        (check,) = struct.unpack(">I", data[at + 8 + length : at + 12 + length])
        assert check == zlib.crc32(kind + body), f"checksum of {kind}"
        yield kind, body
        at += 12 + length


def rows(packed, width, height):
    raw = zlib.decompress(packed)
    size = 3 * width
    assert len(raw) == (size + 1) * height, "size of the pixels"
    above = bytearray(size)
    for y in range(height):
        kind = raw[y * (size + 1)]
        row = bytearray(raw[y * (size + 1) + 1 : (y + 1) * (size + 1)])
        assert kind in (0, 1, 2)
        for i in range(size) if kind else ():
            row[i] = (row[i] + (above[i] if kind == 2 else row[i - 3] if i >= 3 else 0)) & 255
        yield row
        above = row


def png(width, height, canvas):
    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    raw = b"".join(b"\0" + bytes(row) for row in canvas)
    return (b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)) +
            chunk(b"IDAT", zlib.compress(raw)) + chunk(b"IEND", b""))


def main():
    data = pathlib.Path(sys.argv[1]).read_bytes()
    folder = pathlib.Path(sys.argv[2]) if len(sys.argv) > 2 else None
    width = height = wanted = pictures = sequence = 0
    place, canvas, ended = None, [], False
    for kind, body in chunks(data):
        if kind == b"IHDR":
            width, height = struct.unpack(">II", body[:8])
            canvas = [bytearray(3 * width) for _ in range(height)]
        elif kind == b"acTL":
            wanted = struct.unpack(">I", body[:4])[0]
        elif kind == b"fcTL":
            number, *place = struct.unpack(">IIIII", body[:20])
            assert number == sequence, "order of the pieces"
            assert place[2] + place[0] <= width and place[3] + place[1] <= height, "a piece beside the picture"
            sequence += 1
        elif kind in (b"IDAT", b"fdAT"):
            if kind == b"fdAT":
                assert struct.unpack(">I", body[:4])[0] == sequence, "order of the pieces"
                sequence += 1
                body = body[4:]
            pictures += 1
            if not folder:
                assert len(zlib.decompress(body)) == (3 * place[0] + 1) * place[1], "size of the pixels"
                continue
            for i, row in enumerate(rows(body, place[0], place[1])):
                canvas[place[3] + i][3 * place[2] : 3 * (place[2] + place[0])] = row
            (folder / f"{pictures:04}.png").write_bytes(png(width, height, canvas))
        elif kind == b"IEND":
            ended = True
    assert ended and pictures == wanted, f"{pictures} of {wanted} pictures"
    print(f"{width}x{height}, {pictures} pictures, {len(data)} bytes")


main()
