"""The job: what is wanted, in which metal, by which school of allowance. Everything else follows
from it."""

from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import BeforeValidator, Field, WithJsonSchema, field_validator, model_validator

from ..errors import InputError
from ..i18n import tr
from ..metal.allowance import AllowanceMethod, NeutralLine, OnTheLine, default_school
from ..metal.bend import ToolRadius
from ..metal.material import Material, material
from ..metal.sheet import Sheet
from ..metal.tolerance import general_tolerance
from ..part.design import Design
from ..part.drawn_flat import DrawnFlat
from ..part.edge import Measured
from ..part.hole import FastenerRow
from ..part.kinds import PartKind
from ..part.template import PartTemplate
from ..schema.model import (
    MANY_LINES,
    ONE_LINE,
    InputModel,
    Length,
    LengthOrZero,
    PositiveLength,
    TextLine,
)
from ..units.length import Units, parse_length
from ..units.quantities import AngleReading
from .tools import SmallTools, ToolWishes

FORMAT = "zealous-crane-job"
VERSION = 1


class DrawnPart(PartTemplate):
    """A part given as its design tree."""

    label: ClassVar[str] = "Design of your own"
    about: ClassVar[str] = "A base and whatever stands on its edges, free to change anywhere."

    kind: Literal["design"] = "design"
    tree: Design

    def design(self, thickness: float) -> Design:
        return self.tree


class FlatPart(PartTemplate):
    """A part given as a drawn flat."""

    label: ClassVar[str] = "Drawn flat"
    about: ClassVar[str] = "Outline, holes and fold lines from a drawing."

    kind: Literal["flat"] = "flat"
    flat: DrawnFlat

    def drawing(self) -> DrawnFlat | None:
        return self.flat


Part = Annotated[PartKind | DrawnPart | FlatPart, Field(discriminator="kind")]


Avoided = Literal["hand", "part-way", "angle-off", "bed-end", "sprung"]
"""What an order may be asked to do without: folds finished by hand, folds left part way or bent
over, the leaf's angle taken off, the fold at an end of the bed, thin sheet sprung past the bar."""


Gauging = Literal["lines", "near", "true", "few"]
"""How a fold is set: its line sighted, the nearest edge against the stop, an edge no bend has
moved, or as few settings of the stop for the whole part as there are."""


StrikeFrom = Literal["nearest", "left front", "right front", "left back", "right back", "both ways"]
"""What lines are struck from: the nearest edge each, the two edges of one corner of the sheet, or
those of the left front corner as far as the scribe reaches and the opposite edges beyond."""


Ruler = Literal["1/64 in", "1/32 in", "1/16 in", "0.5 mm"]
"""Ticks of the rule notch lines are put on."""


SizesClass = Literal["f", "m", "c", "v"]
"""General tolerances of ISO 2768-1: fine, medium, coarse, very coarse."""


class OrderWishes(InputModel):
    """What a person wants of the order of the bends; folds by name.

    Attributes:
        sequence: folds in the order wanted, as far as it goes; the rest follows as it is best.
        before: pairs: the first must be made before the second.
        clamp: for a fold, which side is clamped: the one nearer the ``base``, or the ``far`` one.
        avoid: what it is to do without.
    """

    sequence: tuple[TextLine, ...] = ()
    before: tuple[tuple[TextLine, TextLine], ...] = ()
    clamp: dict[TextLine, Literal["base", "far"]] = Field(default_factory=dict)
    avoid: tuple[Avoided, ...] = ()

    @property
    def any(self) -> bool:
        """True when anything is wished."""
        return self.orders or bool(self.avoid)

    @property
    def orders(self) -> bool:
        """True when something is wished of which bend comes when, or how it is held."""
        return bool(self.sequence or self.before or self.clamp)


THICKNESS = {
    "title": "Thickness",
    "anyOf": [
        {"type": "number", "exclusiveMinimum": 0, "description": "mm"},
        {
            "type": "string",
            "description": "as written: 22 ga, 0.8 mm, 1/8 in; a gauge is read by the metal's own "
            "table",
        },
    ],
}
"""How a job file may give a thickness, as it may give any length."""


