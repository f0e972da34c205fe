#!/usr/bin/env python3
"""Installs the build into a folder and into a Debian package, and holds both against the specifications.

usage: check_install.py SOURCE BUILD
"""

import gzip
import os
import pathlib
import re
import shutil
import subprocess
import sys
import tempfile

SOURCE, BUILD = (pathlib.Path(p).resolve() for p in sys.argv[1:3])
faults = []


def run(*command, **more):
    return subprocess.run([str(c) for c in command], capture_output=True, text=True, **more)


def check(name, good, said=""):
    print(("ok    " if good else "FAULT ") + name)
    if not good:
        faults.append(name)
        print(said)


def must_run(name, *command, **more):
    done = run(*command, **more)
    check(name, done.returncode == 0, done.stdout + done.stderr)
    return done


def check_programs(prefix, home):
    env = {"PATH": f"{prefix}/bin:/usr/bin:/bin", "HOME": str(home), "QT_QPA_PLATFORM": "offscreen",
           "XDG_RUNTIME_DIR": str(home)}
    version = re.search(r"project\(rakugo VERSION ([\d.]+)", (SOURCE / "CMakeLists.txt").read_text())[1]
    for program in ("rakugo", "rakugo-tool", "rakugo-icon", "kelpwick"):
        said = must_run(f"{program} --version", f"{prefix}/bin/{program}", "--version", env=env).stdout
        check(f"{program} says version {version}", version in said, said)
        options = re.findall(r"--[a-z][a-z-]+", must_run(f"{program} --help", f"{prefix}/bin/{program}", "--help", env=env).stdout)
        page = gzip.open(f"{prefix}/share/man/man1/{program}.1.gz", "rt").read().replace("\\-", "-")
        if program != "rakugo-tool":  # its page is made from its own table; compared below
            missing = [o for o in options if o not in page and o != "--help"]
            check(f"the manual page of {program} knows all its options", not missing, str(missing))
    # Away from the source tree, the installed rulebooks and examples serve.
    books = must_run("rulebooks are found where they were installed", f"{prefix}/bin/rakugo-tool", "rulebook", "list",
                     env=env, cwd=home).stdout
    check("both rulebooks are there", "kelpwick" in books and "ninefold" in books, books)
    mod = home / "lamp"
    shutil.copytree(f"{prefix}/share/rakugo/examples/lamplight", mod)
    must_run("an installed example is checked", f"{prefix}/bin/rakugo-tool", "check", mod, env=env, cwd=home)
    must_run("and built", f"{prefix}/bin/rakugo-tool", "build", mod, "-o", home / "lamp.rkb", env=env, cwd=home)
    check("no build of a demo mod was installed", not list(pathlib.Path(prefix).glob("share/rakugo/examples/*/build")))
    return home / "lamp.rkb"


def check_generated(prefix):
    for what, file in (([], "man/rakugo-tool.1"), (["--bash"], "rakugo-tool.bash")):
        said = run(f"{prefix}/bin/rakugo-tool", "manual", *what).stdout
        check(f"packaging/{file} is what the tool makes", said == (SOURCE / "packaging" / file).read_text(),
              "make it anew with: rakugo-tool manual " + " ".join(what))
    for page in sorted(pathlib.Path(prefix).glob("share/man/man1/*.gz")):
        done = run("man", "--warnings", "-E", "UTF-8", "-l", "-Tutf8", page, env={**os.environ, "LC_ALL": "C.UTF-8", "MANWIDTH": "80"})
        check(f"{page.name} is set without a warning", done.returncode == 0 and not done.stderr, done.stderr)


def complete(prefix, line):
    """What bash would offer at the end of `line`."""
    script = (f"source {prefix}/share/bash-completion/completions/rakugo-tool; COMP_WORDS=({line}); "
              f"[[ '{line}' == *' ' ]] && COMP_WORDS+=(''); COMP_CWORD=$((${{#COMP_WORDS[@]}} - 1)); _rakugo_tool; "
              'printf "%s\\n" "${COMPREPLY[@]}"')
    return run("bash", "-c", script, cwd=prefix).stdout.split()


