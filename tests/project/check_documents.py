#!/usr/bin/env python3
"""Holds the documents against the tree: links lead somewhere, folders are described, commands in the README exist.
usage: check_documents.py SOURCE_DIR"""
import json, os, re, sys

root = sys.argv[1]
faults = []

def read(path):
    with open(os.path.join(root, path), encoding="utf-8") as f:
        return f.read()

documents = [os.path.join(d, f)[len(root) + 1:] for d, dirs, files in os.walk(root) for f in files
             if f.endswith(".md") and "/build" not in d[len(root):] and "/.git" not in d[len(root):]]
for document in documents:
    for target in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", read(document)):
        if not os.path.exists(os.path.join(root, os.path.dirname(document), target)):
            faults.append(f"{document}: the link to {target} leads nowhere")

for library in sorted(os.listdir(os.path.join(root, "src"))):
    if not os.path.exists(os.path.join(root, "src", library, "README.md")):
        faults.append(f"src/{library} has no README.md")
    if f"`{library}`" not in read("docs/architecture.md"):
        faults.append(f"docs/architecture.md does not name `{library}`")

for command in ("./demo", "./test"):
    if command not in read("README.md") or not os.access(os.path.join(root, command), os.X_OK):
        faults.append(f"{command} is not in the README or cannot be run")

shots = os.path.join(root, "docs/screenshots")
pictures = [f for f in os.listdir(shots) if f.endswith(".png")]
if len(pictures) >= 20:
    faults.append("docs/screenshots holds 20 pictures or more")
everything = "".join(read(d) for d in documents)
for picture in pictures:
    if picture not in everything:
        faults.append(f"docs/screenshots/{picture} is shown nowhere")

# No rule of a game stands in code outside the stand-in: neither the games' own words, nor an id of a rulebook as a text.
words = re.compile(r"kelpwick|harbour|quay|ninefold|attic\b|dollhouse|\bmoths?\b|oilcloth|pier.block|bollard", re.IGNORECASE)
ids = set()

def gather(value, key=""):
    if isinstance(value, dict):
        for k, v in value.items():
            gather(v, k)
    elif isinstance(value, list):
        for v in value:
            gather(v, key)
    elif isinstance(value, str) and key in ("id", "parent", "choices"):
        ids.add(value)

for book in sorted(os.listdir(os.path.join(root, "rulebooks"))):
    if os.path.exists(os.path.join(root, "rulebooks", book, "rulebook.json")):
        rules = json.loads(read(f"rulebooks/{book}/rulebook.json"))
        for part in ("id", "kinds", "skeletons"):
            gather(rules.get(part), part)
# Words that the trade and our own files use for themselves, whatever a rulebook calls so.
ids -= {"", "label", "room", "use", "turns", "steps", "name", "light", "left", "right", "straight", "paint", "collar", "tip", "key", "show", "text", "skin", "lights", "back", "notice", "tar"}
# What lamps, emitters and shapes say in any game stands in a table of our own.
ids -= set(re.findall(r'"([^"]*)"', read("src/rulebook/piece_sorts.cpp")))
def sources(folder):
    """The files of a library, in all its folders, that are no tests."""
    for where, _, names in os.walk(os.path.join(root, "src", folder)):
        for name in sorted(names):
            if name.endswith((".h", ".cpp")) and not name.endswith("_test.cpp"):
                yield os.path.join(where, name)[len(root) + 1:]

for folder in ("base", "bundle", "geometry", "scene", "formats", "rulebook", "mod", "prepare", "check", "packing", "render", "app", "tool"):
    for name in sources(folder):
        for number, line in enumerate(read(name).splitlines(), 1):
            code = line.split("//")[0]
            # The window knows the stand-in's name as a program to start; that is no rule.
            if words.search(code) and not (folder == "app" and "tryout" in name) and not (folder == "app" and "/kelpwick" in code):
                faults.append(f"{name}:{number}: a word of a rulebook in code: {code.strip()}")
            for literal in re.findall(r'"([^"]*)"', code):
                if literal in ids:
                    faults.append(f"{name}:{number}: an id of a rulebook in code: {code.strip()}")

# The map of the tree: every folder below src with code in it, and none that is not there.
there = {where[len(root) + 1:] for where, _, names in os.walk(os.path.join(root, "src"))
         if any(n.endswith((".h", ".cpp")) for n in names)}
mapped = set(re.findall(r"^    (src/[a-z_/]+)  ", read("docs/architecture.md"), re.MULTILINE))
faults += [f"docs/architecture.md: the map does not name {f}" for f in sorted(there - mapped)]
faults += [f"docs/architecture.md: the map names {f}, which is not there" for f in sorted(mapped - there)]
# One file name, one file: nobody has to ask which.
seen = {}
for name in (n for library in os.listdir(os.path.join(root, "src")) for n in sources(library)):
    base = os.path.basename(name)
    if base != "main.cpp" and base in seen:
        faults.append(f"{name} has the name of {seen[base]}")
    seen[base] = name

for fault in faults:
    print(fault)
print(f"{len(documents)} documents, {len(faults)} faults")
sys.exit(1 if faults else 0)
