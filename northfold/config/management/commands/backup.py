"""Copy the database while it is in use."""

import sqlite3
from contextlib import closing, suppress
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.db import DatabaseError, connection
from django.utils import timezone

from northfold.config.data_folder import folder, keep_names, private_file
from northfold.config.restoring import free_name
from northfold.web import audit


class Command(BaseCommand):
    help = "Write a whole, consistent copy of the kitchen's data."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", nargs="?", default=str(settings.DATA_DIR / "backups"))

    def handle(self, *args: Any, **options: Any) -> None:
        target = free_name(folder(Path(options["folder"])) / f"northfold-{timezone.localtime():%Y%m%d-%H%M%S}.sqlite3")
        draft = target.with_name(f".{target.name}.part")
        try:
            connection.ensure_connection()
            with closing(sqlite3.connect(private_file(draft))) as copy:
                connection.connection.backup(copy)
                copy.execute("PRAGMA journal_mode=DELETE")  # one file, whole in itself
            draft.replace(target)
            keep_names(target.parent)
        finally:
            draft.unlink(missing_ok=True)
        with suppress(DatabaseError):  # data that cannot be written to can still be saved
            audit.record(audit.Kind.BACKED_UP, target.name)
        self.stdout.write(f"Saved {target}. To put it back: make restore FILE={target}")