def _with_unit(value: Any) -> Any:
    """A number of a job file is millimetres, whatever the units of the job."""
    return (
        f"{value:g} mm" if isinstance(value, int | float) and not isinstance(value, bool) else value
    )


class Job(InputModel):
    """One piece of work, as a person wrote it down.

    Attributes:
        name: what the shop calls the part.
        part: a ready kind or a design tree.
        metal: key of the metal.
        own_metal: that metal, where it is one of the shop's own and not one every copy of the
            program knows.
        thickness: as written, ``22 ga`` or ``0.8 mm``; a gauge is read by the metal's own table.
        radius: inside radius of every fold that names none, mm; None takes the school's.
        radius_at: the same for single folds, by name; it goes before ``radius``.
        school: school of bend allowance; None takes the usual one for the thickness.
        school_from: where its figures come from, as the book says it; empty when it was chosen by
            hand.
        springback: measured, degrees at 90°; None estimates.
        springback_from: where that comes from, as the book says it; empty when it was typed.
        brake: key of the brake in the shop.
        quantity: how many are made.
        units: how lengths are shown and what a bare number means.
        note: anything worth saying.
        datum: to where an outside or inside size is read over a bend of more than 90°: the
            outermost line of the bend, as a caliper reads it, or the corner where the faces would
            meet.
        strike_from: what all lines are struck from: each its nearest edge, or the two edges of one
            corner, the datum.
        ruler: notch lines are put on the ticks of this rule where the metal is folded on the line;
            None leaves them where they fall.
        small_tools: what hangs on the wall of the bench it is made at.
        rows: rows of rivets, spots, screws and tacks.
        grain: which way the rolling direction runs on the blank: along its length, or across it;
            None where it does not matter.
        film: the face that carries film, paint or engraving; None when neither does.
        order: what the person wants of the order of the bends.
        tools: what the person wants of the tools.
        bottomed: on a press, bends are bottomed in the V, not bent in air.
        angles: how the angles of folds are read and typed: as bent from flat, inside, or with the
            protractor on the back. What is kept is always the angle bent from flat.
        tolerance: degrees by which an angle may be off and still counts as reached.
        sizes_within: mm by which a size of the finished part may be off; None takes the general
            tolerance.
        sizes_class: the general tolerance where nothing else is said.
        sizes_asked: what a drawing asks of single sizes: mm or degrees either way, by the key of
            the size.
        gauging: how folds are set: lines sighted, the nearest edge against the stop, or one no bend
            has moved; None takes the better of the two with a stop.
        gauge_at: the same for single folds, by name.
    """

    format: Literal["zealous-crane-job"] = "zealous-crane-job"
    version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE] = "Unnamed part"
    part: Part
    metal: TextLine = "galvanized"
    own_metal: Material | None = None
    thickness: Annotated[TextLine, BeforeValidator(_with_unit), WithJsonSchema(THICKNESS)] = "22 ga"
    radius: Length | None = Field(default=None, json_schema_extra={"empty": "what the tools make"})
    radius_at: dict[TextLine, LengthOrZero] = Field(default_factory=dict)
    school: AllowanceMethod | None = None
    school_from: Annotated[str, Field(max_length=200), ONE_LINE] = ""
    springback: Annotated[float, Field(ge=0, le=45)] | None = Field(
        default=None, json_schema_extra={"empty": "estimated"}
    )
    springback_from: Annotated[str, Field(max_length=200), ONE_LINE] = ""
    brake: TextLine = "apiary-finger-50"
    quantity: Annotated[int, Field(ge=1, le=100_000)] = 1
    units: Units = Units.FRACTIONS
    note: Annotated[str, MANY_LINES] = ""
    datum: Literal["tangent", "corner"] = "tangent"
    strike_from: StrikeFrom = "nearest"
    ruler: Ruler | None = Field(default=None, json_schema_extra={"empty": "exact"})
    small_tools: SmallTools = Field(default_factory=SmallTools)
    rows: Annotated[tuple[FastenerRow, ...], Field(max_length=200)] = ()
    grain: Literal["along", "across"] | None = Field(
        default=None, json_schema_extra={"empty": "it does not matter"}
    )
    film: Literal["inside", "outside"] | None = Field(
        default=None, json_schema_extra={"empty": "neither face"}
    )
    order: OrderWishes = Field(default_factory=OrderWishes)
    tools: ToolWishes = Field(default_factory=ToolWishes)
    bottomed: bool = False
    angles: AngleReading = AngleReading.BEND
    tolerance: Annotated[float, Field(ge=0.1, le=10)] = 1.0
    sizes_within: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "general tolerance"}
    )
    sizes_class: SizesClass = "m"
    sizes_asked: dict[TextLine, Annotated[float, Field(gt=0, le=1000)]] = Field(
        default_factory=dict
    )
    gauging: Gauging | None = Field(
        default=None, json_schema_extra={"empty": "the better with a stop"}
    )
    gauge_at: dict[TextLine, Gauging] = Field(default_factory=dict)

    @property
    def tick(self) -> float | None:
        """Ticks of the rule notch lines are put on, mm."""
        return None if self.ruler is None else parse_length(self.ruler)

    @field_validator("radius")
    @classmethod
    def _radius_not_negative(cls, value: float | None) -> float | None:
        if value is not None and value < 0:
            raise InputError(tr("the inside radius must not be negative"))
        return value

    @model_validator(mode="after")
    def _metal_is_known(self) -> Self:
        if self.own_metal is not None and self.own_metal.key != self.metal:
            raise InputError(
                tr("The metal is {metal!r}, and what stands with it is {own!r}.").format(
                    metal=self.metal, own=self.own_metal.key
                )
            )
        Sheet.read(self.material, self.thickness, self.units)
        return self

    @property
    def material(self) -> Material:
        """The metal: the shop's own that stands with the job, or one of those every copy of the
        program knows.

        Raises:
            InputError: it is neither.
        """
        return self.own_metal or material(self.metal)

    @property
    def sheet(self) -> Sheet:
        """The metal and its thickness."""
        return Sheet.read(self.material, self.thickness, self.units)

    @property
    def chosen_school(self) -> AllowanceMethod:
        """The school in force: the one written, or the usual one for the thickness."""
        return self.school or default_school(self.sheet.thickness)

    def size_tolerance(self, size: float) -> float:
        """How far a size of the finished part may be off either way, mm: what the job says, else
        the general tolerance."""
        if self.sizes_within is not None:
            return self.sizes_within
        return general_tolerance(size, self.sizes_class, inch=self.units.is_inch)

    @property
    def without_hand(self) -> Self:
        """The job with no work by hand allowed."""
        if "hand" in self.order.avoid:
            return self
        return self.model_copy(
            update={"order": self.order.model_copy(update={"avoid": (*self.order.avoid, "hand")})}
        )

    def on_tools(self, tools: ToolRadius | None) -> Self:
        """The job with the school and the inside radius that its brake suggests written in, where
        it names none of its own.

        A leaf brake folds round its nose, a press in air makes the radius of its V, and no press
        folds thin sheet sharp on the line. What test strips measured wins.
        """
        if tools is None:
            return self
        fields: dict[str, object] = {}
        if self.school is None and tools.press:
            fields["school"] = NeutralLine()
        job = self.model_copy(update=fields) if fields else self
        sheet, school = job.sheet, job.chosen_school
        if (
            job.radius is None
            and not isinstance(school, OnTheLine)
            and school.own_radius(sheet.thickness) is None
        ):
            job = job.model_copy(
                update={"radius": tools.radius, "radius_at": {**dict(tools.at), **job.radius_at}}
            )
        return job

    @property
    def measured_inside(self) -> bool:
        """True where the part's sizes are written between inside faces: they are then measured
        there too."""
        part = self.part.tree.base if isinstance(self.part, DrawnPart) else self.part
        return getattr(part, "measured", None) is Measured.INSIDE

    @property
    def inside_radius(self) -> float:
        """Inside radius (mm) of a fold that names none."""
        if self.radius is not None:
            return self.radius
        sheet = self.sheet
        school = self.chosen_school
        measured = school.own_radius(sheet.thickness)
        return (
            measured
            if measured is not None
            else max(school.default_radius(sheet.thickness), sheet.least_radius)
        )
