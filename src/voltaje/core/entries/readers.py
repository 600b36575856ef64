"""Fields that read what is typed: quantities and nameplates, with their limits."""

from __future__ import annotations

from contextvars import ContextVar
from dataclasses import dataclass, replace
from typing import Annotated, Any

from pydantic import Field
from pydantic_core import PydanticCustomError, core_schema

from voltaje.core import quantities
from voltaje.core.quantities import Dimension, UnitSystem
from voltaje.core.report import Text, say, told

NAME_LENGTH = 60


SLACK = 1e-9  # so that a limit in another unit than the base is met as it was typed


def wrong(kind: str, words: Text | str) -> PydanticCustomError:
    """What a reader raises: the words reach the entry as they are."""
    return PydanticCustomError(kind, "{words}", {"words": str(words)})


SCHEMA_UNITS: ContextVar[UnitSystem] = ContextVar("schema_units", default="us")


def units_of(context: Any) -> UnitSystem:
    return "metric" if context and context.get("system") == "metric" else "us"


@dataclass(frozen=True)
class Reads:
    """Marks a field as a quantity: its dimension, limits in the base unit, whether it may be 0."""

    dimension: Dimension
    low: float = 0.0
    high: float = 1e6
    whole: bool = False

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.with_info_plain_validator_function(self._validate)

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        # a bare number is in the unit that a bare text has, by the units asked for
        bare = self.dimension.bare[SCHEMA_UNITS.get()]
        one = quantities.factor(bare, self.dimension.base) if bare else 1.0
        unit = quantities.symbol(self.dimension, SCHEMA_UNITS.get())
        kind = "integer" if self.whole else "number"
        return {
            "anyOf": [
                {
                    "type": kind,
                    "minimum": round(self.low / one, 6),
                    "maximum": round(self.high / one, 6),
                },
                {"type": "string", "maxLength": 60},
            ],
            "description": f"A bare figure is {'in ' + unit if unit else 'a number'}; or text with"
            f" its unit, like {self.dimension.example}.",
        }

    def _validate(self, typed: Any, info: core_schema.ValidationInfo) -> float:
        if isinstance(typed, bool) or not isinstance(typed, str | int | float):
            raise self._one_figure()
        try:
            value = quantities.read(typed, self.dimension, units_of(info.context))
        except quantities.UnreadableError as error:
            raise wrong("unreadable", str(error)) from None
        except OverflowError:
            raise self._one_figure() from None
        within = self.within(value, units_of(info.context))
        return int(within) if self.whole else within

    def within(self, value: float, system: UnitSystem = "us") -> float:
        """``value``, or a pydantic error that says the limits."""
        if self.whole and not float(value).is_integer():
            like = told(self.dimension.example)
            raise wrong("whole", say("Give a whole number, like {like}.", like=like))
        least, most = self.low - SLACK * abs(self.low), self.high + SLACK * abs(self.high)
        if not least <= value <= most:
            low = quantities.show(self.low, self.dimension, system)
            high = quantities.show(self.high, self.dimension, system)
            raise wrong("limits", say("Out of range: give {low} to {high}.", low=low, high=high))
        return value

    def _one_figure(self) -> PydanticCustomError:
        like = told(self.dimension.example)
        return wrong("kind", say("Give one figure, like {like}.", like=like))


