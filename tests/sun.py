# SPDX-License-Identifier: MIT
"""Sunrise and sunset as the tool tells them, against an astronomer's library: all days of 2024 to 2040, from 65 degrees south to 65
north. Fails when one is off by more than a minute. usage: sun.py GLANZ FOLDER"""
import json
import os
import subprocess
import sys

import ephem

glanz, folder = sys.argv[1], sys.argv[2]
os.makedirs(folder, exist_ok=True)
rig = json.load(open("demo/rig.json"))
show = json.load(open("demo/show.json"))
json.dump(show, open(f"{folder}/show.json", "w"))
rig.pop("zone")
start = ephem.Date("2024/1/1")
days = 6210
worst_of_all = 0
for latitude, longitude in ((-65, 40), (-48, -70), (-23.4, 133), (0, 0), (35.7, 139.7), (53.9312, 8.6041), (65, -150)):
    rig["place"] = {"latitude": f"{abs(latitude)} {'S' if latitude < 0 else 'N'}", "longitude": f"{abs(longitude)} {'W' if longitude < 0 else 'E'}"}
    json.dump(rig, open(f"{folder}/rig.json", "w"))
    lines = subprocess.run([glanz, "calendar", f"{folder}/rig.json", f"{folder}/show.json", "--sun", "--from", "2024-01-01", "--days", str(days)],
                           check=True, capture_output=True, text=True).stdout.splitlines()[1:]
    assert len(lines) == days, len(lines)
    observer = ephem.Observer()
    observer.lat, observer.lon, observer.pressure, observer.horizon = str(latitude), str(longitude), 0, "-0:50"
    sun = ephem.Sun()
    worst = compared = 0
    for day, line in enumerate(lines):
        noon = start + day + 0.5 - longitude / 360
        for told, find in ((line.split()[2], observer.previous_rising), (line.split()[3], observer.next_setting)):
            observer.date = noon
            hours, minutes, seconds = map(int, told.split(":"))
            off = ((find(sun, use_center=True) - start) * 86400 - (hours * 3600 + minutes * 60 + seconds)) % 86400
            worst = max(worst, min(off, 86400 - off))
            compared += 1
    print(f"latitude {latitude:6}: {compared} risings and settings, at most {worst:.1f} s off")
    worst_of_all = max(worst, worst_of_all)
sys.exit(worst_of_all > 60)
