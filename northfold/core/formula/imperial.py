"""Weights, lengths and temperatures as an imperial kitchen says them."""

from fractions import Fraction

from northfold.core.formula.typed import INCH_MM, OUNCE_G

# Rulers in inches are divided so finely, coarser from a foot on. [in]
FINE_IN, COARSE_IN, COARSE_FROM_IN = Fraction(1, 16), Fraction(1, 8), 12
# Thinner than this no ruler tells: it is said as a decimal. [in]
NO_RULER_IN = Fraction(1, 32)
OUNCES_A_POUND = 16
# From this heat on an oven's dial is said in steps of five. [°F]
OVEN_FROM_F = 200.0


def in_ounces(grams: float) -> str:
    """A weight: 0.25 oz, 10.7 oz, 3 lb 10.6 oz. [g]"""
    ounces = grams / OUNCE_G
    if round(abs(ounces), 2) < 1:
        return f"{ounces:.2f} oz"
    tenths = round(abs(ounces) * 10)
    pounds, rest = divmod(tenths, 10 * OUNCES_A_POUND)
    sign = "-" if ounces < 0 else ""
    said = f"{rest / 10:.1f}".removesuffix(".0") + " oz"
    if not pounds:
        return f"{sign}{said}"
    return f"{sign}{pounds} lb" + (f" {said}" if rest else "")


def in_inches(length_mm: float) -> str:
    """A length to the sixteenth of an inch: 1/8 in, 9 1/16 in; a decimal where no ruler tells it. [mm]"""
    inches = length_mm / INCH_MM
    if inches < NO_RULER_IN:
        return f"{inches:.2g} in"
    step = FINE_IN if inches < COARSE_FROM_IN else COARSE_IN
    nearest = round(inches / step) * step
    whole, part = divmod(nearest, 1)
    fraction = f"{part.numerator}/{part.denominator}" if part else ""
    return f"{' '.join(each for each in (str(whole) if whole or not part else '', fraction) if each)} in"


def in_fahrenheit(celsius: float, *, difference: bool = False) -> str:
    """A temperature, or a difference of two, in whole °F; an oven's in steps of five. [°C or K]"""
    value = celsius * 1.8 + (0 if difference else 32)
    if value >= OVEN_FROM_F and not difference:
        return f"{round(value / 5) * 5} °F"
    return f"{round(value)} °F"