@dataclass(frozen=True)
class ReadsNameplate:
    """Marks a field as a nameplate: VA, W, kW, A, A at V, hp, or Ω at V; limits are in VA, A and
    hp. ``ohms``: Ω may stand without volts, for the item knows them. ``bare`` is what a figure
    without a unit is; no horsepower is taken where ``high_horsepower`` is 0."""

    high_watts: float = 1e6
    high_horsepower: float = 10.0
    ohms: bool = False
    bare: Dimension = quantities.POWER

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.no_info_plain_validator_function(self._validate)

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        return {
            "anyOf": [
                {"type": "number", "minimum": 0, "maximum": self.high_watts / self._each},
                {"type": "string", "maxLength": 60},
            ],
            "description": f"A number in {self.unit}, or text like {self.dimension.example}.",
        }

    def _validate(self, typed: Any) -> quantities.Nameplate:
        if isinstance(typed, bool) or not isinstance(typed, str | int | float):
            raise self._no_plate()
        try:
            plate = quantities.read_nameplate(typed)
            if self.bare is not quantities.POWER and _is_bare(typed):
                plate = quantities.Nameplate(watts=quantities.read(typed, self.bare))
        except quantities.UnreadableError as error:
            said = str(error)
            if not self.high_horsepower:
                said = str(quantities.UnreadableError(str(typed), self.dimension))
            raise wrong("unreadable", said) from None
        except OverflowError:
            raise self._no_plate() from None
        if plate.ohms is not None and plate.volts is None and not self.ohms:
            words = say("Ohms need their volts here: give it like 14.4 Ω 240 V.")
            raise wrong("unreadable", words)
        if plate.horsepower is not None and not self.high_horsepower:
            words = say(
                "Give the load in kVA, kW or amperes, like {like}.", like=self.dimension.example
            )
            raise wrong("unreadable", words)
        for value, high, unit in (
            (plate.watts, self.high_watts, "VA"),
            (plate.amperes, 4000.0, "A"),
            (plate.horsepower, self.high_horsepower, "hp"),
            (plate.volts, 600.0, "V"),
        ):
            if value is not None and not 0 <= value <= high:
                words = say("Out of range: give 0 to {high} {unit}.", high=high, unit=unit)
                raise wrong("limits", words)
        return plate

    @property
    def dimension(self) -> Dimension:
        """What is read, with examples of what would be accepted."""
        if self.high_horsepower:
            return quantities.NAMEPLATE
        return replace(quantities.NAMEPLATE, name="a load", example="60 kVA or 120 A")

    @property
    def unit(self) -> str:
        """What a bare figure is in."""
        return quantities.symbol(self.bare, "us")

    @property
    def _each(self) -> float:
        unit = self.bare.bare["us"]
        return quantities.factor(unit, self.bare.base) if unit != self.bare.base else 1.0

    def _no_plate(self) -> PydanticCustomError:
        like = told(self.dimension.example)
        return wrong("kind", say("Give a nameplate, like {like}.", like=like))


def _is_bare(typed: str | float) -> bool:
    """Whether a figure stands without a unit."""
    try:
        quantities.read_number(str(typed))
    except (ValueError, OverflowError):
        return False
    return True


# a load in kVA where nothing else is said, or in amperes at the volts that its item knows
KvaOrAmperes = Annotated[
    quantities.Nameplate,
    ReadsNameplate(1e8, 0.0, ohms=True, bare=quantities.SIZE),
]


# a load in VA where nothing else is said, or in amperes at the volts that its item knows
PowerOrAmperes = Annotated[quantities.Nameplate, ReadsNameplate(1e6, 0.0, ohms=True)]


Area = Annotated[float, Reads(quantities.AREA, 0.09290304, 9_290.304)]  # 1 to 100,000 ft²


Current = Annotated[float, Reads(quantities.CURRENT, 1.0, 6000.0)]


Power = Annotated[float, Reads(quantities.POWER, 0.0, 1e6)]


Nameplate = Annotated[quantities.Nameplate, ReadsNameplate()]


Length = Annotated[float, Reads(quantities.LENGTH, 0.0, 9_144.0)]  # to 30,000 ft


Voltage = Annotated[float, Reads(quantities.VOLTAGE, 50.0, 1000.0)]


Temperature = Annotated[float, Reads(quantities.TEMPERATURE, -40.0, 85.0)]


PowerFactor = Annotated[float, Reads(quantities.COUNT, 0.1, 1.0)]


Percent = Annotated[float, Reads(quantities.COUNT, 0.0, 100.0)]


Few = Annotated[int, Reads(quantities.COUNT, 0, 100, whole=True)]


BigNameplate = Annotated[
    quantities.Nameplate, ReadsNameplate(high_watts=1e7, high_horsepower=500.0)
]


# of an item that knows the volts that an element stands on
LoadAtItsVolts = Annotated[
    quantities.Nameplate, ReadsNameplate(high_watts=1e7, high_horsepower=500.0, ohms=True)
]


Units = Annotated[int, Reads(quantities.COUNT, 1, 100, whole=True)]


Name = Annotated[str, Field(max_length=NAME_LENGTH)]
