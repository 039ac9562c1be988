"""What is packed: the wheel holds everything the program needs, and what tells a desktop about it
is as it should be."""

import json
import struct
import subprocess
import sys
import zipfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from xml.etree import ElementTree

import pytest
from jsonschema import Draft202012Validator

from shared_plans import plan_of
from tool import tool
from zealous_crane import __version__
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.io.formats import KINDS, schema_of
from zealous_crane.io.plan_file import plan_record
from zealous_crane.kernel.back_end import COMPILED
from zealous_crane.ui.window.commands import COMMANDS

SIZES = (16, 24, 32, 48, 64, 128, 256)
ROOT = Path(__file__).resolve().parent.parent
PACKAGING = ROOT / "packaging"


@pytest.fixture(scope="module")
def wheels(tmp_path_factory):
    """Two made side by side, from a checkout in which something is left over of an earlier one."""
    left = ROOT / "build" / "lib" / "zealous_crane" / "no_more.py"
    there = left.parent.exists()
    left.parent.mkdir(parents=True, exist_ok=True)
    left.write_text("")
    try:
        with ThreadPoolExecutor() as pool:
            made = list(
                pool.map(
                    tool("deb").make_wheel, [tmp_path_factory.mktemp("wheel") for _ in range(2)]
                )
            )
    finally:
        left.unlink()
        if not there:
            left.parent.rmdir()
    return made


def test_wheels_made_side_by_side_are_alike_and_hold_nothing_that_is_no_more(wheels):
    one, two = (sorted(zipfile.ZipFile(path).namelist()) for path in wheels)
    assert one == two and "zealous_crane/cli/commands.py" in one
    assert not any("no_more" in name for name in one)


