"""What comes out of the oven: a soggy base, a pale underside, a raw middle; and when the rim wants a cover."""

from dataclasses import dataclass

from northfold.core.bake.worked import COVER_FROM, Asked, rim_trace, trace_of
from northfold.core.heat.bake import CENTRE, COLDEST, LEFT, BakeTrace, colour_name

# Judged at its end: a base with more of its water is soggy [share]; an underside under the one is pale, faces over the
# other are dark [min at 160 °C]. North Fold reference table.
SOGGY_FROM, PALE_UNDER, DARK_OVER = 0.5, 1.0, 14.0
SOGGY, PALE, RAW, DAMP = "soggy", "pale", "raw", "damp"
DARK_TOP, DARK_UNDER, DARK_RIM = "dark_top", "dark_under", "dark_rim"
FAULTS = {
    SOGGY: "soggy base",
    PALE: "pale underside",
    DARK_TOP: "dark top",
    DARK_UNDER: "dark underside",
    DARK_RIM: "dark rim",
    RAW: "raw middle",
    DAMP: "damp inside",
}
# Degrees that nobody's thermometer tells apart. [K]
SAME_K = 0.5


@dataclass(frozen=True)
class Finding:
    """Something wrong with what comes out: its key, a sentence with its number, how bad it is."""

    key: str
    says: str
    weight: int


@dataclass(frozen=True)
class Outcome:
    """
    A bake at its end.

    What is left of the base’s water [share], colours of top and underside [min at 160 °C], the middle of its filling
    [°C], None without one; when its rim wants a cover [min], None where it does not; what the base weighs of its raw
    mass, its filling of what went in [share], and what is wrong.
    """

    left: float
    top: float
    under: float
    centre_c: float | None
    cover_min: float | None
    keeps_mass: float
    findings: tuple[Finding, ...]
    keeps_filling: float = 1.0


def outcome(asked: Asked, minutes: tuple[float, ...]) -> Outcome:
    """
    What comes out of a bake whose stages take so many minutes.

    Parameters
    ----------
    asked : Asked
        The bake.
    minutes : tuple of float
        Of each stage. [min]

    Returns
    -------
    Outcome
        Judged as the reference table says: over half of its water left a base is soggy, under colour 1 its underside is
        pale, over 14 a face is dark.
    """
    trace = trace_of(asked, minutes)
    base = trace.layers[0]
    left, top, under = float(trace.of("base", LEFT)[-1]), trace.top[-1], trace.under[-1]
    centre, found = None, []
    inside = asked.inside
    if inside is not None:
        centre = float(trace.of("filling", COLDEST if inside.safe else CENTRE)[-1])
        if inside.centre_c and centre < inside.centre_c - SAME_K:
            said = f"The middle only reaches {centre:.0f} °C; {inside.name} wants {inside.centre_c:.0f}."
            found.append(Finding(RAW, said, 9 if inside.safe else 7))
        if left > SOGGY_FROM:
            wetter = "wetter than raw, for what it takes up from above"
            still = f"{100 * left:.0f} % of its water is still in it" if left <= 1 else wetter
            said = f"Soggy base: {still}; baked is 35 % or less."
            found.append(Finding(SOGGY, said, 6))
        if under < PALE_UNDER:
            found.append(Finding(PALE, f"The underside stays {colour_name(under)}.", 5))
    elif not asked.is_part and asked.wants_dry and left > SOGGY_FROM:
        found.append(Finding(DAMP, f"Still damp inside: {100 * left:.0f} % of its water is in it.", 6))
    if under > DARK_OVER:
        found.append(Finding(DARK_UNDER, f"The underside comes out {colour_name(under)}.", 4))
    if asked.colours_on_top and top > max(DARK_OVER, asked.wanted_colour) * 1.02:
        found.append(Finding(DARK_TOP, f"The top comes out {colour_name(top)}.", 4))
    rim, cover = rim_trace(asked, minutes), None
    if rim is not None:
        cover = next((m for m, colour in zip(rim.minutes, rim.top, strict=True) if colour >= COVER_FROM), None)
        if not asked.covers and rim.top[-1] > DARK_OVER:
            said = f"The rim comes out {colour_name(rim.top[-1])} without foil, gold after {cover:.0f} min."
            found.append(Finding(DARK_RIM, said, 4))
    mass = 1 - base.free_water * (base.left - left)
    told = tuple(sorted(found, key=lambda each: -each.weight))
    return Outcome(left, top, under, centre, cover, mass, told, _filling_keeps(trace) if inside else 1.0)


def _filling_keeps(trace: BakeTrace) -> float:
    """What a filling weighs after the bake: what steamed off its open top, or boiled off, is gone. [share]"""
    layer = next(each for each in trace.layers if each.name == "filling")
    return 1 - layer.free_water * max(0.0, layer.left - float(trace.of("filling", LEFT)[-1]))
