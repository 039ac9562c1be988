"""Broken files, odd lengths, a pulled plug, and a hand that edits without a pause: nothing may end
in a traceback or lose work.

    ./crane fuzz                        a short run of each
    ./crane fuzz files --count 10000    mutated job, work, brake and drawing files
    ./crane fuzz lengths --count 20000  typed lengths
    ./crane fuzz kills --count 200      the program killed while it saves
    ./crane fuzz edits --count 800      edits and opened jobs in the window's session
    ./crane fuzz strokes --count 400    plans of random parts on both machines, each stroke bent
    again in solids

Every run says its seed; the same seed makes the same cases.
"""

from __future__ import annotations

import argparse
import contextlib
import copy
import io
import json
import multiprocessing
import os
import random
import resource
import signal
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

LONGEST = 20.0
"""Seconds one case may take."""

ODD: tuple[Any, ...] = (
    None,
    True,
    False,
    0,
    -1,
    1,
    1e308,
    -1e308,
    1e-320,
    10**400,
    0.0005,
    "",
    " ",
    "8 1/2",
    "1e999",
    "nan",
    "8³⁄₈",
    "1,500",
    "-3 mm",
    "∞",
    "\x00",
    "a\nb",
    "x" * 5000,
    [],
    {},
    [[]],
    ["a"] * 50,
    {"kind": "?"},
    [[0, 0], [0, 0]],
    [0] * 2000,
    "<b>bold</b>",
    "％",
)

PIECES = (
    "8",
    "1/2",
    " ",
    "-",
    '"',
    "'",
    "mm",
    "ft",
    "½",
    "³⁄₈",
    ",",
    ".",
    "500",
    "in",
    "≈",
    "+",
    "0",
    "/",
    "1e9",
    "ga",
    "″",
    "\t",
    "x",
    "𝟙",
)


class Deadline:
    """Some seconds from now."""

    def __init__(self, seconds: float) -> None:
        self.at = time.monotonic() + seconds

    def over(self) -> bool:
        return time.monotonic() > self.at


class Tally:
    """What came of the cases of one kind."""

    def __init__(self, name: str) -> None:
        self.name, self.count, self.refused, self.slow, self.broken = name, 0, 0, 0, 0
        self.slowest = 0.0
        self.seen: Counter[str] = Counter()

    def run(
        self, case: Callable[[], object], expected: tuple[type[BaseException], ...], what: str
    ) -> None:
        begin = time.monotonic()
        self.count += 1
        try:
            case()
        except expected as error:
            self.refused += 1
            said = str(error)
            if (
                any(
                    word in said
                    for word in ("Traceback", "NoneType", "valid tuple", "pydantic", "object at 0x")
                )
                or not said.strip()
            ):
                self.seen[f"no sentence: {said[:80]!r}"] += 1
                self.broken += 1
        except BaseException as error:
            if isinstance(error, KeyboardInterrupt):
                raise
            self.broken += 1
            place = traceback.extract_tb(error.__traceback__)[-1]
            self.seen[
                f"{type(error).__name__} at {Path(place.filename).name}:{place.lineno} ({what})"
            ] += 1
        took = time.monotonic() - begin
        self.slowest = max(self.slowest, took)
        if took > LONGEST:
            self.slow += 1
            self.seen[f"over {LONGEST:g} s ({what})"] += 1

    def say(self) -> bool:
        print(
            f"{self.name}: {self.count} cases, {self.refused} refused in a sentence, "
            f"{self.broken} tracebacks, {self.slow} over "
            f"{LONGEST:g} s, slowest {self.slowest:.2f} s"
        )
        for what, count in self.seen.most_common(12):
            print(f"    {count} × {what}")
        return not (self.broken or self.slow)


