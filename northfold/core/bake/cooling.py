"""How long a baked piece cools: until it can leave its tin, until a knife can cut it or a hand can hold it."""

from dataclasses import dataclass
from functools import lru_cache

from northfold.core.bake.worked import ROUGHLY_S, Asked, coarser
from northfold.core.heat.bake import COOLED, Films, Sign, Stage, bake_trace

# On a rack, both faces. [W/(m² K)] North Fold reference table.
COOL_W = 10.0
# What a hand can hold, and how much warmer than a warm room. [°C, K]
HOLD_C, OVER_ROOM_K = 30.0, 3.0
# Below this a crust is firm enough to leave its tin: its sugar and fat have set. [°C] Assumption.
FIRM_C = 50.0
# A piece that never gets there is not looked at for longer. [min]
LONGEST_MIN = 720.0
# What has to be in the cold within 2 h of the oven, and is not cool enough by then, goes there after so long. [min]
# Usual guidance; the margin of half an hour is ours. Local codes come first.
WARM_MOST_MIN, RACK_MIN = 120.0, 90.0


@dataclass(frozen=True)
class Cooling:
    """
    Minutes until it can be cut, or held where nothing fills it, at `to_c`; until it can leave its tin. [min, °C]

    On a rack, but no longer than `rack_min` where it has to go into the cold from there; 0 where it stays.
    """

    minutes: float
    to_c: float
    out_min: float
    rack_min: float = 0.0


def cool_enough_c(room_c: float) -> float:
    """What a hand can hold: 30 °C, or 3 above a warmer room [°C]. [°C]"""
    return max(HOLD_C, room_c + OVER_ROOM_K)


def cut_from_c(asked: Asked, room_c: float) -> float:
    """How cool it has to be, all through: to be cut by what fills it, else to be held; never nearer a room. [°C]"""
    wanted = asked.inside.cut_c if asked.inside is not None else HOLD_C
    return max(wanted, room_c + OVER_ROOM_K)


@lru_cache(maxsize=512)
def cooling(asked: Asked, minutes: tuple[float, ...], room_c: float, cold_c: float | None = None) -> Cooling:
    """
    How long one piece cools after its bake, in its tin where it has one.

    Parameters
    ----------
    asked : Asked
        The bake.
    minutes : tuple of float
        Of its stages. [min]
    room_c : float
        The air around it. [°C]
    cold_c : float, optional
        The fridge, for what must not stay warm. [°C]

    Returns
    -------
    Cooling
        By the solver of the bake, from how it comes out, on half its cells; tin and filling counted. What must not stay
        warm and is not cool enough after 2 h goes into the fridge after an hour and a half.
    """
    piece = asked.piece
    baked = [asked.stage(each, 1.0, max(0.01, long)) for each, long in zip(asked.stages, minutes, strict=True)]
    to_c = cut_from_c(asked, room_c)
    middle = "filling" if asked.inside is not None else "base"
    signs = (Sign(COOLED, to_c, middle), Sign(COOLED, max(FIRM_C, to_c), "base"))
    film = COOL_W * piece.face
    rack = Stage(room_c, Films(film, film), signs=signs, longest_min=LONGEST_MIN)
    # Told seldom: only its end is wanted.
    end = bake_trace(coarser(asked.layers), piece.tin, [*baked, rack], sample_s=600.0, longest_s=ROUGHLY_S).ends[-1]
    cut, firm = (LONGEST_MIN if each is None else each for each in end.met)
    if cold_c is None or cut <= WARM_MOST_MIN:
        return Cooling(cut, to_c, min(cut, firm))
    on_rack = Stage(room_c, Films(film, film), minutes=RACK_MIN)
    in_cold = Stage(cold_c, Films(film, film), signs=signs[:1], longest_min=LONGEST_MIN)
    stages = [*baked, on_rack, in_cold]
    (then,) = bake_trace(coarser(asked.layers), piece.tin, stages, sample_s=600.0, longest_s=ROUGHLY_S).ends[-1].met
    return Cooling(RACK_MIN + (LONGEST_MIN if then is None else then), to_c, min(RACK_MIN, firm), RACK_MIN)
