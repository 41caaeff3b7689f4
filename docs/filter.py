# SPDX-License-Identifier: MIT
"""What doxygen reads of a header: as it is, with what docs/arguments.txt says of every parameter that its comment leaves to it, and
with the first sentence as the result where that sentence is what is returned. A parameter that neither explains stays so, which fails.
usage: filter.py FILE"""
import os
import re
import sys

TABLE = []
for line in open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "arguments.txt")):
    if line.strip() and not line.startswith("#"):
        name, kind, text = (part.strip() for part in line.split("|", 2))
        TABLE.append((name, re.compile(kind), text))

def arguments_of(text):
    depth, start, parts = 0, 0, []
    for i, c in enumerate(text):
        depth += (c in "([") - (c in ")]")
        if c == "," and depth == 0:
            parts.append(text[start:i])
            start = i + 1
    parts.append(text[start:])
    found = []
    for part in parts:
        part = " ".join(part.split())
        name = re.search(r"\(\*\s*(\w+)\)", part) or re.search(r"(\w+)\s*(?:\[[^\]]*\])?$", part)
        if part not in ("void", "", "...") and name:
            found.append((name[1], part))
    return found


def filled(match):
    comment, between, declaration = match[1], match[2], match[3]
    call = re.match(r"\s*(?:GLANZ_NODISCARD\s+)?(?:static\s+inline\s+)?([\w\s\*]*?)(\w+)\(((?:[^()]|\([^()]*\))*)\)\s*[;{]", declaration)
    if call is None or "typedef" in call[1] or "define" in declaration[:20]:
        return match[0]
    returns, _, arguments = call.groups()
    comment = re.sub(r"@param\s*\n\s*\*\s*", "@param ", comment)
    told = set(re.findall(r"\w+", " ".join(re.findall(r"@param\s+([\w,]+)", comment))))
    lines = []
    for name, whole in arguments_of(arguments):
        if name not in told:
            for known, kind, text in TABLE:
                if known == name and kind.search(whole):
                    lines.append(f" *  @param {name} {text}")
                    break
    if returns.strip() not in ("void", "") and "@return" not in comment:
        first = re.sub(r"^\s*\*?", "", comment[3:].strip(), flags=re.M).strip()
        first = " ".join(first.split())
        sentence = re.split(r"(?<=[.?:;])\s", first)[0].rstrip(".;:?")
        if "glanz_status" in returns:
            lines.append(" *  @return GLANZ_OK, or GLANZ_ERR_ARGUMENT for a pointer that is NULL and must not be, or a number out of its range.")
        else:
            lines.append(f" *  @return {sentence[:1].lower() + sentence[1:]}.")
    at = comment.find("@return")
    if lines and at >= 0:
        return re.sub(r"\s*\n\s*\*\s*$", "", comment[:at]).rstrip() + "\n" + "\n".join(lines) + "\n *  " + comment[at:] + between + declaration
    return comment[:-2].rstrip() + "\n" + "\n".join(lines) + ("\n " if lines else " ") + "*/" + between + declaration if lines else match[0]


def split(match):
    """Members that share a line share its comment."""
    indent, kind, names, comment = match.groups()
    return "\n".join(f"{indent}{kind} {name.strip()}; {comment}" for name in names.split(","))


text = open(sys.argv[1]).read()
if sys.argv[1].endswith(".h"):
    # what every list and name says by itself
    text = re.sub(r"^( +[\w \*]*\b(?:\w+_)?count(?:, (?:\w+_)?count)*;)[ ]*$", r"\1 /**< entries of its list of them */", text, flags=re.M)
    text = re.sub(r"^( +GLANZ_CONST char \*name;)[ ]*$", r"\1 /**< UTF-8, unique among its kin; NULL where nothing has names */", text, flags=re.M)
    text = re.sub(r"^( +)((?:const |GLANZ_CONST |unsigned |struct |enum )*\w+(?: \*)?) (\*?\w+(?:\[\w+\])?(?:, \*?\w+(?:\[\w+\])?)+);\s+(/\*\*<(?:[^*]|\*(?!/))*\*/)", split, text, flags=re.M)
    text = re.sub(r"(/\*\*(?!<)(?:[^*]|\*(?!/))*\*/)(\s*\n(?:#[^\n]*\n)*)((?:[^;{}#/]|/(?!\*))*?\((?:[^;{}]|\{\})*?\)\s*[;{])", filled, text)
else:
    # sections have names of their own, for links within a page; README.md of a board is told from another's
    path = os.path.relpath(os.path.abspath(sys.argv[1]))
    page = re.sub(r"\W+", "-", path[:-3])
    known = set()

    def label(match):
        name = f"{page}-{re.sub('[^a-z0-9]+', '-', match[2].lower()).strip('-')}"
        while name in known:
            name += "-again"
        known.add(name)
        return f"{match[1]}{match[2]} {{#{name}}}"

    text = re.sub(r"^(#+ )([^\n{}]+?)$", label, text, flags=re.M)
    text = re.sub(r"\]\(#([\w-]+)\)", lambda m: f"](#{page}-{m[1]})", text)
    text = re.sub(r"\[([^\]\n]+)\]\([^)\s]+\.(?:c|h|json|sh)\)", r"\1", text)  # files that are no pages of the site
    text = re.sub(r"\]\(([\w./-]+\.md)#[\w-]+\)", r"](\1)", text)
    text = re.sub(r"^```(\w+) \S+$", r"```\1", text, flags=re.M)
sys.stdout.write(text)
