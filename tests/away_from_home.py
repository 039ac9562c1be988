"""No test touches the files of whoever runs it: their book, shop and settings are out of reach once
this is brought in."""

import atexit
import os
import shutil
import tempfile
from pathlib import Path

HOME = Path(tempfile.mkdtemp(prefix="zealous-crane-tests-"))
"""Stands for the person's own folders, for one process of one run."""

atexit.register(shutil.rmtree, HOME, ignore_errors=True)
for _name in [_name for _name in os.environ if _name.startswith("ZEALOUS_CRANE_")]:
    del os.environ[_name]
for _name in ("DATA", "CONFIG", "STATE"):
    os.environ[f"XDG_{_name}_HOME"] = str(HOME / _name.lower())
