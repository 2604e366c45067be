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
    """
    drive_w_m2 = sum(face.film_w_m2_k * (FIRM_AT_C - face.temperature_c) for face in (stay.above, stay.below))
    if drive_w_m2 <= 0:
        return None
    return density_kg_m3 * body.across_mm / 1000 * FIRM_KJ_PER_KG * 1000 / drive_w_m2 / 60


def firm_after_min(trace: Trace, body: Body, density_kg_m3: float, stay: Stay) -> float | None:
    """Minutes of a trace until its sheet is frozen firm; None where it never is. [kg/m³, min]"""
    down = first_crossing(trace.minutes, trace.mean_c, FROZEN_C + 1e-6)
    down = 0.0 if trace.mean_c[0] <= FROZEN_C + 1e-6 else down
    plateau = plateau_min(body, density_kg_m3, stay)
    return None if down is None or plateau is None else down + plateau
