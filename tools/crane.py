"""Sets the project up from nothing and runs it. Standard library only: this runs before anything is
installed."""

from __future__ import annotations

import ctypes
import hashlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"

# Library Qt loads, and the Debian or Ubuntu package it is in. The first group is needed even off
# screen.
LIBRARIES = {
    "libglib-2.0.so.0": "libglib2.0-0",
    "libfontconfig.so.1": "libfontconfig1",
    "libfreetype.so.6": "libfreetype6",
    "libdbus-1.so.3": "libdbus-1-3",
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libxkbcommon.so.0": "libxkbcommon0",
    "libX11-xcb.so.1": "libx11-xcb1",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-randr.so.0": "libxcb-randr0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
}

HELP = """usage: ./crane COMMAND

  demo     open the demonstration box; with no display, leave pictures, sheet, drawing and plan in ./crane-demo
  test     format, lint, types and all tests
  check    format, lint and types alone
  deb      build the Debian package; ./crane deb FOLDER
  words    print the template of a translation
  bench    print what is fast and how fast, or only the sections named; --against COMMIT sets it against an earlier source,
           --draw draws docs/growth.svg
  fuzz     broken files, odd lengths, kills while saving, edits without a pause
  mutants  small faults put into the heart, and whether a test sees each (--count, --seed, --room)
  shots    refresh docs/screenshots from the demonstration jobs
  run ...  the program itself: ./crane run plan JOB --json
"""  # noqa: E501


def say(text: str) -> None:
    print(text, file=sys.stderr, flush=True)


def missing_libraries() -> list[str]:
    """Packages whose library cannot be loaded."""
    missing = []
    for library, package in LIBRARIES.items():
        try:
            ctypes.CDLL(library)
        except OSError:
            missing.append(package)
    return missing


def install_packages(packages: list[str], why: str) -> bool:
    """Install system packages where that is allowed, otherwise print the exact line; True when they
    are there."""
    prefix = [] if os.geteuid() == 0 else ["sudo", "-n"]
    line = f"sudo apt-get update && sudo apt-get install -y {' '.join(packages)}"
    allowed = shutil.which("apt-get") and (
        not prefix
        or (
            shutil.which("sudo")
            and subprocess.run([*prefix, "true"], capture_output=True).returncode == 0
        )
    )
    if not allowed:
        say(
            f"{why} needs system packages that are not here. Run this line, then try again:\n  "
            f"{line}"
        )
        return False
    say(f"Installing for {why}: {' '.join(packages)}")
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    for command in (
        ["update", "-qq"],
        ["install", "-y", "-qq", "--no-install-recommends", *packages],
    ):
        done = subprocess.run(
            [*prefix, "apt-get", *command], env=environment, stdout=subprocess.DEVNULL
        )
        if done.returncode:
            say(f"That did not work. Run this line, then try again:\n  {line}")
            return False
    return True


def site_packages() -> Path:
    """Where the virtual environment keeps its packages."""
    return next((VENV / "lib").glob("python3*/site-packages"))


def make_environment() -> bool:
    """The virtual environment with the locked versions; nothing is done when it is already
    right."""
    lock = (ROOT / "lock.txt").read_bytes()
    stamp, wanted = VENV / "crane-stamp", hashlib.sha256(lock + sys.version.encode()).hexdigest()
    if PYTHON.exists() and stamp.exists() and stamp.read_text() == wanted:
        return True
    try:
        import ensurepip  # noqa: F401 - whether it is there
        import venv  # noqa: F401
    except ImportError:
        version = f"{sys.version_info.major}.{sys.version_info.minor}"
        if not install_packages([f"python{version}-venv"], "the Python environment"):
            return False
    say("Setting up .venv with the locked versions; once only.")
    subprocess.run([sys.executable, "-m", "venv", "--clear", str(VENV)], check=True)
    pip = [
        str(PYTHON),
        "-m",
        "pip",
        "install",
        "-q",
        "--disable-pip-version-check",
        "-r",
        str(ROOT / "lock.txt"),
    ]
    if subprocess.run(pip).returncode:
        say("The packages could not be installed; see above.")
        return False
    # The checkout itself is what runs: no build, no copy.
    (site_packages() / "zealous-crane-checkout.pth").write_text(f"{ROOT / 'src'}\n")
    stamp.write_text(wanted)
    return True


def unpack_window_library(python: Path, site: Path) -> None:
    """The window library carries Python of its own inside and compiles it at every start; written
    out, once is enough."""
    if not (site / "shiboken6" / "files.dir").exists():
        written_out = {**os.environ, "SBK_EMBED": "0", "PYTHONPATH": str(site)}
        subprocess.run(
            [str(python), "-c", "import PySide6.QtCore"], env=written_out, capture_output=True
        )


