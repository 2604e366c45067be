"""The JSON Schemas of the formats, as they are published under /formats/ and kept in docs/formats."""

import json
from functools import cache
from typing import Any

from northfold.formats.day import DayFile
from northfold.formats.day_plan import DayPlanFile
from northfold.formats.device import ReadingFile
from northfold.formats.files import Open
from northfold.formats.formula import FormulaFile
from northfold.formats.kitchen import KitchenFile
from northfold.formats.plan import PlanFile
from northfold.formats.results import ResultsFile

# By the name under which each is published.
KINDS: dict[str, type[Open]] = {
    "formula": FormulaFile,
    "plan": PlanFile,
    "kitchen": KitchenFile,
    "day": DayFile,
    "day-plan": DayPlanFile,
    "results": ResultsFile,
    "reading": ReadingFile,
}


@cache
def schema(name: str) -> dict[str, Any]:
    """The schema of a format, JSON Schema 2020-12. Raises KeyError where there is none of that name."""
    kind = KINDS[name]
    found = kind.model_json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"northfold/{name}/1",
        **found,
    }


def schema_text(name: str) -> str:
    """The same as the text of a file."""
    return json.dumps(schema(name), indent=2, ensure_ascii=False) + "\n"
