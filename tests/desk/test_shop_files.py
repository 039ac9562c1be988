"""The shop's files: what is damaged is kept."""

import json

from zealous_crane.desk.shop_files import write_settings
from zealous_crane.shop.settings import SETTINGS, ShopSettings, read_settings


def test_damaged_settings_are_kept_beside_and_said(tmp_path):
    for number, damaged in enumerate(('{"ways": {"school": ', '{"cut_from": {"sheet_length": -4}}'), start=1):
        (tmp_path / SETTINGS).write_text(damaged)
        usual, said = read_settings(tmp_path)
        assert usual == ShopSettings() and "kept beside" in said and (tmp_path / SETTINGS).read_text() == damaged
        assert write_settings(tmp_path, usual) is None
        assert read_settings(tmp_path) == (usual, None)
        beside = sorted(path.read_text() for path in tmp_path.glob("*damaged*"))
        assert len(beside) == number and damaged in beside
    # What can be read is written over as before.
    assert write_settings(tmp_path, usual) is None and len(list(tmp_path.iterdir())) == 3
    assert json.loads((tmp_path / SETTINGS).read_text())
