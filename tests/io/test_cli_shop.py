"""The shop without a window."""

import json

import pytest

from command_line import crane


@pytest.mark.parametrize("broken", [False, True])
def test_machines_are_listed_and_files_checked(tmp_path, broken):
    brakes = tmp_path / "data" / "zealous-crane" / "brakes"
    brakes.mkdir(parents=True)
    (brakes / "retired.txt").write_text("bench-bars-600\nno such brake\n")
    if broken:
        (brakes / "own.json").write_text("{")
    listed = crane("shop", "list", home=tmp_path)
    assert (
        "bench-bars-600" in listed.stdout
        and "retired" in listed.stdout
        and "an example" in listed.stdout
    )
    machines = json.loads(crane("shop", "list", "--json", home=tmp_path).stdout)["machines"]
    assert [m["key"] for m in machines if m["retired"]] == ["bench-bars-600"] and not any(
        m["own"] for m in machines
    )
    checked = crane("shop", "check", "--json", home=tmp_path)
    record = json.loads(checked.stdout)
    assert checked.returncode == (3 if broken else 0) and record["machines"] == len(machines)
    assert any("own.json" in sentence for sentence in record["complaints"]) == broken
