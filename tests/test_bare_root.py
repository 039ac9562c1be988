"""The Debian package in a root that has nothing else: what a person gets who installs it and clicks
a job twice.

Made from the distribution's packages where that is allowed (CRANE_BARE_ROOT=install, as root);
passed over elsewhere.
"""

import contextlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from tool import tool

ROOT = Path(__file__).resolve().parent.parent

BESIDE = ("xvfb", "xdg-utils", "libfile-mimeinfo-perl", "xdotool")
"""A screen that is not there, what opens a file by its kind, and what looks at windows."""

pytestmark = pytest.mark.skipif(
    os.environ.get("CRANE_BARE_ROOT") != "install"
    or os.geteuid() != 0
    or shutil.which("mmdebstrap") is None,
    reason="no bare root may be made here (CRANE_BARE_ROOT)",
)


@pytest.fixture(scope="module")
def bare(tmp_path_factory):
    """Runs a script in a root with the package in it; its output."""
    deb = tool("deb")
    place = tmp_path_factory.mktemp("bare") / "root"
    suite = next(
        line.split("=")[1].strip('"')
        for line in Path("/etc/os-release").read_text().splitlines()
        if line.startswith("VERSION_CODENAME")
    )
    wanted = [PYTHON, *deb.LIBRARIES.values(), *deb.DESKTOP, *BESIDE]
    made = subprocess.run(
        [
            "mmdebstrap",
            "-q",
            "--variant=minbase",
            f"--include={','.join(sorted(set(wanted)))}",
            suite,
            str(place),
        ],
        capture_output=True,
        text=True,
        check=False,
    )
    if made.returncode:
        pytest.skip(f"the distribution's packages are out of reach: {made.stderr[-300:]}")
    package = deb.build(place / "root", pressed=False)
    environment = {
        "HOME": "/root",
        "LANG": "C.UTF-8",
        "PATH": "/usr/sbin:/usr/bin:/sbin:/bin",
        "XDG_RUNTIME_DIR": "/run",
        "DEBIAN_FRONTEND": "noninteractive",
    }
    if subprocess.run(
        ["mount", "--bind", "/proc", str(place / "proc")], capture_output=True, check=False
    ).returncode:
        shutil.rmtree(place, ignore_errors=True)
        pytest.skip("nothing may be mounted here")

    def run(script, *, check=True, seconds=180):
        done = subprocess.run(
            ["chroot", str(place), "sh", "-eu", "-c", f"cd /root\n{script}"],
            env=environment,
            capture_output=True,
            text=True,
            timeout=seconds,
            check=False,
        )
        assert not check or done.returncode == 0, (script, done.stdout[-2000:], done.stderr[-2000:])
        return done.stdout

    try:
        run(f"dpkg -i {package.name}")
        package.unlink()
        yield run
    finally:
        subprocess.run(["umount", str(place / "proc")], check=False)
        with contextlib.suppress(OSError):
            shutil.rmtree(place)


PYTHON = f"python{sys.version_info.major}.{sys.version_info.minor}"

MAKE_A_JOB = f"""
{PYTHON} - <<'END'
import sys
sys.path.insert(0, "/usr/lib/zealous-crane")
from pathlib import Path
from zealous_crane.demo import demo_job
from zealous_crane.io.job_file import write_job
write_job(demo_job(), Path("box.crane"))
END
"""

PRACTISE = f"""
{PYTHON} - <<'END'
import sys
sys.path.insert(0, "/usr/lib/zealous-crane")
from zealous_crane.flat.development import develop
from zealous_crane.brake.library import shipped_rack
from zealous_crane.practice.layout import LAY_OUT
from zealous_crane.practice.make import exercise
found = exercise(LAY_OUT, 1, 0, shipped_rack())
size = develop(found.job).size
asked = {{q.key: q for q in found.questions}}
print(asked["blank-0"].mark(size[0]).right, asked["blank-1"].mark(size[1]).right, asked["blank-0"].mark(size[0] + 40).right)
END
"""  # noqa: E501

CLICK_TWICE = """
Xvfb :7 -screen 0 1280x800x24 >/dev/null 2>&1 &
screen=$!
export DISPLAY=:7
for i in $(seq 50); do test -e /tmp/.X11-unix/X7 && break; sleep 0.1; done
xdg-open box.crane >/dev/null 2>&1 &
for i in $(seq 120); do
    xdotool search --name "box.crane" getwindowname 2>/dev/null && break
    sleep 0.5
done
kill $screen
"""


def test_the_package_is_whole_and_known_to_the_desktop(bare):
    said = bare(
        "zealous-crane --version; zealous-crane --help | head -3; ls "
        "/usr/share/man/man1/zealous-crane.1*; ls /usr/share/icons/hicolor/*/apps"
    )
    assert (
        "Zealous Crane" in said and "Usage: zealous-crane" in said and "zealous-crane.svg" in said
    )
    bare(MAKE_A_JOB)
    assert bare("xdg-mime query filetype box.crane").strip() == "application/x-zealous-crane"
    assert (
        bare("xdg-mime query default application/x-zealous-crane").strip()
        == "zealous-crane.desktop"
    )
    assert "compiled" in bare(
        "test -e /usr/lib/zealous-crane/zealous_crane/kernel/native/_exact*.so && echo compiled "
        "|| echo compiled not"
    )


def compiled_anew(bare, *more):
    """How many files of the program somebody who may write nowhere compiles before the window can
    stand."""
    call = " ".join(["setpriv --reuid 65534 --clear-groups", PYTHON, "-v", *more])
    said = bare(f"""
{call} -c '
import sys
sys.path.insert(0, "/usr/lib/zealous-crane")
import zealous_crane.ui.window.window' 2>&1 | grep -c "code object from /usr/lib/zealous-crane/" || true
""")  # noqa: E501
    return int(said)


def test_nobody_compiles_the_program_anew(bare):
    assert compiled_anew(bare) == 0
    assert compiled_anew(bare, "-X pycache_prefix=/nowhere") > 100, (
        "where nothing compiled is found it would be seen"
    )


def test_what_the_window_library_carries_inside_is_written_out_and_compiled(bare):
    said = bare("ls /usr/lib/zealous-crane/shiboken6/files.dir/shibokensupport/__pycache__")
    assert "feature.cpython" in said


def test_a_job_that_is_clicked_twice_is_in_the_window(bare):
    bare(MAKE_A_JOB)
    said = bare(CLICK_TWICE)
    assert "Syrup tray" in said and "box.crane" in said


def test_pages_are_printed_and_a_box_is_practised(bare):
    bare(MAKE_A_JOB)
    bare("QT_QPA_PLATFORM=offscreen zealous-crane sheet box.crane -o sheet.pdf")
    assert bare("head -c 5 sheet.pdf") == "%PDF-" and int(bare("wc -c < sheet.pdf")) > 10_000
    assert bare(PRACTISE).split() == ["True", "True", "False"]
