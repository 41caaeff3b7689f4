# SPDX-License-Identifier: MIT
"""Links between the site's pages, and in the pages of docs as they stand: each must lead somewhere. usage: links.py SITE"""
import glob
import os
import re
import sys
import urllib.parse

broken, checked = [], 0
for page in glob.glob(os.path.join(sys.argv[1], "*.html")):
    text = open(page, errors="replace").read()
    for link in re.findall(r'<(?:a|img)[^>]*?(?:href|src)="([^"#:]+?)(?:#[^"]*)?"', text):
        checked += 1
        if not os.path.exists(os.path.join(sys.argv[1], urllib.parse.unquote(link))):
            broken.append(f"{os.path.basename(page)}: {link}")
for page in ["README.md"] + glob.glob("docs/*.md") + glob.glob("ports/*/README.md") + glob.glob("src/*/README.md"):
    for link in re.findall(r"\]\(([^)#:\s]+)(?:#[^)]*)?\)", open(page).read()):
        checked += 1
        if not os.path.exists(os.path.join(os.path.dirname(page), link)):
            broken.append(f"{page}: {link}")
for line in sorted(set(broken)):
    print("broken link: " + line)
print(f"site: {len(glob.glob(os.path.join(sys.argv[1], '*.html')))} pages, {checked} links")
sys.exit(bool(broken) or checked < 200)
