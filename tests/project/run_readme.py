#!/usr/bin/env python3
"""Runs the command lines of the README and the tutorial that use rakugo-tool, as they stand there, each document's in a folder of its own.
usage: run_readme.py SOURCE_DIR BIN_DIR"""
import os, shlex, subprocess, sys, tempfile

source, binaries = sys.argv[1], sys.argv[2]
for document in ("README.md", "docs/tutorial.md"):
    with open(os.path.join(source, document), encoding="utf-8") as f:
        lines = [line.strip() for line in f if line.startswith("    build/release/bin/rakugo-tool ")]
    if len(lines) < 4:
        sys.exit(f"{document} shows fewer commands than it did")
    with tempfile.TemporaryDirectory() as folder:
        for line in lines:
            words = [w.replace("build/release/bin", binaries).replace("examples/", source + "/examples/") for w in shlex.split(line)]
            ran = subprocess.run(words, cwd=folder, capture_output=True, text=True)
            print(line, "->", ran.returncode)
            if ran.returncode != 0:
                sys.exit(ran.stdout + ran.stderr)
