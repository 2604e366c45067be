"""Serve the application with waitress, four threads, and print where."""

from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandParser


class Command(BaseCommand):
    help = "Serve the application."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, host: str, port: int, **options: Any) -> None:
        from waitress import serve

        from northfold.config.wsgi import application
        from northfold.core.formula.reading import read_recipe

        read_recipe("1 cup flour")  # loads the unit tables now, not at the first paste
        self.stdout.write(f"North Fold is at http://{host}:{port}/")
        if settings.DEMO:
            for user in get_user_model().objects.order_by("pk"):
                self.stdout.write(
                    f"  sign in as {user.called} ({user.role}): {user.username} / harbour-{user.username}"
                )
        self.stdout.flush()
        serve(application, host=host, port=port, threads=4, ident="")
