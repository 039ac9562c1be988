"""What all tests share."""

from __future__ import annotations

import gc
import os
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parent))
sys.path.append(str(Path(__file__).parents[1] / "tools"))

import pytest
from hypothesis import settings

import away_from_home  # noqa: F401 - clears the environment before anything of ours is brought in
import shared_plans
from zealous_crane.brake.leaf_brake import LeafBrake
from zealous_crane.brake.library import MachineLibrary, shipped_rack
from zealous_crane.cache import collect_seldom
from zealous_crane.job.job import Job
from zealous_crane.part.corner import Corner, ReliefRule
from zealous_crane.part.kinds.box import OpenBox

# Machines are shared: what is slow now and then is not wrong.
settings.register_profile("crane", deadline=None)
settings.load_profile("crane")


MANY = 20_000
"""Things made since, from which on it is worth while to look for garbage among them."""


@pytest.fixture(autouse=True)
def collected():
    """Once the desk was brought in, garbage is collected on the window's thread only: here, between
    tests, for those that run no event loop."""
    yield
    if not gc.isenabled() and gc.get_count()[0] > MANY:
        gc.collect(1)


@pytest.hookimpl(trylast=True)
def pytest_collection_finish() -> None:
    """What was loaded to find the tests is not looked through again: that took a tenth of all their
    time."""
    collect_seldom()


@pytest.fixture(scope="session", autouse=True)
def plans_are_shared(tmp_path_factory: pytest.TempPathFactory) -> None:
    """Among all processes of this run, whose folders stand beside each other."""
    own = tmp_path_factory.getbasetemp()
    shared_plans.FOLDER = (own.parent if "PYTEST_XDIST_WORKER" in os.environ else own) / "plans"
    shared_plans.FOLDER.mkdir(exist_ok=True)


@pytest.fixture(scope="session")
def rack() -> MachineLibrary:
    return shipped_rack()


@pytest.fixture(scope="session")
def brake(rack: MachineLibrary) -> LeafBrake:
    """The inch brake with 3" fingers."""
    return rack["apiary-finger-50"]


def box_job(
    length="11 in",
    width="8 1/2 in",
    depth="2 1/2 in",
    *,
    measured="inside",
    gap="1/32 in",
    relief=None,
    **fields,
) -> Job:
    """An open box as a job; sizes as written."""
    corner = Corner(gap=gap, relief=relief or ReliefRule())
    part = OpenBox(length=length, width=width, depth=depth, measured=measured, corner=corner)
    return Job(name="box", part=part, **fields)


@pytest.fixture
def box():
    return box_job


WAITED_FOR = ("test_bare_root.py", "test_words.py")
"""Files whose tests wait long for processes of their own."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Those first: whoever began one at the end would be waited for."""
    items.sort(key=lambda item: item.path.name not in WAITED_FOR)
