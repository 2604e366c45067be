"""Fill an empty installation with years of the demo bakehouse's records, to see what they do to the pages."""

import time
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError, CommandParser

from northfold.demo.years import Size, build_years


class Command(BaseCommand):
    help = "Build the demo bakehouse with five years of records, or with so many makes of them."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--makes", type=int, default=Size.makes, help="How many makes; everything else in proportion"
        )

    def handle(self, *args: Any, makes: int, **options: Any) -> None:
        if makes < 1:
            raise CommandError(f"--makes is {makes}: write a number from 1, such as {Size.makes}.")
        if get_user_model().objects.exists() and not settings.DEMO:
            raise CommandError(
                "Somebody has an account here, so these are a kitchen's own records. Years are only built where "
                "NORTHFOLD_DATA names an empty folder, or with NORTHFOLD_DEMO=1."
            )
        begun = time.monotonic()
        build_years(Size.of(makes))
        self.stdout.write(f"{makes} makes and what belongs to them, in {time.monotonic() - begun:.0f} s.")
