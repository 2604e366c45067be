"""Another database in the place of the tests' own, brought up to date: how the code of now reads data of before."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.core.management import call_command
from django.db import connection

from northfold.core.method.plan import _reckon
from northfold.kitchen.middleware import shown_units
from northfold.kitchen.queries import revisions_of
from northfold.web.templatetags.drawn import _drawn


def forget() -> None:
    """Everything that is kept from one request to the next, as on a server that has just begun."""
    for kept in (revisions_of, shown_units):
        kept.cache_clear()
    _reckon.known.clear()
    _drawn.clear()


@contextmanager
def in_place_of_ours(data: bytes, file: Path) -> Iterator[None]:
    """Work on this database, written to a file, for so long."""
    ours = connection.settings_dict["NAME"]
    file.write_bytes(data)
    connection.close()
    connection.settings_dict["NAME"] = str(file)
    forget()
    call_command("migrate", verbosity=0)
    try:
        yield
    finally:
        connection.close()
        connection.settings_dict["NAME"] = ours
        forget()
