"""What a scale, a probe or a room sensor sends: one small format for all of them."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, Field, model_validator

from northfold.formats.files import Open

# What can be read, in what unit and from where to where. [g, °C]
QUANTITIES = {"mass": ("g", -5_000.0, 200_000.0), "temperature": ("°C", -60.0, 350.0)}


class ReadingFile(Open):
    """
    One reading: sent again under the same id it counts once.

    `stable` says that the figure rests: a mass within the scale's step for a second, a probe that moves no more.
    """

    id: UUID
    at: AwareDatetime
    quantity: Literal["mass", "temperature"]
    value: Annotated[float, Field(ge=-5_000, le=200_000)]
    unit: Literal["g", "°C"]
    stable: bool = False

    @model_validator(mode="after")
    def _fits(self) -> "ReadingFile":
        unit, low, high = QUANTITIES[self.quantity]
        if self.unit != unit:
            raise ValueError(f"a {self.quantity} is told in {unit}, not in {self.unit}")
        if not low <= self.value <= high:
            raise ValueError(f"a {self.quantity} of {self.value:g} {unit} is outside {low:g} to {high:g} {unit}")
        return self
