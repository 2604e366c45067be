"""
Days to hold the planner against: the demo's makes on an ordinary day, its Saturday, forty makes in one day.

`python scripts/days.py` plans each, writes it to docs/days as an open file, and prints a table for docs/bench.md.
"""

import json
import os
import sys
import tempfile
from datetime import datetime
from pathlib import Path
from time import perf_counter

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
# Always the same week.
NOW = "2026-11-30T08:00:00+00:00"
SECONDS = 20.0


def main(write: bool = True) -> list[str]:
    """Plan the three days; answers the rows of the table."""
    with tempfile.TemporaryDirectory() as data:
        os.environ |= {
            "NORTHFOLD_DATA": data,
            "NORTHFOLD_DEMO": "1",
            "DJANGO_SETTINGS_MODULE": "northfold.config.settings",
        }
        import django

        django.setup()
        import time_machine
        from django.core.management import call_command

        with time_machine.travel(datetime.fromisoformat(NOW), tick=True):
            call_command("migrate", verbosity=0)
            call_command("build_demo", verbosity=0)
            return _days(write)


def _days(write: bool) -> list[str]:
    from django.utils import timezone

    from northfold.day.building import build, zero_of
    from northfold.day.searching import search
    from northfold.demo.days import forty, ordinary, saturday

    rows = []
    for name, made in (("ordinary", ordinary), ("saturday", saturday), ("forty", forty)):
        built = build(made(), timezone.now())
        told, planned, took = _planned(built)
        if write:
            _write(name, planned, built.zero)
        rows.append(_row(name, planned, f"{told:.1f} s", took))
    # The same Saturday, its makes free to go other ways.
    on, begun = saturday(), perf_counter()
    planned = search(on, seconds=SECONDS, in_turn=True).planned
    if write:
        _write("saturday-other-ways", planned, zero_of(on))
    return [*rows[:2], _row("saturday, other ways", planned, "", perf_counter() - begun), rows[2]]


def _write(name, planned, zero) -> None:
    """Keep a plan as an open file."""
    from django.utils import timezone

    from northfold.formats.day_plan import day_plan_file

    told = json.loads(day_plan_file(planned, zero, timezone.localtime()).model_dump_json(by_alias=True))
    (ROOT / "docs/days").mkdir(exist_ok=True)
    text = json.dumps(told, ensure_ascii=False, separators=(",", ":"))
    (ROOT / "docs/days" / f"{name}.json").write_text(text + "\n", encoding="utf-8")


def _row(name, planned, told: str, took: float) -> str:
    """A row of the table."""
    score, first, day = planned.score, planned.first, planned.day
    bound = "–" if planned.bound_late is None else f"{planned.bound_late}"
    row = (
        name, len(day.makes), len(day.tasks), told, f"{took:.1f} s", first.late_min, score.late_min, bound,
        first.age_min, score.age_min, score.oven_changes,
    )  # fmt: skip
    return f"| {' | '.join(str(each) for each in row)} |"


def _planned(built):
    """When the first plan was told, the plan, how long it took. [s]"""
    from northfold.core.day.planning import plan_day
    from northfold.core.day.solver import Limits

    begun, told = perf_counter(), []
    planned = plan_day(built.day, Limits(SECONDS), lambda each: told.append(perf_counter() - begun))
    return told[0], planned, perf_counter() - begun


HEAD = (
    "| day | makes | tasks | first plan | took | late, one by one | late | proved at best | early, one by one | early "
    "| oven changes |\n"
    "|---|---|---|---|---|---|---|---|---|---|---|"
)

if __name__ == "__main__":
    print(HEAD)
    print("\n".join(main()))
