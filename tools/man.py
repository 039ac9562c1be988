"""The manual page and the completions, from what the command line says of itself. Writes into
packaging/."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import typer
from typer.completion import get_completion_script  # type: ignore[attr-defined]  # its page of the manual uses it too

from zealous_crane.cli.commands import app

ROOT = Path(__file__).resolve().parent.parent
NAME = "zealous-crane"
VARIABLE = "_ZEALOUS_CRANE_COMPLETE"


def commands(group: Any, path: str = "") -> list[tuple[str, Any]]:
    """Every command with what it is called."""
    found: list[tuple[str, Any]] = []
    for name, command in sorted(group.commands.items()):
        full = f"{path} {name}".strip()
        found += commands(command, full) if hasattr(command, "commands") else [(full, command)]
    return found


def escaped(text: str) -> str:
    """Text as a manual page takes it."""
    said = text.replace("\\", "\\\\").replace("-", "\\-")
    return "\\&" + said if said.startswith((".", "'")) else said


def page() -> str:
    """The manual page."""
    group: Any = typer.main.get_command(app)
    lines = [
        f'.TH {NAME.upper()} 1 "" "" "User Commands"',
        ".SH NAME",
        f"{escaped(NAME)} \\- plans boxes, pans and strips of sheet metal",
        ".SH SYNOPSIS",
        f".B {escaped(NAME)}",
        "[COMMAND] [ARGUMENTS]",
        ".SH DESCRIPTION",
        escaped(group.help or ""),
        ".SH COMMANDS",
    ]
    for name, command in commands(group):
        context = command.context_class(command, info_name=name)
        usage = " ".join(command.collect_usage_pieces(context))
        lines += [
            ".TP",
            f".B {escaped(name)} {escaped(usage)}",
            escaped((command.help or "").split("\f")[0].strip()),
        ]
        for parameter in command.params:
            told = (
                parameter.get_help_record(context)
                if parameter.param_type_name == "option"
                else None
            )
            if told and "--help" not in told[0]:
                lines += [".RS", ".TP", f".B {escaped(told[0])}", escaped(told[1]), ".RE"]
    return "\n".join([*lines, ".SH SEE ALSO", "The manual inside the program: F1.", ""])


def completion(shell: str) -> str:
    """What a shell reads to complete the command."""
    return str(get_completion_script(prog_name=NAME, complete_var=VARIABLE, shell=shell))


def write(folder: Path) -> list[Path]:
    """Write all of it; the files."""
    (folder / "completions").mkdir(parents=True, exist_ok=True)
    files = {
        folder / f"{NAME}.1": page(),
        folder / "completions" / NAME: completion("bash"),
        folder / "completions" / f"_{NAME}": completion("zsh"),
        folder / "completions" / f"{NAME}.fish": completion("fish"),
    }
    for path, text in files.items():
        path.write_text(text, encoding="utf-8")
    return list(files)


if __name__ == "__main__":
    for path in write(ROOT / "packaging"):
        print(path.relative_to(ROOT))
