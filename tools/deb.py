"""A Debian package of the program with everything it needs from the package index inside: for the
machine's own Python and kind.

Standard library only, with pip, dpkg-deb and the wheel that setuptools makes: ./crane deb [FOLDER].
"""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent))
from crane import LIBRARIES, unpack_window_library

ROOT = Path(__file__).resolve().parent.parent

HOME = "usr/lib/zealous-crane"
"""Where program and packages lie; nothing of them is seen by other programs."""

DESKTOP = ("shared-mime-info", "desktop-file-utils", "hicolor-icon-theme")
"""What tells a desktop of icon, kind of file and menu; their triggers run when the package is put
in."""

SOURCES = ("src", "packaging", "pyproject.toml", "setup.py", "MANIFEST.in", "README.md", "LICENSE")
"""What a wheel is made from."""

MADE = shutil.ignore_patterns("__pycache__", "*.egg-info", "*.so")
"""What lies among it and was made, not written."""

LAUNCHER = """#!/usr/bin/python{version} -s
import os
import sys

sys.path.insert(0, "/{home}")
os.environ["PYTHONPATH"] = "/{home}"  # for the processes that plan

from zealous_crane.cli import main

main()
"""

CONTROL = """Package: zealous-crane
Version: {number}
Architecture: {machine}
Maintainer: Zealous Crane <nobody@localhost>
Section: science
Priority: optional
Depends: python{version}, {libraries}
Description: plans boxes, pans and strips of sheet metal
 Develops the blank, lays out what is scribed and cut, orders the bends, picks
 fingers, punches and dies, and says how far every stroke goes and what it
 would touch. Works without a network.
"""


def build(folder: Path, *, pressed: bool = True) -> Path:
    """Build the package into a folder; ``pressed`` off makes a larger one sooner.

    Raises:
        RuntimeError: there is no wheel of this checkout.
        subprocess.CalledProcessError: another step failed.
    """
    version = f"{sys.version_info.major}.{sys.version_info.minor}"
    with tempfile.TemporaryDirectory() as place:
        wheels, tree = Path(place) / "wheels", Path(place) / "tree"
        wheel = make_wheel(wheels)
        number = wheel.name.split("-")[1]
        home = tree / HOME
        home.mkdir(parents=True)
        subprocess.run(
            [
                sys.executable,
                "-m",
                "pip",
                "install",
                "-q",
                "--no-compile",
                "--target",
                str(home),
                "-c",
                str(ROOT / "lock.txt"),
                str(wheel),
            ],
            check=True,
        )
        unpack_window_library(Path(sys.executable), home)
        compile_tree(tree, home)
        # What belongs to a desktop lies where it looks.
        shared = home / "share"
        if shared.exists():
            shutil.copytree(shared, tree / "usr" / "share", dirs_exist_ok=True)
            shutil.rmtree(shared)
        shutil.rmtree(home / "bin", ignore_errors=True)
        launcher = tree / "usr" / "bin" / "zealous-crane"
        launcher.parent.mkdir(parents=True)
        launcher.write_text(LAUNCHER.format(home=HOME, version=version))
        launcher.chmod(0o755)
        machine = subprocess.run(
            ["dpkg", "--print-architecture"], capture_output=True, text=True, check=True
        ).stdout.strip()
        libraries = ", ".join(sorted({*LIBRARIES.values(), *DESKTOP}))
        control = tree / "DEBIAN" / "control"
        control.parent.mkdir()
        control.write_text(
            CONTROL.format(number=number, machine=machine, version=version, libraries=libraries)
        )
        folder.mkdir(parents=True, exist_ok=True)
        made = folder / f"zealous-crane_{number}_{machine}.deb"
        press = ["-Zxz"] if pressed else ["-Znone"]
        subprocess.run(
            ["dpkg-deb", "--root-owner-group", *press, "--build", str(tree), str(made)],
            check=True,
            stdout=subprocess.DEVNULL,
        )
    return made


def compile_tree(tree: Path, home: Path) -> None:
    """Compile what lies in the package: only root may write where it lies, so that everybody else
    would compile it anew at every start.

    What cannot be compiled (files that show mistakes to their own tests) is left as it is.
    """
    call = [
        "-m",
        "compileall",
        "-q",
        "-j",
        "0",
        "--invalidation-mode",
        "unchecked-hash",
        "-x",
        "/tests?/",
    ]
    places = ["-s", str(tree), "-p", "/"]  # where it says it lies
    subprocess.run(
        [sys.executable, *call, *places, str(home)], check=False, stdout=subprocess.DEVNULL
    )


def make_wheel(folder: Path) -> Path:
    """The wheel of this checkout, made from a copy of it.

    Made in place, two at once take each other's half-made files away, and files
    that are no more go on lying in ``build`` and into every wheel after.

    Raises:
        RuntimeError: it cannot be made; says what the making said.
    """
    folder.mkdir(parents=True, exist_ok=True)
    call = "import sys; from setuptools import build_meta as b; print(b.build_wheel(sys.argv[1]))"
    with tempfile.TemporaryDirectory() as place:
        copy = Path(place)
        for name in SOURCES:
            if (ROOT / name).is_dir():
                shutil.copytree(ROOT / name, copy / name, ignore=MADE)
            else:
                shutil.copy2(ROOT / name, copy / name)
        made = subprocess.run(
            [sys.executable, "-c", call, str(folder.resolve())],
            cwd=copy,
            check=False,
            capture_output=True,
            text=True,
        )
    if made.returncode:
        raise RuntimeError(made.stderr[-2000:])
    return folder / made.stdout.split()[-1]


if __name__ == "__main__":
    print(build(Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "dist"))