def test_the_wheel_holds_the_program_and_what_ships_with_it(wheels):
    wheel, _ = wheels
    names = zipfile.ZipFile(wheel).namelist()
    tracked = subprocess.run(
        ["git", "ls-files", "src"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.split()
    for path in tracked:
        if path.endswith((".c", ".h")):
            continue  # compiled, where a compiler was
        assert path.removeprefix("src/") in names, path
    data = [name.split("/data/", 1)[1] for name in names if ".data/data/" in name]
    for wanted in (
        "share/applications/zealous-crane.desktop",
        "share/mime/packages/zealous-crane.xml",
        "share/man/man1/zealous-crane.1",
        "share/metainfo/zealous-crane.metainfo.xml",
        "share/icons/hicolor/scalable/apps/zealous-crane.svg",
        "share/bash-completion/completions/zealous-crane",
        "share/fish/vendor_completions.d/zealous-crane.fish",
        *(f"share/icons/hicolor/{size}x{size}/apps/zealous-crane.png" for size in SIZES),
    ):
        assert wanted in data, wanted
    entry = next(
        zipfile.ZipFile(wheel).read(n).decode() for n in names if n.endswith("entry_points.txt")
    )
    assert "zealous-crane = zealous_crane.cli:main" in entry
    assert f"zealous_crane-{__version__}" in wheel.name
    assert any("/_exact" in name and name.endswith(".so") for name in names) == COMPILED


@pytest.mark.parametrize("size", SIZES)
def test_the_icon_is_there_in_every_size_a_desktop_looks_for(size):
    data = (PACKAGING / "icons" / str(size) / "zealous-crane.png").read_bytes()
    assert data[:8] == b"\x89PNG\r\n\x1a\n" and struct.unpack(">II", data[16:24]) == (size, size)


def test_the_desktop_is_told_how_a_job_is_opened():
    desktop = dict(
        line.split("=", 1)
        for line in (PACKAGING / "zealous-crane.desktop").read_text().splitlines()
        if "=" in line
    )
    mime = ElementTree.parse(PACKAGING / "zealous-crane.xml").getroot()
    space = "{http://www.freedesktop.org/standards/shared-mime-info}"
    kind = mime.find(f"{space}mime-type")
    assert (
        kind.get("type") + ";" == desktop["MimeType"]
        and kind.find(f"{space}glob").get("pattern") == "*.crane"
    )
    assert desktop["Exec"] == "zealous-crane %f" and desktop["Icon"] == "zealous-crane"
    meta = ElementTree.parse(PACKAGING / "zealous-crane.metainfo.xml").getroot()
    assert meta.findtext("launchable") == "zealous-crane.desktop" and meta.findtext(
        "provides/mediatype"
    ) == kind.get("type")


def test_manual_page_and_completions_are_of_this_command_line(tmp_path):
    for path in tool("man").write(tmp_path):
        kept = PACKAGING / path.relative_to(tmp_path)
        assert kept.read_text() == path.read_text(), f"{kept.name}: run tools/man.py"


def test_a_file_alone_is_opened_and_words_are_completed(monkeypatch, tmp_path):
    from zealous_crane.cli import commands

    opened = []
    monkeypatch.setattr(commands, "open_window", lambda job: opened.append(job) or 0)
    (tmp_path / "box.crane").write_text("{}")
    monkeypatch.setattr(sys, "argv", ["zealous-crane", str(tmp_path / "box.crane")])
    with pytest.raises(SystemExit) as ended:
        commands.main()
    assert ended.value.code == 0 and opened == [tmp_path / "box.crane"]


def test_every_key_is_used_once():
    keys = [key for command in COMMANDS for key in command.keys.split("; ")]
    assert len(keys) == len(set(keys)) and len({c.id for c in COMMANDS}) == len(COMMANDS)


@pytest.mark.parametrize("kind", KINDS)
def test_every_schema_is_published_as_it_is(kind):
    assert json.loads(
        (ROOT / "docs" / f"{kind}.schema.json").read_text(encoding="utf-8")
    ) == schema_of(kind)
    Draft202012Validator.check_schema(schema_of(kind))


STANDARD = {
    "$schema",
    "$defs",
    "$ref",
    "title",
    "description",
    "default",
    "const",
    "enum",
    "type",
    "anyOf",
    "oneOf",
    "allOf",
    "properties",
    "required",
    "additionalProperties",
    "items",
    "prefixItems",
    "minItems",
    "maxItems",
    "minLength",
    "maxLength",
    "pattern",
    "minimum",
    "maximum",
    "exclusiveMinimum",
    "exclusiveMaximum",
    "propertyNames",
    "discriminator",
    "examples",
    "format",
}
"""Keywords of JSON Schema 2020-12 (and ``discriminator``, of OpenAPI) that the schema may use."""


def keywords(schema, names=False):
    """Every keyword of a schema that is none of the standard's; names of fields are none."""
    if isinstance(schema, list):
        return [k for part in schema for k in keywords(part)]
    if not isinstance(schema, dict):
        return []
    own = [] if names else [k for k in schema if k not in STANDARD]
    held = {
        k: v
        for k, v in schema.items()
        if names or k not in ("default", "examples", "discriminator")
    }
    inner = [keywords(v, k in ("properties", "$defs") and not names) for k, v in held.items()]
    return own + [k for found in inner for k in found]


def refused(kind, data):
    """What the validating library has against data."""
    return [
        error.message[:200]
        for error in Draft202012Validator(schema_of(kind)).iter_errors(json.loads(json.dumps(data)))
    ]


def test_files_as_they_are_written_hold_to_their_schemas(rack):
    """By a library of its own, which knows nothing of our models."""
    for brake in rack.brakes:
        assert refused("brake", brake.model_dump(mode="json")) == []
    for name in DEMOS:
        work = demo_work(name)
        assert refused("work", work.model_dump(mode="json")) == []
        for job in work.parts:
            assert refused("job", job.model_dump(mode="json")) == []
            assert refused("plan", plan_record(plan_of(job, rack[job.brake]))) == []


def test_what_is_spoilt_is_refused_by_the_schema(rack):
    job = demo_job("syrup-tray")
    plan = plan_record(plan_of(job, rack[job.brake]))
    for kind, data in (
        ("job", job.model_dump(mode="json")),
        ("work", demo_work("hive-scale").model_dump(mode="json")),
        ("brake", rack[job.brake].model_dump(mode="json")),
        ("plan", plan),
    ):
        assert refused(kind, {k: v for k, v in data.items() if k != "format"}), kind
        assert refused(kind, {**data, "format": "something else"}), kind
    assert refused("job", {**job.model_dump(mode="json"), "quantity": -1})
    assert refused("plan", {**plan, "strokes": [{**plan["strokes"][0], "reach": "far"}]})
    assert refused(
        "plan",
        {**plan, "strokes": [{k: v for k, v in plan["strokes"][0].items() if k != "angles_after"}]},
    )


@pytest.mark.parametrize("kind", KINDS)
def test_no_schema_has_a_keyword_that_no_validator_heeds(kind):
    assert sorted(set(keywords(schema_of(kind)))) == []
    if kind != "job":
        return
    turn = next(
        d["properties"]["turn"]
        for d in schema_of("job")["$defs"].values()
        if "turn" in d.get("properties", {})
    )
    assert (turn["minimum"], turn["maximum"]) == (-180, 180)
