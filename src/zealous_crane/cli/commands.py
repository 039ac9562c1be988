"""Help of the command line in the language of its user: it is written beside the commands, in
English."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError
from typer.completion import completion_init  # type: ignore[attr-defined]

from .. import __version__
from ..errors import InputError
from ..i18n import tr
from ..io.atomic import FileError
from ..schema.reading import readable
from ..units.length import cut
from .book import book_app, coupon, learnt, least
from .cut import cut as cut_command
from .cut import fits_piece
from .inspection import explain, sizes
from .jobs import fitting, from_drawing, schema, shop_app, simulate
from .papers import export, film, manual, marking, sheet, template
from .plans import blank, check, plan


def helps(command: Any) -> Iterator[tuple[Any, str]]:
    """Whoever has help in a tree of commands, and the name of the attribute it stands in."""
    yield from ((command, name) for name in ("help", "short_help") if getattr(command, name, None))
    yield from (
        (parameter, "help") for parameter in command.params if getattr(parameter, "help", None)
    )
    for below in getattr(command, "commands", {}).values():
        yield from helps(below)


def translate(command: Any) -> None:
    """Put the help of a tree of commands into the user's language."""
    for owner, name in helps(command):
        setattr(owner, name, tr(getattr(owner, name)))


app = typer.Typer(
    help=(
        "Plans boxes, pans and strips of sheet metal for finger, press and bench brakes. With no "
        "command the window opens."
    ),
    no_args_is_help=False,
    add_completion=False,
    context_settings={"help_option_names": ["-h", "--help"]},
    pretty_exceptions_enable=False,
)


def _show_version(wanted: bool) -> None:
    if wanted:
        typer.echo(tr("Zealous Crane {version}").format(version=__version__))
        raise typer.Exit


@app.callback(invoke_without_command=True)
def _window(
    context: typer.Context,
    version: Annotated[
        bool,
        typer.Option("--version", callback=_show_version, is_eager=True, help="Say which version."),
    ] = False,
) -> None:
    if context.invoked_subcommand is None:
        raise typer.Exit(open_window(None))


def open_window(job: Path | None) -> int:
    """Open the window, with a job when one is given; its exit code."""
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        typer.echo(
            tr(
                "There is no display to open a window on. The commands blank, plan, sheet and "
                "export work without."
            ),
            err=True,
        )
        return 1
    from ..ui.app import run

    return run(job)


def open_job(
    job: Annotated[Path | None, typer.Argument(metavar="JOB", help="A job file.")] = None,
) -> None:
    """Open the window."""
    raise typer.Exit(open_window(job))


COMMANDS: dict[str, Callable[..., None]] = {
    "open": open_job,
    "blank": blank,
    "plan": plan,
    "check": check,
    "sheet": sheet,
    "export": export,
    "film": film,
    "marking": marking,
    "template": template,
    "manual": manual,
    "from-drawing": from_drawing,
    "learnt": learnt,
    "least": least,
    "coupon": coupon,
    "fitting": fitting,
    "schema": schema,
    "cut": cut_command,
    "fits-piece": fits_piece,
    "sizes": sizes,
    "explain": explain,
    "simulate": simulate,
}
for name, command in COMMANDS.items():
    app.command(name)(command)
app.add_typer(book_app, name="book")
app.add_typer(shop_app, name="shop")


def main() -> None:
    """Entry point: every complaint is one sentence on stderr and a non-zero exit."""
    completion_init()
    if (
        len(sys.argv) == 2
        and Path(sys.argv[1]).suffix.lower() in (".crane", ".json")
        and Path(sys.argv[1]).exists()
    ):
        # A file alone is opened, as a desktop does with it.
        sys.argv.insert(1, "open")
    command = typer.main.get_command(app)
    translate(command)
    try:
        command()
    except (InputError, FileError) as error:
        _end(str(error))
    except ValidationError as error:
        _end(readable(error))
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(1)
    except OSError as error:
        _end(
            tr("{what} could not be used: {value}.").format(
                what=cut(error.filename or tr("A file")), value=error.strerror or cut(error)
            )
        )
    except MemoryError:
        _end(tr("There is not enough memory for this."))
    except (RecursionError, OverflowError):
        _end(tr("This is nested too deeply, or its sizes are too large, to be worked out."))
    except KeyboardInterrupt:
        sys.exit(130)
    except Exception as error:
        from ..ui.app import record_fault

        path = record_fault(error)
        where = tr(" The details are in {path}.").format(path=path) if path is not None else ""
        _end(tr("The program hit an error.{where}").format(where=where))


def _end(sentence: str) -> None:
    print(sentence, file=sys.stderr)
    sys.exit(1)
