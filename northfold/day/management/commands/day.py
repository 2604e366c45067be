"""Plan a day from the command line: `manage.py day 2026-12-05`."""

from argparse import ArgumentParser
from datetime import date
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from northfold.day.building import taken, zero_of
from northfold.day.queries import bound_says, verdict
from northfold.day.searching import search
from northfold.day.services import take
from northfold.formats.day_plan import day_plan_file
from northfold.web.permissions import Role


class Command(BaseCommand):
    help = "Plan the makes of a date; says how late what is, or writes the plan as JSON."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("date", help="such as 2026-12-05")
        parser.add_argument("--json", action="store_true", help="write the plan as an open file")
        parser.add_argument("--take", action="store_true", help="take the plan that is found")
        parser.add_argument("--kept", action="store_true", help="the plan that was taken, without a search")
        parser.add_argument("--seconds", type=float, default=12.0, help="how long is searched")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            on = date.fromisoformat(options["date"])
        except ValueError:
            raise CommandError(f"{options['date']} is no date. Write it like 2026-12-05.") from None
        planned, at = None, timezone.now()
        if options["kept"]:
            plan = taken(on)
            if plan is None:
                raise CommandError(f"No plan of {on} was taken yet.")
            planned, at = plan.planned, plan.at
        else:
            found = search(on, seconds=options["seconds"], in_turn=True)
            planned = found.planned
            if planned is None:
                raise CommandError(found.why or "No plan was found in that time. Give it more --seconds.")
            if options["take"]:
                take(get_user_model().objects.filter(role=Role.HEAD).order_by("pk")[0], on)
        if options["json"]:
            file = day_plan_file(planned, zero_of(on), timezone.localtime(at))
            self.stdout.write(file.model_dump_json(by_alias=True, indent=2))
            return
        self.stdout.write(f"{verdict(planned)} {bound_says(planned)}".strip())
        for make in sorted(planned.day.makes, key=lambda each: each.due):
            late = planned.laid.late(make)
            self.stdout.write(f"  {make.name}: {f'{late} min late' if late else 'in time'}")
