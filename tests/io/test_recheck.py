"""A plan file judged again for its job."""

import json

import pytest
from typer.testing import CliRunner

from zealous_crane.cli.commands import app
from zealous_crane.cli.plans import RecheckError, differences, read_plan, wished
from zealous_crane.demo import demo_job
from zealous_crane.io.job_file import write_job
from zealous_crane.io.plan_file import plan_record
from zealous_crane.planning.planner import make_plan


@pytest.fixture(scope="module")
def written():
    from zealous_crane.brake.library import shipped_rack

    job = demo_job("syrup-tray")
    return job, plan_record(make_plan(job, shipped_rack()[job.brake]))


def test_our_own_plan_is_the_same_again(rack, written, tmp_path):
    job, record = written
    (tmp_path / "plan.json").write_text(json.dumps(record))
    write_job(job, tmp_path / "job.json")
    assert differences(make_plan(wished(job, record), rack[job.brake]), record) == []
    told = CliRunner().invoke(
        app, ["check", str(tmp_path / "job.json"), str(tmp_path / "plan.json")]
    )
    assert told.exit_code == 0 and "the same" in told.output


def test_what_was_edited_is_said(rack, written, tmp_path):
    job, record = written
    edited = json.loads(json.dumps(record))
    edited["strokes"][0]["reach"] += 4.0
    edited["blank"]["size"][0] += 1.0
    (tmp_path / "plan.json").write_text(json.dumps(edited))
    write_job(job, tmp_path / "job.json")
    told = CliRunner().invoke(
        app, ["check", str(tmp_path / "job.json"), str(tmp_path / "plan.json"), "--json"]
    )
    said = json.loads(told.output)["differences"]
    assert (
        told.exit_code == 3
        and len(said) == 2
        and any("blank" in s for s in said)
        and any("goes to" in s for s in said)
    )
    deeper = job.model_copy(
        update={"part": job.part.model_copy(update={"depth": job.part.depth + 10})}
    )
    assert any(
        "The blank is" in s
        for s in differences(make_plan(wished(deeper, record), rack[job.brake]), record)
    )


@pytest.mark.parametrize(
    "text", ["{", "[]", '{"format": "zealous-crane-plan"}', '{"format": "x", "strokes": []}']
)
def test_what_is_no_plan_is_a_sentence(tmp_path, text):
    (tmp_path / "p.json").write_text(text)
    with pytest.raises(RecheckError, match=r"p\.json"):
        read_plan(tmp_path / "p.json")


def test_strokes_without_folds_are_a_sentence(written):
    job, record = written
    with pytest.raises(RecheckError, match="cannot be read"):
        wished(job, {**record, "strokes": [{"name": "x"}]})
