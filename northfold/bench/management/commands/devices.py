"""Stand-ins for a scale, a probe, a room sensor and a label printer, until they are stopped."""

import time
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from northfold.bench.stand_ins import stand_ins


class Command(BaseCommand):
    help = "Run stand-ins for a scale, a probe, a room sensor and a label printer of a server of this kitchen."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--server", default="http://127.0.0.1:8000")
        parser.add_argument("--port", type=int, default=8710)
        parser.add_argument("--seed", type=int, default=1, help="what is hidden of their kitchen is drawn by it")
        parser.add_argument("--level", type=int, default=1, choices=(1, 2, 3), help="how far off it may be")

    def handle(self, *args: Any, server: str, port: int, seed: int, level: int, **options: Any) -> None:
        found = stand_ins(server, port, seed, level)
        found.start()
        self.stdout.write(f"Scale, probe, room sensor and label printer of {server}; drive them at {found.address}")
        self.stdout.flush()
        try:
            while True:
                time.sleep(3600)
        except KeyboardInterrupt:
            found.stop()
