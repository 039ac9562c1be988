"""The command line, called in this process or in one of its own."""

from __future__ import annotations

import contextlib
import io
import os
import subprocess
import sys
from pathlib import Path
from unittest import mock

from zealous_crane.cli.commands import main


def crane(*arguments, home: Path, env=None):
    """What the command line answers; in a process of its own where its surroundings are the
    point."""
    given = {
        "HOME": str(home),
        "XDG_DATA_HOME": str(home / "data"),
        "QT_QPA_PLATFORM": "offscreen",
        **(env or {}),
    }
    words = list(map(str, arguments))
    if env is not None:
        call = [sys.executable, "-m", "zealous_crane.cli", *words]
        return subprocess.run(
            call, capture_output=True, text=True, env={**os.environ, **given}, check=False
        )
    out, err, code = io.StringIO(), io.StringIO(), 0
    heard = contextlib.redirect_stdout(out), contextlib.redirect_stderr(err)
    with (
        mock.patch.dict(os.environ, given),
        mock.patch.object(sys, "argv", ["zealous-crane", *words]),
        heard[0],
        heard[1],
    ):
        try:
            main()
        except SystemExit as end:
            code = end.code if isinstance(end.code, int) else 0 if end.code is None else 1
    return subprocess.CompletedProcess(words, code, out.getvalue(), err.getvalue())
