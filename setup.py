"""The compiled part of the engine; everything else is said in pyproject.toml. Where no compiler is, the program is built without it."""

from pathlib import Path

from setuptools import Extension, setup

KERNEL = Path("src/zealous_crane/kernel/native")
PAINT = Path("src/zealous_crane/paint/native")


def extension(name: str, folder: Path, *more: Path) -> Extension:
    """A compiled module of all C files of a folder, and some of another."""
    return Extension(
        f"zealous_crane.{name}",
        [path.as_posix() for path in (*sorted(folder.glob("*.c")), *more)],
        include_dirs=[KERNEL.as_posix()],
        depends=[path.as_posix() for path in sorted({*folder.glob("*.h"), *KERNEL.glob("*.h")})],
        # No sums of products in one step: a contact is found alike on every machine.
        extra_compile_args=["-O2", "-ffp-contract=off"],
        libraries=["m"],
        optional=True,
    )


setup(
    ext_modules=[
        extension("kernel.native._exact", KERNEL),
        extension("paint.native._depth", PAINT, KERNEL / "asked.c"),
    ]
)
