"""Files: jobs, plans, drawings. Nothing here knows a screen."""

from .atomic import FileError, write_atomically
from .drawing import write_dxf
from .job_file import JobFileError, job_schema, read_job, write_job
from .plan_file import blank_record, plan_record, write_plan

__all__ = [
    "FileError",
    "JobFileError",
    "blank_record",
    "job_schema",
    "plan_record",
    "read_job",
    "write_atomically",
    "write_dxf",
    "write_job",
    "write_plan",
]