def compile_engine() -> None:
    """The compiled questions of the contact search, anew when their sources changed; without a
    compiler the program does without."""
    folder = ROOT / "src" / "zealous_crane" / "kernel" / "native"
    sources = b"".join(path.read_bytes() for path in sorted(folder.glob("*.[ch]")))
    stamp, wanted = (
        VENV / "crane-engine",
        hashlib.sha256(sources + sys.version.encode()).hexdigest(),
    )
    if stamp.exists() and stamp.read_text() == wanted:
        return
    for old in folder.glob("_exact*.so"):
        old.unlink()
    subprocess.run(
        [str(PYTHON), "setup.py", "-q", "build_ext", "--inplace", "--force"],
        cwd=ROOT,
        capture_output=True,
    )
    if not any(folder.glob("_exact*.so")):
        say(
            "No C compiler was found (packages gcc and python3-dev): plans are worked out "
            "without, and take several times as long."
        )
    stamp.write_text(wanted)


def run(*arguments: str, **environment: str) -> int:
    """Run Python here. What it compiles is kept, also where the surroundings keep none: every
    process that is started would compile the whole program anew."""
    kept = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    return subprocess.run(
        [str(PYTHON), *arguments], cwd=ROOT, env={**kept, **environment}
    ).returncode


def check() -> int:
    """Format, lint, types."""
    steps = (
        ["ruff", "format", "--check", "-q", "src", "tests", "tools"],
        ["ruff", "check", "-q", "src", "tests", "tools"],
        ["mypy"],
        # What a tool asks of the program is there, too; short functions written in place are not
        # worth their types.
        [
            "mypy",
            "--follow-imports=silent",
            "--disable-error-code=misc",
            "--disable-error-code=no-untyped-call",
            "tools",
        ],
    )
    return max(
        run("-m", *step, MYPYPATH="tests:tests/cutting:tests/inspection:tools") for step in steps
    )


def test(arguments: list[str]) -> int:
    bad = 0 if arguments else check()
    # The book on a shared database is tried against a real server where one may be installed; else
    # that test is passed over.
    if os.environ.get("CRANE_DATABASE") == "install" and not list(
        Path("/usr/lib/postgresql").glob("*/bin/initdb")
    ):
        install_packages(["postgresql"], "the test of a book that several benches share")
    # A bare root, to put the Debian package into, likewise.
    if (
        os.environ.get("CRANE_BARE_ROOT") == "install"
        and os.geteuid() == 0
        and not shutil.which("mmdebstrap")
    ):
        install_packages(["mmdebstrap"], "the test of the package in a bare root")
    offscreen = os.environ.get("QT_QPA_PLATFORM", "offscreen")
    # Both cores; a part of the tests, or with a debugger, runs as it is asked for.
    spread = [] if arguments else ["-n", str(min(os.cpu_count() or 1, 8)), "--dist", "worksteal"]
    tested = run("-m", "pytest", *spread, *arguments, QT_QPA_PLATFORM=offscreen)
    if bad:
        say("Format, lint or types are not right; see above the tests.")
    return bad or tested


def demo(arguments: list[str]) -> int:
    if os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"):
        return run("-m", "zealous_crane.cli", "open", "src/zealous_crane/demo/syrup-tray.json")
    folder = Path(arguments[0]) if arguments else ROOT / "crane-demo"
    return run(
        str(ROOT / "tools" / "pictures.py"), "demo", str(folder), QT_QPA_PLATFORM="offscreen"
    )


def main(arguments: list[str]) -> int:
    if sys.version_info < (3, 11):
        say(f"Python 3.11 or newer is needed; this is {sys.version.split()[0]}.")
        return 1
    command, rest = (arguments[0], arguments[1:]) if arguments else ("help", [])
    commands = {
        "demo": lambda: demo(rest),
        "test": lambda: test(rest),
        "check": check,
        "bench": lambda: run(
            "-m",
            "bench",
            *rest,
            QT_QPA_PLATFORM="offscreen",
            PYTHONPATH=f"{ROOT / 'tools'}:{ROOT / 'tests'}",
        ),
        "mutants": lambda: run(
            str(ROOT / "tools" / "mutants.py"), *rest, QT_QPA_PLATFORM="offscreen"
        ),
        "fuzz": lambda: run(str(ROOT / "tools" / "fuzz.py"), *rest, QT_QPA_PLATFORM="offscreen"),
        "shots": lambda: run(
            str(ROOT / "tools" / "pictures.py"), "shots", QT_QPA_PLATFORM="offscreen"
        ),
        "deb": lambda: run(str(ROOT / "tools" / "deb.py"), *rest),
        "words": lambda: run(str(ROOT / "tools" / "words.py"), QT_QPA_PLATFORM="offscreen"),
        "run": lambda: run("-m", "zealous_crane.cli", *rest),
    }
    asks_for_help = command in ("demo", "test", "check", "shots", "deb", "words") and {
        "-h",
        "--help",
    } & set(rest)
    if command not in commands or asks_for_help:
        say(HELP)
        return 0 if asks_for_help or command in ("help", "-h", "--help") else 2
    missing = missing_libraries()
    if missing and not install_packages(missing, "the window (Qt)"):
        return 1
    if not make_environment():
        return 1
    unpack_window_library(PYTHON, site_packages())
    compile_engine()
    return commands[command]()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
