"""What came of makes, as a file for who wants to reckon with it."""

from typing import Literal

from northfold.formats.files import Open
from northfold.formats.kitchen import ResultFile


class FoundFile(ResultFile):
    """A result, with what it is of; `stands` says whether no later one corrects it. Shrink of the length. [%]"""

    make: str
    formula: str
    version: int
    tin: str
    stands: bool
    shrink_predicted_percent: float | None
    shrink_measured_percent: float | None


class ResultsFile(Open):
    """Results, the oldest first."""

    format: Literal["northfold/results/1"] = "northfold/results/1"
    results: tuple[FoundFile, ...]
