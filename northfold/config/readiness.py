"""
What a server does before it listens, each only where something changed: so it is up in seconds the second time.

The style sheets and scripts are collected under names that carry their contents and compressed; the data is brought up
to date; the heat conduction is compiled.
"""

import hashlib
from collections.abc import Iterator
from pathlib import Path
from threading import Thread

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from northfold.core.formula.reading import read_recipe
from northfold.core.heat.compiled import compile_now
from northfold.dough.services import renew_facts as renew_versions
from northfold.kitchen.learning import rebuild as rebuild_learning
from northfold.makes.facts import renew as renew_makes

# In the folder of what was collected: what it was collected from.
MARK = "collected-from"


def get_ready() -> None:
    """Everything that must stand before the first request."""
    collect_static()
    bring_data_up()
    compile_now()
    # The unit tables are loaded meanwhile, before anybody has pasted a recipe.
    Thread(target=read_recipe, args=("1 cup flour",), daemon=True).start()


def _sources() -> Iterator[str]:
    """Every static file of the house by name, size and time, and how they are stored."""
    yield str(settings.STORAGES["staticfiles"])
    for finder in get_finders():
        for name, storage in finder.list([]):
            found = Path(storage.path(name)).stat()
            yield f"{name} {found.st_size} {found.st_mtime_ns}"


def collect_static() -> bool:
    """Collect and compress static files where any is another than was collected last; says whether it did."""
    if settings.DEBUG:
        return False
    mark = Path(settings.STATIC_ROOT) / MARK
    made_of = hashlib.sha256("\n".join(sorted(_sources())).encode()).hexdigest()
    if mark.exists() and mark.read_text() == made_of:
        return False
    call_command("collectstatic", interactive=False, verbosity=0)
    mark.write_text(made_of)
    return True


def bring_data_up() -> None:
    """Apply migrations where there are any to apply; what is kept of plans and evidence is renewed in either case."""
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        call_command("migrate", verbosity=0)
    else:
        renew_versions()
        rebuild_learning()
        renew_makes()
