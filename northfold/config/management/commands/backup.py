"""Copy the database while it is in use."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from northfold.config import backups
from northfold.config.data_folder import folder


class Command(BaseCommand):
    help = "Write a whole, consistent copy of the kitchen's data."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", nargs="?", default=str(settings.DATA_DIR / "backups"))

    def handle(self, *args: Any, **options: Any) -> None:
        target = backups.save(folder(Path(options["folder"])))
        self.stdout.write(f"Saved {target}. To put it back: make restore FILE={target}")
