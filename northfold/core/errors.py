"""Errors of the core. Each carries its data and writes its own sentence: what is wrong, and what would be right."""


class CoreError(ValueError):
    """A rule of the job was broken. `code` names the rule, the message is fit to show a baker."""

    code = "core"


class OutsideRange(CoreError):
    """A number is outside the range for which it has a meaning."""

    code = "outside_range"

    def __init__(self, what: str, value: float, low: float, high: float, unit: str = "") -> None:
        self.what, self.value, self.low, self.high, self.unit = what, value, low, high, unit
        unit = f" {unit}" if unit else ""
        super().__init__(
            f"{what} {value:,.10g}{unit} is outside {low:g} to {high:g}{unit}. Give a number between those."
        )


class NotANumber(CoreError):
    """Text stands where a number belongs."""

    code = "not_a_number"

    def __init__(self, text: str, what: str = "weight", example: str = "420") -> None:
        self.text = text
        super().__init__(f"“{text}” is not a {what}. Write a number, such as {example}.")


class NegativeWeight(CoreError):
    """A weight is below zero."""

    code = "negative_weight"

    def __init__(self, grams: float) -> None:
        self.grams = grams
        super().__init__(f"{grams:g} g is below zero. Write {abs(grams):g} g, or 0 to leave it out.")


class NoFlour(CoreError):
    """Percentages and ratios need a flour weight to stand on."""

    code = "no_flour"

    def __init__(self) -> None:
        super().__init__("No flour: every percentage is counted from it. Add a line such as 420 g plain flour.")


class TinShapeError(CoreError):
    """The measures of a tin contradict each other."""

    code = "tin_shape"


class PasteTooLong(CoreError):
    """More text than one recipe can be."""

    code = "paste_too_long"

    def __init__(self, count: int, limit: int, unit: str) -> None:
        self.count, self.limit, self.unit = count, limit, unit
        super().__init__(
            f"That is {count:,} {unit}; one recipe can have {limit:,}. Paste one dough at a time, without its story."
        )
