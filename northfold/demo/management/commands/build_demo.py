"""Fill an empty installation with the demo bakehouse."""

from typing import Any

from django.core.management.base import BaseCommand

from northfold.demo.bakehouse import build


class Command(BaseCommand):
    help = "Build the demo bakehouse; does nothing where there are accounts already."

    def handle(self, *args: Any, **options: Any) -> None:
        build()
