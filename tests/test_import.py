"""Importing a module of ours changes nothing of the interpreter: not its environment, hooks,
garbage rules or threads."""

import json
import pkgutil
import subprocess
import sys

import zealous_crane

MODULES = sorted(
    found.name
    for found in pkgutil.walk_packages(zealous_crane.__path__, "zealous_crane.")
    if not found.name.endswith("__main__") and ".migrations" not in found.name
)

PROBE = """
import builtins, gc, importlib, json, os, sys, threading, warnings
# What the libraries do as they are imported is theirs.
import numpy, pydantic, scipy.optimize, shapely, ezdxf, typer, sqlalchemy, alembic, platformdirs, trimesh, pypdf, serial
import PySide6.QtCore, PySide6.QtGui, PySide6.QtWidgets, PySide6.QtSvg, PySide6.QtPrintSupport

def state():
    return {
        "environment": dict(os.environ), "collecting": gc.isenabled(), "thresholds": gc.get_threshold(), "frozen": gc.get_freeze_count(),
        "import": id(builtins.__import__), "finders": [repr(finder) for finder in sys.meta_path], "path": list(sys.path),
        "excepthook": id(sys.excepthook), "threads": threading.active_count(), "switch": sys.getswitchinterval(),
        "recursion": sys.getrecursionlimit(), "filters": len(warnings.filters), "folder": os.getcwd(),
    }

changed = {}
before = state()
for name in sys.argv[1:]:
    importlib.import_module(name)
    after = state()
    if after != before:
        changed[name] = [key for key in after if after[key] != before[key]]
        before = after
print(json.dumps(changed))
"""  # noqa: E501


def test_no_module_changes_the_interpreter_as_it_is_imported():
    assert len(MODULES) > 200
    done = subprocess.run(
        [sys.executable, "-c", PROBE, *MODULES], capture_output=True, text=True, check=True
    )
    assert json.loads(done.stdout) == {}
