"""Put a backup in the place of the kitchen's data."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import CommandError, call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone

from northfold.config import restoring
from northfold.config.data_folder import DataFault, claim_from_server
from northfold.web import audit
from northfold.web.accounts.sessions import end_all_sessions


class Command(BaseCommand):
    help = "Check a backup, keep the data as it is beside it, and put the backup in its place."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", help="The copy that `make backup` wrote")

    def handle(self, *args: Any, file: str, **options: Any) -> None:
        source, data = Path(file), Path(str(settings.DATABASES["default"]["NAME"]))
        if source.exists() and data.exists() and source.samefile(data):
            raise CommandError(f"{source} is the data itself. Name a backup of it.")
        fresh = data.with_name(f".{data.name}-restoring")
        try:
            with claim_from_server(settings.DATA_DIR, "A restore"):
                self._restore(source, fresh, data)
        except DataFault as error:
            raise CommandError(str(error)) from error
        finally:
            for end in ("", *restoring.LOGS):
                fresh.with_name(fresh.name + end).unlink(missing_ok=True)

    def _restore(self, source: Path, fresh: Path, data: Path) -> None:
        fresh.unlink(missing_ok=True)
        restoring.take_copy(source, fresh)
        try:
            found = restoring.examine(fresh, MigrationLoader(None, ignore_no_migrations=True).disk_migrations)
        except restoring.BadCopy as error:
            raise restoring.BadCopy(source, error.why) from error
        self.stdout.write(f"{source} is sound: {found.words}.")
        kept_name = connection.settings_dict["NAME"]
        connection.close()
        connection.settings_dict["NAME"] = str(fresh)
        try:
            call_command("migrate", verbosity=0)
            end_all_sessions()
            audit.record(audit.Kind.RESTORED, f"from {source.name}: {found.words}")
        finally:
            connection.close()
            connection.settings_dict["NAME"] = kept_name
        kept = restoring.keep_beside(data, timezone.localtime())
        restoring.put_in_place(fresh, data)
        if kept:
            self.stdout.write(f"What was there before is kept as {kept}.")
        self.stdout.write("Restored. Everybody has to sign in again. Start the server again with make run.")
