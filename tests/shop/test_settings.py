"""What a shop says of itself, and what follows it."""

import json

import pytest

from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.io.job_file import read_work, write_work
from zealous_crane.job.job import Job
from zealous_crane.job.tools import SmallTools
from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.sheet import Sheet
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.shop.settings import SETTINGS, ShopSettings, Ways, read_settings
from zealous_crane.units.length import Units
from zealous_crane.units.quantities import AngleReading
from zealous_crane.work.work import Work


def own():
    made = ShopSettings().copied("mild-steel")
    return made.model_copy(
        update={"tensile": 600.0, "yield_strength": 420.0, "name": "Spring sheet", "price": 3.5}
    )


def test_a_metal_of_the_shops_own_goes_with_the_job(tmp_path):
    metal = own()
    job = Job(
        part=OpenBox(length=200, width=120, depth=30),
        metal=metal.key,
        own_metal=metal,
        thickness="20 ga",
        units="mm",
    )
    assert job.sheet.metal.name == "Spring sheet" and job.sheet.allowed_by(1.6) < Sheet.read(
        MATERIALS["mild-steel"], "20 ga"
    ).allowed_by(1.6)
    write_work(Work.of(job), tmp_path / "a.json")
    (back,) = read_work(tmp_path / "a.json").parts
    assert back == job and develop(back).sheet.metal == metal
    with pytest.raises(ValueError, match="mild-steel-2"):
        Job(part=job.part, metal="mild-steel-2")
    with pytest.raises(ValueError, match="what stands with it"):
        Job(part=job.part, metal="galvanized", own_metal=metal)


def test_keys_of_metals_differ_and_what_cannot_be_is_said():
    settings = ShopSettings().with_metal(own())
    assert settings.copied("mild-steel").key == "mild-steel-3"
    assert settings.with_metal(own()) == settings, "in place of the one before"
    with pytest.raises(ValueError, match="two metals"):
        ShopSettings(metals=(MATERIALS["copper"],))
    with pytest.raises(ValueError, match="yields before"):
        ShopSettings().with_metal(own().model_copy(update={"yield_strength": 900.0}))


def test_jobs_that_stand_as_the_shop_said_follow_it():
    before = ShopSettings(
        ways=Ways(units=Units.MM, angles=AngleReading.INSIDE, tolerance=0.5)
    ).with_metal(own())
    job = before.apply_to_new_job(demo_job("syrup-tray"))
    assert (job.units, job.angles, job.tolerance) == (Units.MM, AngleReading.INSIDE, 0.5)
    job = Job.model_validate(
        {**job.model_dump(), "metal": own().key, "own_metal": own(), "strike_from": "left back"}
    )
    after = before.model_copy(
        update={
            "ways": Ways(
                units=Units.FRACTIONS,
                angles=AngleReading.BACK,
                tolerance=0.5,
                strike_from="right front",
            ),
            "small_tools": SmallTools(scribe_reach=100.0),
        }
    ).with_metal(own().model_copy(update={"tensile": 700.0}))
    now = after.follows(job, before)
    assert (
        now.angles is AngleReading.BACK
        and now.small_tools.scribe_reach == 100.0
        and now.own_metal.tensile == 700.0
    )
    assert now.strike_from == "left back", "chosen for this part"
    assert now.units is Units.MM, "units are the job's: its sizes were typed in them"


@pytest.mark.parametrize(
    "text",
    [
        "{",
        "[]",
        '{"metals": 3}',
        '{"ways": {"tolerance": "NaN"}}',
        '{"format": "x"}',
        "\x00",
        '{"a":1,"a":2}',
    ],
)
def test_a_damaged_file_is_a_sentence_and_stays(tmp_path, text):
    (tmp_path / SETTINGS).write_text(text)
    settings, said = read_settings(tmp_path)
    assert (
        settings == ShopSettings()
        and said
        and "shop.json" in said
        and (tmp_path / SETTINGS).read_text() == text
    )


def test_nothing_said_is_what_is_usual(tmp_path):
    assert read_settings(tmp_path) == (ShopSettings(), None) == read_settings(None)
    (tmp_path / SETTINGS).write_text(
        json.dumps(ShopSettings().with_metal(own()).model_dump(mode="json"))
    )
    assert read_settings(tmp_path)[0].metals == (own(),)