def spots(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every place in a JSON value."""
    found = [path]
    if isinstance(value, dict):
        for key, item in value.items():
            found += spots(item, (*path, key))
    elif isinstance(value, list):
        for i, item in enumerate(value[:40]):
            found += spots(item, (*path, i))
    return found


def mutated_json(rng: random.Random, value: Any) -> str:
    """A JSON text with one to three places changed, or damaged as text."""
    value = json.loads(json.dumps(value))
    for _ in range(rng.choice((1, 1, 1, 2, 3))):
        path = rng.choice(spots(value))
        if not path:
            continue
        at = value
        for key in path[:-1]:
            at = at[key]
            if not isinstance(at, dict | list):
                break
        else:
            deed = rng.random()
            if deed < 0.15 and isinstance(at, dict):
                del at[path[-1]]
            elif (
                deed < 0.3
                and isinstance(at[path[-1]], int | float)
                and not isinstance(at[path[-1]], bool)
            ):
                at[path[-1]] = at[path[-1]] * rng.choice((-1, 0, 1e-6, 1e-3, 0.5, 2, 10, 1e3, 1e9))
            elif deed < 0.4 and isinstance(at, list):
                at.append(at[path[-1]])
            else:
                at[path[-1]] = copy.deepcopy(rng.choice(ODD))
    text = json.dumps(value, ensure_ascii=rng.random() < 0.5)
    return damaged(rng, text) if rng.random() < 0.15 else text


def damaged(rng: random.Random, text: str) -> str:
    """A text with a piece cut out, doubled, or overwritten."""
    if not text:
        return text
    i = rng.randrange(len(text))
    j = min(len(text), i + rng.choice((1, 2, 10, 200)))
    return rng.choice(
        (
            text[:i],
            text[:i] + text[j:],
            text[:j] + text[i:],
            text[:i] + chr(rng.randrange(1, 300)) + text[j:],
        )
    )


def samples() -> tuple[list[Any], list[Any], list[str]]:
    """Jobs and work, brakes, drawings to begin from."""
    from zealous_crane.brake.library import shipped_rack
    from zealous_crane.demo import DEMOS, demo_work
    from zealous_crane.flat.development import develop
    from zealous_crane.io.dxf_write import write_dxf

    works = [demo_work(name) for name in DEMOS]
    jobs = [json.loads(part.model_dump_json()) for work in works for part in work.parts]
    jobs += [json.loads(work.model_dump_json()) for work in works]
    brakes = [json.loads(brake.model_dump_json()) for brake in shipped_rack().brakes]
    drawings: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        for work in works[:8]:
            path = Path(folder) / "flat.dxf"
            write_dxf(develop(work.parts[0]), path)
            drawings.append(path.read_text())
    return jobs, brakes, drawings


def fuzz_files(count: int, seed: int) -> bool:
    """Mutated job, work, brake and drawing files: read, developed, recorded; some planned."""
    from zealous_crane.bending.machines import narrow_flanges, toolings
    from zealous_crane.brake.library import BrakeError, read_brake, shipped_rack
    from zealous_crane.flat.development import develop
    from zealous_crane.flat.element import DevelopmentError
    from zealous_crane.io.dxf_entities import DrawingError
    from zealous_crane.io.dxf_read import read_drawing
    from zealous_crane.io.job_file import JobFileError, read_work
    from zealous_crane.io.plan_file import blank_record
    from zealous_crane.job.job import FlatPart, Job
    from zealous_crane.planning.planner import make_plan
    from zealous_crane.planning.remedies.registry import advise
    from zealous_crane.planning.route import Cancelled

    rng, rack = random.Random(seed), shipped_rack()
    jobs, brakes, drawings = samples()
    tallies = {kind: Tally(kind) for kind in ("job and work files", "brake files", "drawings")}
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "case.json"

        def job_case(plans: bool) -> None:
            for part in read_work(path).parts[:3]:
                brake, blank = rack[part.brake], develop(part)
                json.dumps(blank_record(blank, part))
                narrow_flanges(blank, brake, part.units)
                if plans:
                    over = Deadline(3.0).over
                    with contextlib.suppress(Cancelled):
                        advise(
                            make_plan(part, brake, blank=blank, limit=20, cancelled=over),
                            rack,
                            cancelled=over,
                        )

        def brake_case() -> None:
            brake = read_brake(path)
            job = Job.model_validate(jobs[0]).model_copy(update={"brake": brake.key})
            toolings(brake, develop(job))
            make_plan(job, brake, limit=5)

        def drawing_case() -> None:
            reading = read_drawing(path.with_suffix(".dxf"))
            develop(Job(part=FlatPart(flat=reading.flat), thickness="20 ga"))

        foreseen = (JobFileError, BrakeError, DevelopmentError, DrawingError)
        for i in range(count):
            case = rng.random()
            if case < 0.6:
                path.write_text(
                    mutated_json(rng, rng.choice(jobs)), encoding="utf-8", errors="surrogatepass"
                )
                plans = rng.random() < 0.01
                tallies["job and work files"].run(
                    lambda plans=plans: job_case(plans), foreseen, f"case {i}"
                )
            elif case < 0.8:
                path.write_text(
                    mutated_json(rng, rng.choice(brakes)), encoding="utf-8", errors="surrogatepass"
                )
                tallies["brake files"].run(brake_case, foreseen, f"case {i}")
            else:
                text = rng.choice(drawings)
                for _ in range(rng.choice((1, 1, 3))):
                    text = mutated_dxf(rng, text)
                path.with_suffix(".dxf").write_text(text, encoding="utf-8", errors="surrogatepass")
                tallies["drawings"].run(drawing_case, foreseen, f"case {i}")
    return all([tally.say() for tally in tallies.values()])


def mutated_dxf(rng: random.Random, text: str) -> str:
    """A drawing with a value changed, a line gone, or damaged as text."""
    lines = text.split("\n")
    if rng.random() < 0.2:
        return damaged(rng, text)
    i = rng.randrange(len(lines))
    if rng.random() < 0.2:
        del lines[i : i + rng.choice((1, 2, 8))]
    else:
        lines[i] = rng.choice(
            (
                "0",
                "-1",
                "1e300",
                "nan",
                "",
                "ENDSEC",
                "CIRCLE",
                "INSERT",
                "99999999",
                "abc",
                "1.5",
                "\x00",
            )
        )
    return "\n".join(lines)


def fuzz_lengths(count: int, seed: int) -> bool:
    """Lengths, angles and thicknesses put together from what people type."""
    from zealous_crane.metal.material import MATERIALS
    from zealous_crane.metal.sheet import Sheet
    from zealous_crane.units.length import LengthError, Units, parse_length, show_length
    from zealous_crane.units.quantities import AngleError, parse_angle

    rng, tally = random.Random(seed), Tally("typed lengths, angles and gauges")
    metals = list(MATERIALS.values())

    def case(text: str, units: Units, kind: int) -> None:
        if kind == 0:
            value = parse_length(text, units)
            shown = show_length(value, units)
            again = parse_length(shown, units)
            assert (
                abs(again - value)
                <= {Units.FRACTIONS: 0.2, Units.DECIMAL: 0.0131, Units.MM: 0.0051}[units]
            ), (text, shown)
        elif kind == 1:
            parse_angle(text)
        else:
            Sheet.read(rng.choice(metals), text, units)

    for i in range(count):
        text = "".join(rng.choice(PIECES) for _ in range(rng.randrange(1, 7)))
        if rng.random() < 0.02:
            text *= rng.choice((10, 1000))
        units, kind = rng.choice(list(Units)), rng.choice((0, 0, 0, 1, 2))
        tally.run(
            lambda t=text, u=units, k=kind: case(t, u, k),
            (LengthError, AngleError, ValueError),
            f"case {i}: {text[:20]!r}",
        )
    return tally.say()


def fuzz_kills(count: int, seed: int) -> bool:
    """The program killed while it saves, again and again: the file is always one of those that were
    saved."""
    from zealous_crane.demo import DEMOS, demo_work
    from zealous_crane.io.job_file import read_work, write_work

    rng, lost, ends = random.Random(seed), 0, 0
    works = [demo_work(name) for name in DEMOS[:6]]
    context = multiprocessing.get_context("fork")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "work.json"
        write_work(works[0], path)
        for _ in range(count):
            child = context.Process(target=_save_on_and_on, args=(works, path))
            child.start()
            time.sleep(rng.uniform(0.002, 0.05))
            assert child.pid is not None
            os.kill(child.pid, signal.SIGKILL)
            child.join()
            ends += child.exitcode == -signal.SIGKILL
            try:
                lost += read_work(path) not in works
            except Exception:
                lost += 1
    print(f"killed while saving: {count} times ({ends} while it ran), {lost} files lost")
    return lost == 0


def _save_on_and_on(works: list[Any], path: Path) -> None:
    from zealous_crane.io.job_file import write_work

    i = 0
    while True:
        write_work(works[i % len(works)], path)
        i += 1


def fuzz_edits(count: int, seed: int) -> bool:
    """Edits, undone and redone, jobs opened, planning stopped: no plan ever counts for another job;
    memory stays flat."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QEvent

    from zealous_crane.brake.library import shipped_rack
    from zealous_crane.demo import DEMOS, demo_work
    from zealous_crane.paint.application import application
    from zealous_crane.ui.state.session import Session
    from zealous_crane.ui.window.window import Window
    from zealous_crane.units.length import INCH

    app, rng = application(), random.Random(seed)
    names = [
        name
        for name in DEMOS
        if name not in ("wax-melter-chimney", "chimney-four-sides", "comb-box")
    ]
    session = Session(demo_work(names[0]), shipped_rack())
    window = Window(session)
    window.show()
    foreign, memory = 0, []
    for i in range(count):
        deed = rng.random()
        if deed < 0.6:
            part = session.job.part
            sizes = [n for n, v in part.model_dump().items() if isinstance(v, float) and v > 5]
            if sizes:
                name = rng.choice(sizes)
                step = rng.choice((-1, 1)) * INCH / 8
                session.edit(name, part={**part.model_dump(), name: getattr(part, name) + step})
        elif deed < 0.75:
            session.undo()
        elif deed < 0.85:
            session.redo()
        elif deed < 0.95:
            session.start_with(demo_work(rng.choice(names)))
        else:
            session.bench_plan.stop()
        window.show_stage(rng.choice(list(window.stages)))
        until = time.monotonic() + rng.choice((0.0, 0.0, 0.02, 0.1))
        while True:
            app.processEvents()
            # What is put away is deleted when the event loop turns; nothing else does it here.
            app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            plan = session.plan
            foreign += plan is not None and (plan.job != session.job or plan.brake != session.brake)
            foreign += plan is not None and plan.blank.size != session.blank.size
            if time.monotonic() > until:
                break
        if i % max(1, count // 8) == 0:
            memory.append(resident())
    print(
        f"edits: {count}, plans of another job {foreign}, memory (MB) "
        f"{' '.join(f'{m:.0f}' for m in memory)}"
    )
    session.mark_saved()
    window.close()
    return foreign == 0


def fuzz_strokes(count: int, seed: int) -> bool:
    """Plans of random parts with metal across the bend line, seeds from this one on, on every kind
    of machine, bent again in solids."""
    tests = Path(__file__).parents[1] / "tests"
    sys.path.insert(0, str(tests))
    from bent_again import random_plans
    from random_across import MACHINES

    good = True
    for kind in MACHINES:
        strokes, refused, wrong = random_plans(range(seed, seed + -(-count // len(MACHINES))), kind)
        print(f"{kind}: {strokes} strokes bent again, {refused} parts refused, {len(wrong)} wrong")
        for line in wrong[:20]:
            print(f"    {line}")
        good &= not wrong
    return good


def resident() -> float:
    """Memory in use, MB."""
    try:
        return int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize() / 1e6
    except OSError:
        return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e3


RUNS: dict[str, tuple[Callable[[int, int], bool], int]] = {
    "files": (fuzz_files, 400),
    "lengths": (fuzz_lengths, 4000),
    "kills": (fuzz_kills, 30),
    "edits": (fuzz_edits, 60),
    "strokes": (fuzz_strokes, 40),
}


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="./crane fuzz")
    parser.add_argument(
        "what", nargs="*", choices=[*RUNS, []], help="which; all when none is named"
    )
    parser.add_argument("--count", type=int, help="cases")
    parser.add_argument("--seed", type=int, default=1, help="what makes the cases")
    chosen = parser.parse_args(arguments)
    sys.stdout.reconfigure(line_buffering=True) if isinstance(
        sys.stdout, io.TextIOWrapper
    ) else None
    print(f"seed {chosen.seed}")
    good = [
        RUNS[name][0](chosen.count or RUNS[name][1], chosen.seed) for name in (chosen.what or RUNS)
    ]
    return 0 if all(good) else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
