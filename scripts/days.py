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

    from northfold.day.building import build
    from northfold.demo.days import forty, ordinary, saturday
    from northfold.formats.day_plan import day_plan_file

    rows = []
    for name, made in (("ordinary", ordinary), ("saturday", saturday), ("forty", forty)):
        on = made()
        built = build(on, timezone.now())
        told, planned, took = _planned(built)
        file = day_plan_file(planned, built.zero, timezone.localtime())
        if write:
            (ROOT / "docs/days").mkdir(exist_ok=True)
            text = json.dumps(
                json.loads(file.model_dump_json(by_alias=True)), ensure_ascii=False, separators=(",", ":")
            )
            (ROOT / "docs/days" / f"{name}.json").write_text(text + "\n", encoding="utf-8")
        score, first = planned.score, planned.first
        bound = "–" if planned.bound_late is None else f"{planned.bound_late}"
        row = (
            name, len(built.day.makes), len(built.day.tasks), f"{told:.1f} s", f"{took:.1f} s", first.late_min,
            score.late_min, bound, first.age_min, score.age_min, score.oven_changes,
        )  # fmt: skip
        rows.append(f"| {' | '.join(str(each) for each in row)} |")
    return rows


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
