"""Zealous Crane: plans folded sheet-metal work for a finger brake.

Data flows one way: a :class:`~zealous_crane.job.Job` is developed into a
:class:`~zealous_crane.blank.Blank`, and the blank is planned on a
:class:`~zealous_crane.brake.LeafBrake` into a :class:`~zealous_crane.plan.Plan`.
"""

__version__ = "0.4.0"
