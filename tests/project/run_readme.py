#!/usr/bin/env python3
"""Runs the command lines of the README that use rakugo-tool, as they stand there, in a folder of their own.
usage: run_readme.py SOURCE_DIR BIN_DIR"""
import os, subprocess, sys, tempfile

source, binaries = sys.argv[1], sys.argv[2]
with open(os.path.join(source, "README.md"), encoding="utf-8") as f:
    lines = [line.strip() for line in f if line.startswith("    build/release/bin/rakugo-tool ")]
if len(lines) < 4:
    sys.exit("the README shows fewer commands than it did")
with tempfile.TemporaryDirectory() as folder:
    for line in lines:
        words = [w.replace("build/release/bin", binaries).replace("examples/", source + "/examples/") for w in line.split()]
        ran = subprocess.run(words, cwd=folder, capture_output=True, text=True)
        print(line, "->", ran.returncode)
        if ran.returncode != 0:
            sys.exit(ran.stdout + ran.stderr)
