"""Bring the data up to date and serve it with waitress; print where."""

import errno
import os
import sys
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from northfold.bench.stand_ins import stand_ins
from northfold.config import backups
from northfold.config.data_folder import Claim, DataFault
from northfold.config.readiness import get_ready
from northfold.config.serving import serve_until_asked
from northfold.day.following import Follower
from northfold.demo.bakehouse import build, demo_password
from northfold.devices.stand_ins.pages import StandIns
from northfold.web.accounts import first_code
from northfold.web.accounts.sessions import forget_expired

CANNOT_LISTEN = (errno.EADDRINUSE, errno.EADDRNOTAVAIL, errno.EACCES)
# Where the stand-ins of the demo are driven.
STAND_INS_AT = 8710
# Of what a proxy says, the two that are believed of a trusted one.
PROXY_HEADERS = {"x-forwarded-for", "x-forwarded-proto"}


class Command(BaseCommand):
    help = "Serve the application."
    # `make test` runs them; here they would only keep the kitchen waiting.
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, host: str, port: int, **options: Any) -> None:
        if settings.HTTPS and not settings.TRUSTED_PROXY:
            raise CommandError(
                "NORTHFOLD_HTTPS needs NORTHFOLD_PROXY as well: the address that your proxy comes from, 127.0.0.1 "
                "where it runs on this machine. Of nobody else is it believed that a visitor came over HTTPS."
            )
        came = backups.restore_asked()
        if came:
            self.stdout.write(came)
        try:
            with Claim(settings.DATA_DIR, f"A server on http://{host}:{port}/", may_be_stopped=True):
                begins_again = self._serve(host, port)
        except DataFault as error:
            raise CommandError(str(error)) from error
        except OSError as error:
            if error.errno not in CANNOT_LISTEN:
                raise
            raise CommandError(
                f"Nothing can listen on {host}:{port}: {error.strerror}. Name another port, such as PORT={port + 1}."
            ) from error
        if begins_again:
            # Anew from its first line: nothing of the old data is left in memory, nothing holds it open.
            self.stdout.flush()
            os.execv(sys.executable, sys.orig_argv)

    def _serve(self, host: str, port: int) -> bool:
        get_ready()
        from northfold.config.wsgi import application  # finds the static files that were collected just now

        if settings.DEMO:
            build()
        forget_expired()
        settings.FIRST_CODE_ASKED = settings.FIRST_CODE_ASKED or not first_code.is_this_machine(host)
        self.stdout.write(f"North Fold is at http://{host}:{port}/")
        self._print_sign_ins()
        self.stdout.flush()
        connection.close()
        proxy = {"trusted_proxy": settings.TRUSTED_PROXY, "trusted_proxy_headers": PROXY_HEADERS}
        keeper = backups.Keeper()
        keeper.start()
        follower = Follower()
        follower.start()
        more = proxy if settings.TRUSTED_PROXY else {}
        standing = self._stand_ins(port) if settings.DEMO else None
        begins_again = serve_until_asked(application, host=host, port=port, ident="", **more)
        keeper.ends.set()
        follower.ends.set()
        if standing is not None:
            standing.stop()
        self.stdout.write("Begins again." if begins_again else "Stopped. Everything is saved.")
        return begins_again

    def _stand_ins(self, port: int) -> StandIns:
        """The devices of the demo bakehouse; their pages at any port that is free where their own is taken."""
        try:
            found = stand_ins(f"http://127.0.0.1:{port}", STAND_INS_AT)
        except OSError:
            found = stand_ins(f"http://127.0.0.1:{port}", 0)
        connection.close()
        found.start()
        self.stdout.write(f"  its scale, probe, room sensor and label printer are driven at {found.address}")
        self.stdout.flush()
        return found

    def _print_sign_ins(self) -> None:
        people = get_user_model().objects.order_by("pk")
        if settings.DEMO:
            for user in people:
                password = demo_password(user.username)
                self.stdout.write(f"  sign in as {user.called} ({user.role}): {user.username} / {password}")
        elif settings.FIRST_CODE_ASKED and not people.exists():
            file = Path(settings.DATA_DIR) / "first-code"
            self.stdout.write(f"  the first account asks for this code: {first_code.code()} (also in {file})")
