"""How long a sheet takes to freeze firm, once it is down at the point where its water begins to freeze."""

from northfold.core.heat.conduction import Body, Stay, Trace, first_crossing
from northfold.core.heat.dough_heat import FROZEN_C

# Heat that leaves a lean dough between −2 and −10 °C, most of it as ice forms; what it stands at meanwhile.
# [kJ/kg, °C] Assumption, from 0.19 kg of ice a kg and 333.6 kJ a kg of ice; a sweet dough freezes later, or never hard.
FIRM_KJ_PER_KG, FIRM_AT_C = 80.0, -5.0


def plateau_min(body: Body, density_kg_m3: float, stay: Stay) -> float | None:
    """
    Minutes from the freezing point until a thin sheet is hard through.

    Parameters
    ----------
    body : Body
        The sheet, its thickness across. [mm]
    density_kg_m3 : float
        Of the dough. [kg/m³]
    stay : Stay
        The place, with a film on each face. [°C, W/(m² K)]

    Returns
    -------
    float or None
        Lumped: mass × heat ÷ (films × difference). [min] None where the place is not cold enough to freeze it.

    Notes
    -----
    For sheets up to a few millimetres, whose middle is nearly as cold as their faces (assumption).

    References
    ----------
    .. [1] North Fold reference table.
    """
    drive_w_m2 = sum(face.film_w_m2_k * (FIRM_AT_C - face.temperature_c) for face in (stay.above, stay.below))
    if drive_w_m2 <= 0:
        return None
    return density_kg_m3 * body.across_mm / 1000 * FIRM_KJ_PER_KG * 1000 / drive_w_m2 / 60


# A lean slab from 14 °C into a still freezer at −18 is at −10 after 22, 206 and 354 min at 3, 25 and 40 mm; a quadratic
# through these three. [min/mm, min/mm²] North Fold reference table, frozen and back.
SLAB_FREEZES = (7.22, 0.0407)
# The same slab with 16 % of water, as butter has, needs 119 min for 25 mm: so much of that. Its table.
OF_BUTTERS_WATER = 119 / 206


def block_freezes_min(thickness_mm: float) -> float:
    """Minutes that a block of fat takes to be hard frozen in a still freezer at −18 °C. [mm, min]"""
    linear, square = SLAB_FREEZES
    return OF_BUTTERS_WATER * (linear * thickness_mm + square * thickness_mm**2)


def firm_after_min(trace: Trace, body: Body, density_kg_m3: float, stay: Stay) -> float | None:
    """Minutes of a trace until its sheet is frozen firm; None where it never is. [kg/m³, min]"""
    down = first_crossing(trace.minutes, trace.mean_c, FROZEN_C + 1e-6)
    down = 0.0 if trace.mean_c[0] <= FROZEN_C + 1e-6 else down
    plateau = plateau_min(body, density_kg_m3, stay)
    return None if down is None or plateau is None else down + plateau
