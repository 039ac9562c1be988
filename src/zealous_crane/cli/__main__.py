"""``python -m zealous_crane.cli``."""

from .commands import main

main()
