"""Copy the database while it is in use."""

import sqlite3
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection
from django.utils import timezone


class Command(BaseCommand):
    help = "Write a whole, consistent copy of the kitchen's data."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", nargs="?", default=str(settings.DATA_DIR / "backups"))

    def handle(self, *args: Any, folder: str, **options: Any) -> None:
        target = Path(folder) / f"northfold-{timezone.localtime():%Y%m%d-%H%M%S}.sqlite3"
        target.parent.mkdir(parents=True, exist_ok=True)
        connection.ensure_connection()
        with sqlite3.connect(target) as copy:
            connection.connection.backup(copy)
        self.stdout.write(
            f"Saved {target}. To restore, stop the server and put it back as {settings.DATABASES['default']['NAME']}."
        )
