"""The compiled part of the engine; everything else is said in pyproject.toml. Where no compiler is, the program is built without it."""

from pathlib import Path

from setuptools import Extension, setup

FOLDER = Path("src/zealous_crane/kernel/native")

setup(
    ext_modules=[
        Extension(
            "zealous_crane.kernel.native._exact",
            [path.as_posix() for path in sorted(FOLDER.glob("*.c"))],
            depends=[path.as_posix() for path in sorted(FOLDER.glob("*.h"))],
            # No sums of products in one step: a contact is found alike on every machine.
            extra_compile_args=["-O2", "-ffp-contract=off"],
            libraries=["m"],
            optional=True,
        )
    ]
)
