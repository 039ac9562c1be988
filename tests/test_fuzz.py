"""A short run of each of the fuzz programs; the long runs are ./crane fuzz."""

from __future__ import annotations

from pathlib import Path

import pytest

from tool import tool

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def fuzz():
    return tool("fuzz")


def test_broken_files_end_in_a_sentence(fuzz, capsys):
    assert fuzz.fuzz_files(250, 11), capsys.readouterr().out


def test_typed_lengths_end_in_a_length_or_a_sentence(fuzz, capsys):
    assert fuzz.fuzz_lengths(3000, 11), capsys.readouterr().out


def test_killed_while_saving_nothing_is_lost(fuzz, capsys):
    assert fuzz.fuzz_kills(12, 11), capsys.readouterr().out


def test_edits_without_a_pause_never_show_a_plan_of_another_job(fuzz, qtbot, capsys):
    assert fuzz.fuzz_edits(25, 11), capsys.readouterr().out


def test_a_run_notices_what_is_wrong(fuzz):
    tally = fuzz.Tally("x")
    tally.run(lambda: 1 / 0, (ValueError,), "a traceback")
    tally.run(lambda: int("x"), (ValueError,), "a refusal")
    assert (tally.broken, tally.refused, tally.count) == (1, 1, 2) and not tally.say()
