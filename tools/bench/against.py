"""The same jobs planned by this source and by an earlier one, in turn: processor seconds, medians,
and the ratio.

Each job is planned in a fresh process, once by either source and then again, so that a machine that
grows slower meanwhile slows both.
"""

from __future__ import annotations

import json
import os
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]

TIMES = 3
"""Runs of each job by each source."""

PATIENCE = 300.0
"""Seconds after which a job is given up."""

PROBE = """
import json, sys, time
sys.path.insert(0, sys.argv[1])
from pathlib import Path
try:
    from zealous_crane.brake.library import shipped_rack
    from zealous_crane.io.job_file import read_work
    from zealous_crane.planning.planner import make_plan
    from zealous_crane.planning.remedies.registry import advise
    first_told = "on_first_feasible"
except ModuleNotFoundError:  # as it was before 0.5.0
    from zealous_crane.brake import shipped_rack
    from zealous_crane.files.job_file import read_work
    from zealous_crane.plan.make import make_plan
    first_told = "at_once"
    try:
        from zealous_crane.plan.advice.advise import advise
    except ModuleNotFoundError:  # as it was in 0.4.0
        from zealous_crane.plan.advice import advise
rack = shipped_rack()
job = read_work(Path(sys.argv[2])).parts[int(sys.argv[3])]
first = []
begin = time.process_time()
more = {} if sys.argv[4] == "old" else {first_told: lambda plan: first.append(time.process_time() - begin)}
plan = make_plan(job, rack[job.brake], **more)
planned = time.process_time()
advise(plan, rack)
done = time.process_time()
print(json.dumps([first[0] if first else planned - begin, planned - begin, done - planned, plan.state.value]))
"""  # noqa: E501


def jobs() -> list[tuple[Path, int]]:
    """Every part of every demonstration and case: file, and number in it."""
    files = sorted((ROOT / "src" / "zealous_crane" / "demo").glob("*.json")) + sorted(
        (ROOT / "tests" / "cases").glob("*.json")
    )
    found = []
    for path in files:
        record = json.loads(path.read_text(encoding="utf-8"))
        if "records" not in record:  # a season of the book is no job
            found += [(path, number) for number in range(len(record.get("parts") or [record]))]
    return found


def probe(source: Path, path: Path, number: int, which: str) -> list[float] | str:
    """Seconds to the first order, of the plan and of its cures; or why there are none."""
    call = [sys.executable, "-c", PROBE, str(source / "src"), str(path), str(number), which]
    try:
        ran = subprocess.run(
            call, capture_output=True, text=True, timeout=PATIENCE, check=False, env=os.environ
        )
    except subprocess.TimeoutExpired:
        return f"more than {PATIENCE:.0f} s"
    if ran.returncode:
        return ran.stderr.strip().splitlines()[-1][:60]
    found: list[float] = json.loads(ran.stdout)[:3]
    return found


def middle(runs: list[list[float] | str]) -> list[float] | str:
    """Medians of some runs; why, where one has none."""
    for run in runs:
        if isinstance(run, str):
            return run
    return [statistics.median(figures) for figures in zip(*runs, strict=True)]


def against(commit: str, times: int = TIMES) -> None:
    """Print the figures of every job by both sources, and their sums over the jobs that both can
    plan."""
    with tempfile.TemporaryDirectory() as folder:
        old = Path(folder) / "old"
        subprocess.run(
            ["git", "-C", str(ROOT), "worktree", "add", "--detach", str(old), commit],
            check=True,
            capture_output=True,
        )
        try:
            # As this checkout has it; without, the older source would be measured several times too
            # slow.
            if (old / "setup.py").exists():
                build = [sys.executable, "setup.py", "-q", "build_ext", "--inplace"]
                subprocess.run(build, cwd=old, check=False, capture_output=True)
            _compare(old, times)
        finally:
            subprocess.run(
                ["git", "-C", str(ROOT), "worktree", "remove", "--force", str(old)], check=True
            )


def _compare(old: Path, times: int) -> None:
    print(
        f"{'job':<30}{'first':>8}{'plan':>8}{'cures':>8}   "
        f"{'before: plan':>12}{'cures':>8}{'ratio':>8}"
    )
    sums = [0.0, 0.0, 0.0, 0.0]
    for path, number in jobs():
        before, now = [], []
        for _ in range(times):
            before.append(probe(old, path, number, "old"))
            now.append(probe(ROOT, path, number, "new"))
            if isinstance(before[-1], str):
                break
        was, is_ = middle(before), middle(now)
        name = f"{path.stem} {number + 1}"
        mine = is_ if isinstance(is_, str) else f"{is_[0]:8.2f}{is_[1]:8.2f}{is_[2]:8.2f}"
        if isinstance(was, str) or isinstance(is_, str):
            print(f"{name:<30}{mine}   {was if isinstance(was, str) else ''}", flush=True)
            continue
        ratio = (was[1] + was[2]) / max(is_[1] + is_[2], 1e-3)
        print(f"{name:<30}{mine}   {was[1]:>12.2f}{was[2]:>8.2f}{ratio:>8.1f}", flush=True)
        sums = [a + b for a, b in zip(sums, (is_[1], is_[2], was[1], was[2]), strict=True)]
    now_all, was_all = sums[0] + sums[1], sums[2] + sums[3]
    print(
        f"\n{'all that both can plan':<38}{sums[0]:8.1f}{sums[1]:8.1f}   "
        f"{sums[2]:>12.1f}{sums[3]:>8.1f}{was_all / max(now_all, 1e-3):>8.1f}"
    )
