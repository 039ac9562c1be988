"""Zealous Crane: plans bent sheet-metal work for finger, press and bench brakes.

Data flows one way: a :class:`~zealous_crane.job.Job` is developed into a
:class:`~zealous_crane.blank.Blank`, and the blank is planned on a
:class:`~zealous_crane.brake.LeafBrake` into a :class:`~zealous_crane.plan.Plan`.
"""

import os

# The library that checks what people write looks through every package on the machine for additions to itself, a twentieth of a second
# of each start; none may change how our files are read anyway.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

# Nothing larger than a few corners is multiplied here: a second thread for that would only spin beside the window.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.4.0"
