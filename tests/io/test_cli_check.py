"""Sizes and their explanation without a window."""

import json

import pytest

from command_line import crane
from zealous_crane.demo import demo_job
from zealous_crane.io.job_file import write_job


@pytest.fixture
def run(tmp_path):
    write_job(demo_job("syrup-tray"), tmp_path / "tray.json")
    return tmp_path


def test_sizes_and_what_explains_them(run):
    record = json.loads(crane("sizes", run / "tray.json", "--json", home=run).stdout)
    assert len(record["sizes"]) == 10 and {
        "key",
        "says",
        "wanted",
        "allowed",
        "usual",
        "kind",
    } <= set(record["sizes"][0])
    every = json.loads(crane("sizes", run / "tray.json", "--all", "--json", home=run).stdout)
    assert (
        len(every["sizes"]) > 20
        and "opening inside" in crane("sizes", run / "tray.json", home=run).stdout
    )
    assert (
        "opening inside at the rim: 14 1/2 ± 1/64 in"
        in crane("sizes", run / "tray.json", home=run).stdout
    ), "an inch job speaks inches"
    got = {size["key"]: size["wanted"] for size in record["sizes"]}
    got["opening:1:3"] += 4.0
    got["angle:1:1"] = "86.2°"
    (run / "got.json").write_text(json.dumps(got))
    told = json.loads(
        crane("explain", run / "tray.json", run / "got.json", "--json", home=run).stdout
    )
    assert told["causes"][0]["cause"] == "angle:1" and told["causes"][0]["odds"] > 0.9
    assert (
        set(told["out_of_tolerance"]) == {"opening:1:3", "angle:1:1"}
        and "right wall" in told["says"]
    )
    assert (
        "Stop the right wall"
        in crane("explain", run / "tray.json", run / "got.json", home=run).stdout
    )


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "cannot be read"),
        ("[1]", "holds no sizes"),
        ('{"depth": 3}', "there is no size depth"),
        ("{}", "nothing is measured"),
        ('{"opening:1:3": "soon"}', "opening:1:3"),
        ('{"opening:1:3": "368.3"}', "far from the"),
        ('{"opening:1:3": 14.5}', "far from the"),
        ('{"opening:1:3": true}', "is no figure"),
    ],
)
def test_bad_figures_are_a_sentence(run, text, said):
    (run / "got.json").write_text(text)
    answer = crane("explain", run / "tray.json", run / "got.json", home=run)
    assert answer.returncode == 1 and said in answer.stderr and "Traceback" not in answer.stderr
