# SPDX-License-Identifier: MIT
"""A program for the RP2040 as a UF2 file, with the checksum of its first 256 bytes: usage: uf2.py PROGRAM.bin OUT.uf2
The format: a block of 512 bytes for each 256 of flash, with two words at its begin and one at its end that mark it."""
import struct
import sys

FLASH, FAMILY = 0x10000000, 0xE48BFF56


def checksum(data):
    """CRC-32 as the chip's ROM reckons it: polynomial 04C11DB7, highest bit first, begun with ones (data sheet, 2.8.1.3.1)."""
    crc = 0xFFFFFFFF
    for byte in data:
        crc ^= byte << 24
        for _ in range(8):
            crc = (crc << 1 ^ (0x04C11DB7 if crc & 0x80000000 else 0)) & 0xFFFFFFFF
    return crc


def main():
    program = bytearray(open(sys.argv[1], "rb").read())
    if len(program) < 256 or any(program[252:256]):
        sys.exit(f"{sys.argv[1]}: expected a program that begins with 252 bytes of boot2.S and 4 zeros")
    program[252:256] = struct.pack("<I", checksum(program[:252]))
    program += bytes(-len(program) % 256)
    count = len(program) // 256
    with open(sys.argv[2], "wb") as out:
        for i in range(count):
            head = struct.pack("<8I", 0x0A324655, 0x9E5D5157, 0x2000, FLASH + i * 256, 256, i, count, FAMILY)
            out.write(head + program[i * 256:i * 256 + 256] + bytes(220) + struct.pack("<I", 0x0AB16F30))
    print(f"{sys.argv[2]}: {len(program)} bytes of flash, {count * 512} bytes of UF2")


main()
