"""What may be recorded at the bench: each tap, weight and reading held against where the make stands, and cleaned."""

from collections.abc import Mapping
from typing import Any

from northfold.core.errors import OutsideRange
from northfold.core.formula.typed import read_typed
from northfold.core.heat.bake import COLOURS
from northfold.core.method.choices import step_keys
from northfold.core.method.route.progress import (
    DONE,
    EXTENDED,
    HELD,
    KINDS,
    LOOKED,
    NOTE,
    PAUSED,
    PROBED,
    REPLANNED,
    RESCALED,
    STARTED,
    TAPPED,
    TRIP,
    UNDONE,
    WEIGHED,
    NotNow,
    Progress,
)

# What can be read, weighed, and by how much a wait is made longer. [°C, g, min]
PROBE_C = (-40.0, 130.0)
WEIGHED_G = (0.0, 200_000.0)
EXTENDED_MIN = (-240.0, 240.0)
# How long the name of somebody is at most.
WHO_LETTERS = 40
# A dough is mixed in so many loads at most.
MOST_LOADS = 99


def tapped(kind: str) -> str:
    """A kind as a device sends it; empty, and so no kind, where no device may send that."""
    return kind if kind in TAPPED else ""


def check(progress: Progress, kind: str, step_key: str, value: Mapping[str, Any], lines: int) -> dict[str, Any]:
    """
    Hold what is to be recorded against where the make stands.

    Parameters
    ----------
    progress : Progress
        As it stands.
    kind : str
        One of `KINDS`.
    step_key : str
        The step it is of.
    value : mapping
        As sent: numbers may be text.
    lines : int
        How many lines there are to weigh.

    Returns
    -------
    dict
        The value, cleaned. [g, °C, min]

    Raises
    ------
    NotNow
        If the step is not there, comes later, or is to be taken back though it is not done.
    NotANumber, OutsideRange
        If a weight, a temperature or minutes make no sense.
    """
    state = progress.state(step_key)
    if kind not in KINDS or state is None:
        raise NotNow(f"This make has no step “{step_key[:20]}”. Reload the page to see where it stands.")
    current = progress.current
    beside = (kind == DONE and state.step.apart) or (state.step.item > 0 and state.is_ready)
    acts = (DONE, STARTED, EXTENDED, TRIP, PAUSED)
    if kind in acts and state is not current and not state.is_done and not beside:
        first = current.step.name if current else ""
        raise NotNow(f"“{state.step.name}” comes later: finish “{first}” first.")
    if kind in (TRIP, PAUSED) and (state.step.trips is None or state.is_done or (kind == TRIP and state.is_last_trip)):
        raise NotNow(f"“{state.step.name}” has no further trip. Tap Done when it is over.")
    if kind == UNDONE and state.done_at is None and not state.trips_done:
        raise NotNow(f"“{state.step.name}” is not done, so there is nothing to take back.")
    if kind == WEIGHED:
        line = _place(value.get("line"))
        if not 0 <= line < lines:
            raise NotNow("There is no such line to weigh. Reload the page.")
        cleaned = {"line": line, "grams": _number(value.get("grams"), "A weight of", WEIGHED_G, "g")}
        load = _place(value.get("load"))
        return {**cleaned, "load": load} if 0 <= load < MOST_LOADS and step_key != step_keys.MIX else cleaned
    if kind == RESCALED:
        line = _place(value.get("line"))
        if not 0 <= line < lines:
            raise NotNow("There is no such line to weigh. Reload the page.")
        grams = _number(value.get("grams"), "A weight of", WEIGHED_G, "g")
        return {"line": line, "grams": grams, "batch": float(value["batch"]) if grams is not None else 1.0}
    if kind == PROBED:
        return {"c": _number(value.get("c"), "A reading of", PROBE_C, "°C")}
    if kind == EXTENDED:
        return {"minutes": _number(value.get("minutes"), "A longer wait of", EXTENDED_MIN, "min")}
    if kind == TRIP:
        return {"trip": state.trip}
    if kind == LOOKED:
        return _looked(value)
    if kind == HELD:
        if state.is_done:
            raise NotNow(f"“{state.step.name}” is done, so nobody has to take it.")
        return {"who": " ".join(str(value.get("who", "")).replace("\x00", "").split())[:WHO_LETTERS]}
    if kind == REPLANNED:
        return dict(value)
    if kind == NOTE:
        return {"text": str(value.get("text", "")).replace("\x00", "").encode("utf-8", "ignore").decode()[:500]}
    return {}


def _looked(value: Mapping[str, Any]) -> dict[str, Any]:
    """How it came out of the oven, cleaned: a colour of the scale, a weight [g], or that the time was right."""
    if value.get("colour"):
        colours = [name for _, name in COLOURS]
        if value["colour"] not in colours:
            raise NotNow(f"That is no colour on the scale: {', '.join(colours)}.")
        return {"colour": value["colour"]}
    if value.get("right"):
        return {"right": True}
    return {"grams": _number(value.get("grams"), "A weight of", WEIGHED_G, "g")}


def _place(sent: Any) -> int:
    """The place of a line as sent; −1 for what is none."""
    text = str(sent)
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 6 else -1


def _number(sent: Any, what: str, span: tuple[float, float], unit: str) -> float | None:
    """A number as typed; an empty weight takes a tick back."""
    text = str("" if sent is None else sent).strip()
    if not text and unit == "g":
        return None
    number = read_typed(text, unit, what=f"number of {unit}")
    if not span[0] <= number <= span[1]:
        raise OutsideRange(what, number, *span, unit)
    return number
