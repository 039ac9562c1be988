"""The metals a shop folds, with the few properties that decide a fold."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import tr
from ..schema.model import ONE_LINE, InputModel
from .gauge import GaugeName, GaugeTable, gauge_table

Share = Annotated[float, Field(gt=0, lt=1)]


class Material(InputModel, defer_build=False):
    """One metal in one usual condition.

    Attributes:
        key: the word that stands in job files.
        name: as it is shown.
        tensile: tensile strength Rm, MPa.
        yield_strength: 0.2 % proof stress, MPa.
        modulus: elastic modulus, MPa.
        density: kg/m³.
        least_radius: least inside radius for a 90° fold across the grain, in thicknesses.
        along: the same along the grain, in thicknesses; None takes half as much again.
        thicker: from which thickness (mm) on the least radius is another: (from, in thicknesses),
            rising.
        k_factor: usual place of the neutral line, as a fraction of the thickness from the inside.
        gauge_name: the gauge table suppliers use for it.
        air_springback: degrees a 90° bend with an inside radius of one thickness opens after
            bending in air on a press.
        air_share: inside radius of a bend in air, as a share of the V.
        press_tensile: tensile strength press charts are made with, MPa, where that is not
            ``tensile``.
        finish: how its faces are as bought: bright, 2B, brushed, painted one side.
        film: true where it comes with a film on one face.
        price: of a kilogram, in whatever money the shop counts; None where it is not known.

    Typical values from memory; a mill certificate or the shop's own test strips win.
    """

    key: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9][a-z0-9.-]*$")]
    name: Annotated[str, Field(min_length=1, max_length=80), ONE_LINE]
    tensile: Annotated[float, Field(ge=20, le=3000)] = Field(title="Tensile strength, MPa")
    yield_strength: Annotated[float, Field(ge=5, le=2500)] = Field(title="Yield strength, MPa")
    modulus: Annotated[float, Field(ge=5000, le=500_000)] = Field(title="Elastic modulus, MPa")
    density: Annotated[float, Field(ge=500, le=25_000)] = Field(title="Density, kg/m³")
    least_radius: Annotated[float, Field(ge=0, le=20)] = Field(
        default=0.0, title="Least radius across the grain, × T"
    )
    along: Annotated[float, Field(ge=0, le=30)] | None = Field(
        default=None,
        title="Least radius along the grain, × T",
        json_schema_extra={"empty": "half as much again"},
    )
    thicker: tuple[tuple[float, float], ...] = ()
    k_factor: Share = Field(default=0.44, title="K-factor")
    gauge_name: GaugeName = Field(default="steel", title="Gauge table")
    air_springback: Annotated[float, Field(ge=0, le=45)] = Field(
        default=1.0, title="Springback in air, °"
    )
    air_share: Share = Field(default=0.16, title="Radius in air, share of the V")
    press_tensile: Annotated[float, Field(ge=20, le=3000)] | None = Field(
        default=None,
        title="Strength for force, MPa",
        json_schema_extra={"empty": "its tensile strength"},
    )
    finish: Annotated[str, Field(max_length=80), ONE_LINE] = ""
    film: bool = False
    price: Annotated[float, Field(ge=0, le=1e6)] | None = Field(
        default=None, title="Price per kilogram", json_schema_extra={"empty": "not known"}
    )

    @model_validator(mode="after")
    def _holds_together(self) -> Self:
        if self.yield_strength > self.tensile:
            raise InputError(
                tr(
                    "A metal yields before it tears: its yield strength is at most its tensile "
                    "strength."
                )
            )
        return self

    @property
    def force_tensile(self) -> float:
        """Tensile strength (MPa) that a bending force is worked out with: of mild steel what comes
        from the mill, not its least."""
        return self.tensile if self.press_tensile is None else self.press_tensile

    @property
    def gauge(self) -> GaugeTable:
        return gauge_table(self.gauge_name)


MILD_TENSILE = 380.0
"""Tensile strength (MPa) of the mild steel brakes are rated for. From memory."""

PRESS_TENSILE = 450.0
"""Tensile strength (MPa) of common mild steel that press makers' charts of force are made with.
From memory."""

# fmt: off
MATERIALS: dict[str, Material] = {
    m.key: m
    for m in (
        Material(key="mild-steel", name="Mild steel", tensile=MILD_TENSILE, yield_strength=240, modulus=205_000, density=7_850,
            least_radius=0.0, k_factor=0.44, gauge_name="steel", press_tensile=PRESS_TENSILE, thicker=((6.0, 1.0), (10.0, 1.5))),
        Material(key="galvanized", name="Galvanized steel", tensile=380, yield_strength=260, modulus=205_000, density=7_850,
            least_radius=0.0, k_factor=0.44, gauge_name="galvanized", press_tensile=PRESS_TENSILE),
        Material(key="stainless", name="Stainless 304", tensile=620, yield_strength=290, modulus=193_000, density=8_000,
            least_radius=0.5, k_factor=0.44, gauge_name="stainless", air_springback=3.0, thicker=((3.0, 1.0), (6.0, 1.5)),
            air_share=0.21),
        Material(key="hot-rolled", name="Hot-rolled steel", tensile=410, yield_strength=260, modulus=205_000, density=7_850,
            least_radius=0.5, k_factor=0.44, gauge_name="steel", press_tensile=PRESS_TENSILE, thicker=((6.0, 1.0), (10.0, 1.5))),
        Material(key="galvannealed", name="Galvannealed steel", tensile=380, yield_strength=260, modulus=205_000, density=7_850,
            least_radius=0.0, k_factor=0.44, gauge_name="galvanized", press_tensile=PRESS_TENSILE),
        Material(key="stainless-316", name="Stainless 316", tensile=580, yield_strength=290, modulus=193_000, density=8_000,
            least_radius=0.5, k_factor=0.44, gauge_name="stainless", air_springback=3.0, thicker=((3.0, 1.0), (6.0, 1.5)),
            air_share=0.21),
        Material(key="stainless-430", name="Stainless 430", tensile=500, yield_strength=310, modulus=200_000, density=7_750,
            least_radius=0.5, k_factor=0.44, gauge_name="stainless", air_springback=2.0, thicker=((3.0, 1.0), (6.0, 2.0)),
            air_share=0.18),
        Material(key="aluminium-1100", name="Aluminium 1100-O", tensile=90, yield_strength=35, modulus=69_000, density=2_710,
            least_radius=0.0, k_factor=0.42, gauge_name="brown-sharpe", air_springback=0.5, air_share=0.135),
        Material(key="aluminium-soft", name="Aluminium, soft (3003-H14)", tensile=150, yield_strength=145, modulus=69_000,
            density=2_730, least_radius=0.0, k_factor=0.42, gauge_name="brown-sharpe", air_springback=1.5, air_share=0.135),
        Material(key="aluminium-5005", name="Aluminium 5005-H34", tensile=160, yield_strength=140, modulus=69_000, density=2_700,
            least_radius=0.5, k_factor=0.42, gauge_name="brown-sharpe", air_springback=1.5, thicker=((3.1, 1.0),), air_share=0.14),
        Material(key="aluminium-5052", name="Aluminium 5052-H32", tensile=230, yield_strength=195, modulus=70_000, density=2_680,
            least_radius=1.0, k_factor=0.42, gauge_name="brown-sharpe", air_springback=2.5, thicker=((3.1, 1.5), (6.0, 2.5)),
            air_share=0.15),
        Material(key="aluminium-6061", name="Aluminium 6061-T6", tensile=310, yield_strength=275, modulus=69_000, density=2_700,
            least_radius=1.5, k_factor=0.42, gauge_name="brown-sharpe", air_springback=4.0, thicker=((1.6, 2.0), (3.1, 3.0), (6.0,
            4.0)), air_share=0.2),
        Material(key="aluminium-2024", name="Aluminium 2024-T3", tensile=470, yield_strength=325, modulus=73_000, density=2_780,
            least_radius=2.5, k_factor=0.42, gauge_name="brown-sharpe", air_springback=5.0, thicker=((1.6, 4.0), (3.1, 5.0), (6.0,
            7.0)), air_share=0.22),
        Material(key="copper", name="Copper, soft", tensile=230, yield_strength=70, modulus=117_000, density=8_940, least_radius=0.0,
            k_factor=0.42, gauge_name="brown-sharpe"),
        Material(key="copper-half-hard", name="Copper, half hard", tensile=290, yield_strength=220, modulus=117_000, density=8_940,
            least_radius=0.5, k_factor=0.42, gauge_name="brown-sharpe", air_springback=1.5),
        Material(key="brass", name="Brass, soft", tensile=320, yield_strength=110, modulus=105_000, density=8_500, least_radius=0.0,
            k_factor=0.42, gauge_name="brown-sharpe"),
    )
}
# fmt: on


def material(key: str) -> Material:
    """The metal of that key.

    Raises:
        InputError: no such metal; the message lists those there are.
    """
    try:
        return MATERIALS[key]
    except KeyError:
        raise InputError(
            tr("The metal {key!r} is not known. Known: {MATERIALS}.").format(
                key=key, MATERIALS=", ".join(MATERIALS)
            )
        ) from None
