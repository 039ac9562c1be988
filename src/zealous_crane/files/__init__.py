"""Files: jobs, plans, drawings. Nothing here knows a screen."""

from .atomic import FileError, write_atomically
from .drawing import write_dxf
from .drawing_in import DrawingError, Reading, read_drawing
from .job_file import JobFileError, job_schema, read_fitting, read_job, read_work, work_from, write_job, write_work
from .plan_file import blank_record, plan_record, write_plan
from .svg import svg_text, write_svg

__all__ = [
    "DrawingError",
    "FileError",
    "JobFileError",
    "Reading",
    "blank_record",
    "job_schema",
    "plan_record",
    "read_drawing",
    "read_fitting",
    "read_job",
    "read_work",
    "svg_text",
    "work_from",
    "write_atomically",
    "write_dxf",
    "write_job",
    "write_plan",
    "write_svg",
    "write_work",
]
