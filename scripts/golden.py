"""
Keep a database of the present version for the tests of later ones: every planned make of the demo begun, drafts open.

    python scripts/golden.py NAME      writes tests/golden/landed-NAME.sqlite3.xz
    python scripts/golden.py pages     writes the figures of every page anew, see tests/pages.py

The first before a version lands that changed what plans, drafts or rows hold, the second where figures are meant to be
others than before.
"""

import contextlib
import lzma
import os
import sqlite3
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
# Finished makes are much alike; a few tell as much as many.
FINISHED_KEPT = 3


def fill(data: Path) -> None:
    os.environ.update(NORTHFOLD_DATA=str(data), DJANGO_SETTINGS_MODULE="northfold.config.settings")
    import django

    django.setup()
    from django.contrib.auth import get_user_model
    from django.core.management import call_command

    from northfold.demo.bakehouse import build
    from northfold.dough import editing
    from northfold.dough import services as dough
    from northfold.dough.models import Formula
    from northfold.makes.models import Make
    from northfold.makes.services import start_make

    call_command("migrate", verbosity=0)
    build()
    for make in Make.objects.filter(state=Make.State.PLANNED):
        start_make(make)
    head, formula = get_user_model().objects.get(username="runa"), Formula.objects.order_by("pk").first()
    draft = dough.open_draft(head, formula)
    dough.edit_draft(head, formula, draft.edit_no, {**draft.payload, "name": f"{formula.name}, softer"})
    draft = dough.open_draft(head, None)
    lines = "250 g flour\n125 g butter\n1 egg\n2 tbsp cold water\nsome lupin meal"
    payload = editing.paste({**editing.empty_payload("metric"), "name": "Not in the book"}, lines)
    dough.edit_draft(head, None, draft.edit_no, payload)


def trim(file: Path) -> None:
    """Take most finished makes out, with all that hangs on them."""
    with contextlib.closing(sqlite3.connect(file, isolation_level=None)) as found:
        rows = found.execute("select id from makes_make where state = 'finished' order by id").fetchall()
        gone = ",".join(str(number) for (number,) in rows[FINISHED_KEPT:])
        results = f"select id from records_result where make_id in ({gone})"
        for table, of in (
            ("records_measure", f"result_id in ({results})"),
            ("records_faultmark", f"result_id in ({results})"),
            ("records_result", f"make_id in ({gone})"),
            ("bench_benchevent", f"make_id in ({gone})"),
            ("makes_frozenplan", f"make_id in ({gone})"),
            ("makes_makefacts", f"make_id in ({gone})"),
            ("makes_makeitem", f"make_id in ({gone})"),
            ("makes_stepedit", f"make_id in ({gone})"),
            ("makes_make", f"id in ({gone})"),
        ):
            found.execute(f"delete from {table} where {of}")
        assert not found.execute("pragma foreign_key_check").fetchall()
        found.execute("pragma journal_mode = delete")
        found.execute("vacuum")


def write_pages() -> None:
    """The figures of every page of the kept demo, by the code as it is."""
    with tempfile.TemporaryDirectory() as data:
        os.environ.update(NORTHFOLD_DATA=data, DJANGO_SETTINGS_MODULE="tests.settings")
        import django

        django.setup()
        import time_machine
        from django.contrib.auth import get_user_model
        from django.core.management import call_command
        from django.db import connection
        from django.test import Client
        from django.test.utils import setup_test_environment

        from tests import pages

        setup_test_environment()
        file = Path(data) / "pages.sqlite3"
        file.write_bytes(pages.demo())
        connection.settings_dict["NAME"] = str(file)
        call_command("migrate", verbosity=0)
        with time_machine.travel(pages.MOMENT, tick=False):
            client = Client()
            client.force_login(get_user_model().objects.get(username="runa"))
            found = pages.read(client)
        connection.close()
    before = pages.as_they_were()
    moved = [address for address in found if found[address] != before.get(address)]
    pages.write(found)
    print(f"{len(found)} pages, {len(moved)} with other figures than before: {', '.join(moved[:12])}")


def main() -> None:
    if sys.argv[1] == "pages":
        write_pages()
        return
    target = ROOT / "tests/golden" / f"landed-{sys.argv[1]}.sqlite3.xz"
    with tempfile.TemporaryDirectory() as data:
        fill(Path(data))
        from django.db import connection

        connection.close()
        trim(Path(data) / "northfold.sqlite3")
        target.write_bytes(lzma.compress((Path(data) / "northfold.sqlite3").read_bytes(), preset=9))
    print(f"{target.relative_to(ROOT)}, {target.stat().st_size / 1000:.0f} kB")


if __name__ == "__main__":
    main()
