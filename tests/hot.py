#!/usr/bin/env python3
"""What runs for every LED or every run of LEDs may not call the compiler's helpers for division, for 64-bit products, or memcpy: on
Cortex-M0+ each is worth many LEDs. Reads compiled objects; fails for a call that is not in the list below, and for one in the list
that is not there any more. usage: hot.py FOLDER_OF_OBJECTS"""
import glob
import os
import re
import subprocess
import sys

HOT = {"sound": r"resonate|measure\w*|pass_all|halve|make_steep|glanz_bands_hear|hear_block|copy", "effects": r"(?:raster_)?shade|cover_at|bit_at|edge_at|light_of|sky_of|enter|glanz_(cover|repeat|turn|travel)\w*", "light": r".*", "chips": r"put\w*|glanz_slots_(?!fit)\w+", "color": r"glanz_gradient_(light|at)\w*",
       "engine": r"glanz_compose_run|glanz_shade_layer|glanz_output_shade|shade|find_positions", "layout": r"glanz_\w*places|place_of", "paint": r"glanz_raster_(?:run|fill|dot|at)|add", "base": r"glanz_noise\w*|corner_at|begin_at|modulo"}
HELPERS = r"__aeabi_(?:u?idiv(?:mod)?|u?ldivmod|lmul|fmul|dmul)|memcpy|memmove"
# calls that there are: once a run, a piece or a frame unless it says otherwise
KNOWN = set("""
chips/clocked put_clocked __aeabi_lmul a LED
chips/clocked put_clocked __aeabi_uldivmod a LED
effects/fireworks shade __aeabi_uidiv
effects/pattern enter memcpy
effects/pattern light_of memcpy
effects/pattern shade __aeabi_idivmod
effects/picture shade __aeabi_idivmod
effects/repeat glanz_repeat_of __aeabi_uidiv
effects/text cover_at __aeabi_idivmod
layout/field glanz_field_places __aeabi_idiv
layout/field glanz_piece_places __aeabi_uidiv
layout/field glanz_piece_places __aeabi_uidivmod
layout/layout glanz_region_places __aeabi_uidivmod
layout/layout place_of __aeabi_uidiv
light/light glanz_white_of __aeabi_uidiv
light/light glanz_white_of __aeabi_uidivmod
base/plane modulo __aeabi_idivmod a period that is no power of two
engine/spread shade memcpy
""".strip().splitlines())
known = {tuple(line.split()[:3]) for line in KNOWN}

found, functions = set(), 0
for path in sorted(glob.glob(os.path.join(sys.argv[1], "*.o"))):
    room, file = re.match(r"(\w+)-(\w+)\.o$", os.path.basename(path)).groups()
    if room not in HOT:
        continue
    text = subprocess.run(["arm-none-eabi-objdump", "-dr", path], capture_output=True, text=True, check=True).stdout
    function = None
    for line in text.splitlines():
        start = re.match(r"[0-9a-f]+ <(\w+)[.\w]*>:", line)
        if start:
            function = start[1] if re.fullmatch(HOT[room], start[1]) else None
            functions += function is not None
        call = re.search(r"R_ARM_THM_(?:CALL|JUMP\w+)\s+(%s)$" % HELPERS, line)
        if call and function:
            found.add((room + "/" + file, function, call[1]))
for one in sorted(found - known):
    print("hot: %s, %s: calls %s" % one)
for one in sorted(known - found):
    print("hot: %s, %s: does not call %s any more; take it off the list" % one)
print("hot: %d functions, %d calls of helpers, all known" % (functions, len(found)) if found == known else "hot: failed")
sys.exit(found != known or functions < 60)