def check_completion(prefix):
    check("completion of a command", complete(prefix, "rakugo-tool ins") == ["inspect", "install"])
    check("completion of an inner command", complete(prefix, "rakugo-tool rulebook ch") == ["check"])
    check("completion of an option", complete(prefix, "rakugo-tool check lamp --f") == ["--format"])
    check("completion of a file", "share" in complete(prefix, "rakugo-tool check "))


def check_desktop(prefix, bundle, work):
    share = pathlib.Path(prefix) / "share"
    must_run("desktop entry", "desktop-file-validate", share / "applications/rakugo.desktop")
    must_run("AppStream metadata", "appstreamcli", "validate", "--no-net", share / "metainfo/example.rakugo.Rakugo.metainfo.xml")
    must_run("MIME types are well formed", "xmllint", "--noout", share / "mime/packages/rakugo.xml")
    types = work / "mime"
    (types / "packages").mkdir(parents=True)
    # Beside the system's own types, as on a real desktop.
    for file in pathlib.Path("/usr/share/mime/packages").glob("*.xml"):
        shutil.copy(file, types / "packages")
    shutil.copy(share / "mime/packages/rakugo.xml", types / "packages")
    must_run("MIME types are taken", "update-mime-database", types)
    globs = (types / "globs2").read_text()
    check("bundles are known by their ending", "application/x-rakugo-bundle:*.rkb" in globs)
    check("mods are known by their file", "application/x-rakugo-mod:mod.json" in globs)
    magic = (types / "magic").read_bytes()
    place = magic.find(b"application/x-rakugo-bundle]")
    check("bundles are known by their first bytes", place > 0 and bundle.read_bytes()[:8] in magic[place:place + 80])
    entry = (share / "applications/rakugo.desktop").read_text()
    for name in ("application/x-rakugo-bundle", "application/x-rakugo-mod"):
        check(f"a double click on {name} opens Rakugo", name in re.search(r"^MimeType=(.*)$", entry, re.M)[1])
        check(f"there is an icon for {name}",
              (share / "icons/hicolor/scalable/mimetypes" / (name.replace("/", "-") + ".svg")).is_file())


def check_package(work):
    must_run("cpack makes a Debian package", "cpack", "-G", "DEB", "-B", work / "deb", cwd=BUILD)
    packages = list((work / "deb").glob("*.deb"))
    check("one package", len(packages) == 1, str(packages))
    if not packages:
        return
    fields = run("dpkg-deb", "-f", packages[0]).stdout
    check("it asks for the libraries it uses", "libqt6widgets6" in fields and "libzstd1" in fields, fields)
    listed = run("dpkg-deb", "-c", packages[0]).stdout
    for path in ("./usr/bin/rakugo", "./usr/share/rakugo/rulebooks/kelpwick/rulebook.json",
                 "./usr/share/applications/rakugo.desktop", "./usr/share/doc/rakugo/copyright"):
        check(f"it holds {path}", f" {path}\n" in listed)
    lint = run("lintian", "--allow-root", "--tag-display-limit", "0", packages[0])
    said = [l for l in lint.stdout.splitlines() if l[:2] in ("E:", "W:")]
    check("lintian has nothing to say but for the listed exceptions", not said, lint.stdout + lint.stderr)


with tempfile.TemporaryDirectory() as folder:
    work = pathlib.Path(folder)
    prefix = work / "usr"
    home = work / "home"
    home.mkdir()
    must_run("cmake --install", "cmake", "--install", BUILD, "--prefix", prefix)
    bundle = check_programs(prefix, home)
    check_generated(prefix)
    check_completion(prefix)
    check_desktop(prefix, bundle, work)
    check_package(work)
sys.exit(f"{len(faults)} faults: " + "; ".join(faults) if faults else 0)
