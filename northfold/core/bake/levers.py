"""What would change a bake: each lever with the minutes that it moves and the faults that it cures, by a trace."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from northfold.core.bake.verdict import Outcome, outcome
from northfold.core.bake.worked import Asked, worked_bake
from northfold.core.heat.bake import oven_places, oven_tins

# A lever moves the oven by so much. [K] A filling is let warm to this [°C], a base rolled so much thinner. [mm]
HEAT_K, WARMER_C, THINNER_MM = 10.0, 18.0, 0.5
# A case that is dry before it is filled has so much of its water left. [share] North Fold reference table.
DRY_LEFT = 0.03
# Less than this is no change. [min]
NO_CHANGE_MIN = 0.75


@dataclass(frozen=True)
class Lever:
    """
    One thing to do otherwise: its key, what it is called, whole minutes of the bake with it, by how many that is more.
    [min]

    `cures` are the faults that are gone with it, `brings` those that it brings.
    """

    key: str
    name: str
    minutes: tuple[float, ...]
    more_min: float
    cures: tuple[str, ...]
    brings: tuple[str, ...]


Change = Callable[[Asked], Asked | None]


def _on(place: str) -> Change:
    """Stood on something else; None where it stands there, or gets less from below."""

    def change(asked: Asked) -> Asked | None:
        places, tin, fan = oven_places(), asked.piece.tin, asked.oven.fan
        now, then = (places[key].film_w(tin, fan=fan) for key in (asked.oven.place, place))
        return replace(asked, oven=replace(asked.oven, place=place)) if then > now else None

    return change


def _dark(asked: Asked) -> Asked | None:
    """In a dark tin."""
    tin = asked.piece.tin
    if tin.is_dark or tin.key == "tray" or asked.oven.place != "rack":
        return None
    return replace(asked, piece=replace(asked.piece, tin=replace(oven_tins()["dark"], start_c=tin.start_c)))


def _heat(more_k: float) -> Change:
    def change(asked: Asked) -> Asked | None:
        return replace(asked, stages=tuple(replace(each, oven_c=each.oven_c + more_k) for each in asked.stages))

    return change


def _thinner(asked: Asked) -> Asked | None:
    """Its base rolled thinner."""
    base = asked.piece.layers[0]
    if base.thickness_mm <= 2 + THINNER_MM:
        return None
    layers = (replace(base, thickness_mm=base.thickness_mm - THINNER_MM), *asked.piece.layers[1:])
    return replace(asked, piece=replace(asked.piece, layers=layers))


def _drier(asked: Asked) -> Asked | None:
    """Its case baked dry before it is filled."""
    base = asked.piece.layers[0]
    if asked.inside is None or not DRY_LEFT < base.left < 1:
        return None
    layers = (replace(base, left=DRY_LEFT), *asked.piece.layers[1:])
    return replace(asked, piece=replace(asked.piece, layers=layers))


def _warmer(asked: Asked) -> Asked | None:
    """Its filling let warm first; what must be safe stays cold."""
    if asked.inside is None or asked.inside.safe:
        return None
    layers = tuple(
        replace(each, start_c=WARMER_C) if each.name == "filling" and each.start_c < WARMER_C else each
        for each in asked.piece.layers
    )
    return None if layers == asked.piece.layers else replace(asked, piece=replace(asked.piece, layers=layers))


def _covered(asked: Asked) -> Asked | None:
    """Foil over its rim."""
    return None if asked.covers or asked.piece.rim is None else replace(asked, covers=True)


LEVERS: tuple[tuple[str, str, Change], ...] = (
    ("hot_stone", "on a hot stone or heavy tray", _on("hot_stone")),
    ("floor", "on the oven floor", _on("floor")),
    ("dark", "in a dark tin", _dark),
    ("hotter", f"{HEAT_K:.0f} °C hotter", _heat(HEAT_K)),
    ("cooler", f"{HEAT_K:.0f} °C cooler", _heat(-HEAT_K)),
    ("foil", "foil over the rim", _covered),
    ("drier", "case baked dry first", _drier),
    ("thinner", f"base rolled {THINNER_MM:g} mm thinner", _thinner),
    ("warmer", f"filling at {WARMER_C:.0f} °C", _warmer),
)


def levers(asked: Asked, now: Outcome) -> tuple[Lever, ...]:
    """
    What would change a bake.

    Parameters
    ----------
    asked : Asked
        The bake.
    now : Outcome
        What comes out as it is planned.

    Returns
    -------
    tuple of Lever
        Those that move its minutes or cure a fault, what cures most first; each reckoned with that input changed.
    """
    as_it_is = sum(stage.minutes for stage in worked_bake(asked).stages)
    wrong = {each.key for each in now.findings}
    found = []
    for key, name, change in LEVERS:
        other = change(asked)
        if other is None:
            continue
        minutes = tuple(stage.minutes for stage in worked_bake(other).stages)
        more = sum(minutes) - as_it_is
        then = {each.key for each in outcome(other, minutes).findings}
        if abs(more) >= NO_CHANGE_MIN or then != wrong:
            found.append(Lever(key, name, minutes, more, tuple(sorted(wrong - then)), tuple(sorted(then - wrong))))
    return tuple(sorted(found, key=lambda each: (-len(each.cures), len(each.brings), each.more_min)))
