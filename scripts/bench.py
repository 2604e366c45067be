"""
Times of the main views at the server, on the demo's data and on five years of it, and our lists beside the admin's.

CPU is what the process itself used, as on a machine at its full speed; wall time stands beside it as it was. Words on
the command line choose the rows whose names hold one of them.
"""

import json
import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from itertools import count
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
ROUNDS, WARM, GROWTH_ROUNDS = 40, 5, 15
# After so many makes. The first is the demo as it is.
GROWTH = (0, 100, 1_000, 6_000)
# What the pages took before anything was kept, in the same order as `pages`.
BEFORE = json.loads((Path(__file__).parent / "bench_before.json").read_text())
Job = Callable[[], object]


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        os.environ.update(NORTHFOLD_DATA=data, NORTHFOLD_DEBUG="", DJANGO_SETTINGS_MODULE="scripts.bench_settings")
        import django

        django.setup()
        from django.conf import settings
        from django.core.management import call_command
        from django.db import connection

        settings.DATABASES["default"]["NAME"] = connection.settings_dict["NAME"] = str(Path(data) / "bench.sqlite3")
        settings.ALLOWED_HOSTS.append("testserver")
        call_command("migrate", verbosity=0)
        report()
    print(
        "\n## Days\n\nEach searched for 20 s on two cores; late in weighted minutes, early in minutes before a make is"
    )
    print("due. The plans are in docs/days.\n", flush=True)
    subprocess.run([sys.executable, str(ROOT / "scripts/days.py")], check=True)


def numbered(job: Callable[[int], object]) -> Job:
    """A job that is told how often it was done, so that no edit is the same twice."""
    turns = count()
    return lambda: job(next(turns))


def timed(job: Job, rounds: int, warm: int = WARM) -> tuple[list[float], list[float]]:
    """Wall and CPU of a job, round by round, the CPU as on a machine at its full speed. [ms]"""
    for _ in range(warm):
        job()
    wall, cpu = [], []
    for _ in range(rounds):
        slower = yardstick() / STEADY_MS
        begun, used = time.perf_counter(), time.process_time()
        job()
        wall.append(1000 * (time.perf_counter() - begun))
        cpu.append(1000 * (time.process_time() - used) / slower)
    return wall, cpu


# A loop that is timed before each round, and what it takes where nothing else runs. [ms]
LOOP, STEADY_MS = 60_000, 2.4


def yardstick() -> float:
    """The CPU that a fixed piece of work takes now: a shared machine gives half its speed, and does not say so. [ms]"""
    begun, total = time.process_time(), 0
    for number in range(LOOP):
        total += number
    return 1000 * (time.process_time() - begun)


def wanted(name: str) -> bool:
    return not sys.argv[1:] or any(word.lower() in name.lower() for word in sys.argv[1:])


def pages() -> dict[str, str]:
    """The pages whose growth is watched, by their addresses in the demo."""
    from northfold.kitchen.models import Ingredient

    flour = Ingredient.objects.get(name="plain flour").pk
    return {
        "Makes": "/", "Makes, finished": "/?state=finished", "Makes, searched": "/?order=name&q=tart",
        "Today": "/today/", "Dough": "/makes/1/dough/", "Size": "/makes/1/size/", "Steps": "/makes/1/steps/",
        "Cold": "/makes/1/cold/", "Cold, what is asked": "/makes/1/cold/answers/", "Fold": "/makes/38/fold/",
        "Bake": "/makes/1/bake/", "Fill": "/makes/30/fill/", "Weigh sheet": "/makes/1/weigh/", "Bench": "/bench/21/",
        "Bench, something new": "/bench/21/state/?seq=0", "Bench, how it went": "/bench/7/",
        "Result": "/makes/7/result/", "How we reckon": "/kitchen/how-we-reckon/",
        "Formulas using an ingredient": f"/book/using/{flour}/", "Book": "/book/", "Book, searched": "/book/?q=tart",
        "Formula": "/book/1/", "New dough": "/book/new/", "Cold store": "/cold-store/", "Kitchen": "/kitchen/",
        "Ingredients": "/kitchen/ingredients/", "Ingredient": f"/kitchen/ingredients/{flour}/",
        "Places": "/kitchen/places/", "People": "/kitchen/people/", "Week": "/week/",
        "Who did what": "/kitchen/record/",
    }  # fmt: skip


def report() -> None:
    """The three tables."""
    from django.contrib.auth import get_user_model
    from django.test import Client

    from northfold.core.method.plan import _reckon
    from northfold.demo.bakehouse import build
    from northfold.demo.years import Size, build_years

    build()
    head = get_user_model().objects.get(username="runa")
    client = Client()
    client.force_login(head, backend="django.contrib.auth.backends.ModelBackend")
    keep_demo()
    jobs = {name: numbered(job) for name, job in work(client, head).items() if wanted(name)}
    demo = {name: timed(job, ROUNDS) for name, job in jobs.items()}
    growth: dict[str, list[tuple[float, int, int]]] = {}
    for makes in GROWTH:
        if makes:
            afresh()
            build_years(Size.of(makes))
        for name, address in pages().items():
            if wanted(name):
                growth.setdefault(name, []).append(page(client, address))
    _reckon.known.clear()  # else the second time its plans would be kept from the first
    again = {name: numbered(job) for name, job in work(client, head).items() if name in jobs}
    years = {name: timed(job, ROUNDS) for name, job in again.items() if not name.startswith(CORE)}
    print("# Times at the server\n")
    print(
        f"`make bench`: ms, one process, {ROUNDS} rounds after {WARM}. CPU is what the process used, scaled each time"
    )
    print(f"by a loop that takes {STEADY_MS} ms at full speed; wall time is as it was, longer where the machine had")
    print("other work or gave less.\n")
    print("| what | demo, median | 95th percentile | CPU | five years, median | CPU | CPU, years ÷ demo |")
    print("|---|---:|---:|---:|---:|---:|---:|")
    for name, (wall, cpu) in demo.items():
        row = [middle(wall), statistics.quantiles(wall, n=20)[-1], middle(cpu)]
        words = [f"{value:.1f}" for value in row]
        if name in years:
            then, used = years[name]
            words += [f"{middle(then):.1f}", f"{middle(used):.1f}", f"{middle(used) / middle(cpu):.2f}"]
        else:
            words += ["", "", ""]
        print(f"| {name} | {' | '.join(words)} |")
    print_growth(growth)
    print_lists(client)


def keep_demo() -> None:
    """Put a copy of the demo's data aside."""
    from django.db import connection

    connection.close()
    name = str(connection.settings_dict["NAME"])
    shutil.copy(name, f"{name}-demo")


def afresh() -> None:
    """Go back to the demo's data."""
    from django.db import connection

    connection.close()
    name = str(connection.settings_dict["NAME"])
    for log in ("-wal", "-shm"):
        Path(name + log).unlink(missing_ok=True)
    shutil.copy(f"{name}-demo", name)


middle = statistics.median
# Rows of the core alone: no data moves them.
CORE = ("Heat", "400 lines")


def page(client: Any, address: str) -> tuple[float, int, int]:
    """CPU of a page [ms], its queries, its bytes."""
    from django.db import connection

    asked: list[str] = []

    def heard(execute: Any, sql: str, params: Any, many: bool, context: Any) -> Any:
        asked.append(sql)
        return execute(sql, params, many, context)

    _, cpu = timed(lambda: client.get(address), GROWTH_ROUNDS, warm=2)
    with connection.execute_wrapper(heard):
        answer = client.get(address)
    assert answer.status_code == 200, (address, answer.status_code)
    return middle(cpu), len(asked), len(answer.content)


def print_growth(growth: dict[str, list[tuple[float, int, int]]]) -> None:
    """How each page grows with the record, beside what it was before."""
    print("\n## How pages grow\n")
    print("CPU in ms after so many makes, with results, taps, evidence, formulas and lots in proportion (`manage.py")
    print(
        "build_years`). Before: the same page before what was learned, planned and listed was kept, on the same rows.\n"
    )
    heads = [f"{makes:,} makes" if makes else "demo" for makes in GROWTH]
    print(f"| page | {' | '.join(heads)} | years ÷ demo | queries | kB | before: demo | before: 6,000 makes | kB |")
    print("|---" + "|---:" * (len(heads) + 6) + "|")
    for name, rows in growth.items():
        _, queries, size = rows[-1]
        before, then, kept = BEFORE.get(name, ("", "", ""))
        words = [
            *(f"{cpu:.1f}" for cpu, *_ in rows),
            f"{rows[-1][0] / rows[0][0]:.2f}",
            f"{queries}",
            f"{size / 1000:.0f}",
        ]
        print(f"| {name} | {' | '.join(words)} | {before} | {then} | {kept} |")


def print_lists(client: Any) -> None:
    """Our lists beside Django's admin over the same rows."""
    from django.contrib.auth import get_user_model

    from scripts.bench_admin import LISTS

    get_user_model().objects.filter(username="runa").update(is_staff=True, is_superuser=True)
    print("\n## Our lists beside Django’s admin\n")
    print("The same rows of the five years, 50 a page, CPU in ms.\n")
    print("| list | ours | the admin’s | ours ÷ the admin’s |\n|---|---:|---:|---:|")
    for name, (ours, theirs) in LISTS.items():
        if wanted(name):
            mine, other = page(client, ours)[0], page(client, theirs)[0]
            print(f"| {name} | {mine:.1f} | {other:.1f} | {mine / other:.2f} |")


def work(client: Any, head: Any) -> dict[str, Callable[[int], object]]:
    """What is timed on its own: the main views, edits, taps, and the core."""
    from northfold.bench.models import BenchEvent
    from northfold.core.formula.reading import read_recipe
    from northfold.dough.models import Formula
    from northfold.dough.services import open_draft

    seq = BenchEvent.objects.filter(make=21).count()
    drafts: dict[str, tuple[str, int]] = {}

    def opened(formula: Formula | None) -> tuple[str, int]:
        draft = open_draft(head, formula or Formula.objects.get(pk=1))
        return draft.payload["lines"][0]["id"], draft.edit_no

    def book_edit(number: int) -> None:
        edit(number + 200, "/book/1/edit/")

    def edit(number: int, address: str = "/makes/1/dough/edit/", formula: Formula | None = None) -> None:
        key, edit_no = drafts.get(address) or opened(formula)
        fields = {"edit_no": edit_no, f"grams-{key}": str(420 + number), f"shown-{key}": ""}
        answer = client.post(address, fields, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.status_code
        drafts[address] = key, edit_no + 1

    long = write_long(head)

    def edit_long(number: int) -> None:
        edit(number, f"/book/{long.pk}/edit/", long)

    six = six_products(head)

    def resize(number: int) -> None:
        sent = {**six, "edit_no": six["edit_no"] + number, "item-2-count": 60 + number}
        answer = client.post(f"/makes/{six['pk']}/size/", sent, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.status_code

    def step_edit(number: int) -> None:
        sent = {"step": "rest.1", "field": "minutes", "value": str(61 + number)}
        answer = client.post("/makes/1/steps/edit/", sent, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.status_code

    def fold_edit(number: int) -> None:
        sent = {"step": "turns", "field": "turn_mm", "value": f"{7 + number / 100:g}"}
        answer = client.post("/makes/38/fold/edit/", sent, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.status_code

    def cold_edit(number: int) -> None:
        sent = {"step": "shape", "field": "thickness_mm", "value": f"{20 + number / 10:g}"}
        answer = client.post("/makes/1/cold/edit/", sent, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.status_code

    def tap(number: int) -> None:
        sent = {"kind": "weighed", "step_key": "mix", "client_id": f"bench-{number}"}
        body = json.dumps({**sent, "value": {"line": 0, "grams": 100 + number}})
        assert client.post("/bench/21/events/", body, content_type="application/json").status_code == 200

    text = "\n".join(["420 g plain flour", "1 1/2 cups sugar, sifted", "2 large eggs", "salt to taste"] * 100)
    return {
        "Makes, list": lambda n: client.get("/"),
        "Dough, one edit in the book": book_edit,
        "Dough, one edit of 14 lines": edit_long,
        "Dough in a make": lambda n: client.get("/makes/1/dough/"),
        "Dough, one edit in a make, with pleat": edit,
        "Size": lambda n: client.get("/makes/1/size/"),
        "Size of six products": lambda n: client.get(f"/makes/{six['pk']}/size/"),
        "Size of six products, one edit with pleat": resize,
        "Cold store": lambda n: client.get("/cold-store/"),
        "Weigh sheet": lambda n: client.get("/makes/1/weigh/"),
        "Steps": lambda n: client.get("/makes/1/steps/"),
        "Steps, one edit with pleat (all reckoned anew)": step_edit,
        "Fold": lambda n: client.get("/makes/38/fold/"),
        "Fold, one edit with pleat (all reckoned anew)": fold_edit,
        "Cold": lambda n: client.get("/makes/1/cold/"),
        "Cold, one edit with pleat (all reckoned anew)": cold_edit,
        "Cold, what is asked of it, after that edit": lambda n: client.get("/makes/1/cold/answers/"),
        "Bake": lambda n: client.get("/makes/1/bake/"),
        "Fill": lambda n: client.get("/makes/30/fill/"),
        "Bench": lambda n: client.get("/bench/21/"),
        "Bench, nothing new": lambda n: client.get(f"/bench/21/state/?seq={seq}"),
        "Bench, one tap": tap,
        "Result": lambda n: client.get("/makes/7/result/"),
        "Today": lambda n: client.get("/today/"),
        "Week": lambda n: client.get("/week/"),
        "Book": lambda n: client.get("/book/"),
        "Book, searched": lambda n: client.get("/book/?q=tart"),
        "Ingredients": lambda n: client.get("/kitchen/ingredients/"),
        "400 lines read (core)": lambda n: read_recipe(text),
        "Plan of five products (core)": plan_of_five(),
        **heat_jobs(),
        **bake_jobs(),
    }


def bake_jobs() -> dict[str, Any]:
    """A lidded pie through its whole bake, each time a little thicker, and 64 cases under their weights."""
    from northfold.core.heat.bake import Films, Sign, Stage, bake_trace, crust, filling, oven_tins, weights

    tin, films = oven_tins()["bright"], Films(45.0, 25.0)
    pie = (Stage(220.0, films, minutes=15.0), Stage(180.0, films, minutes=75.0))
    until = (Sign("upper", 90.0), Sign("left", 0.85))
    blind = (
        Stage(190.0, Films(18.0, 22.0), signs=until, taken_off=True),
        Stage(190.0, Films(18.0, 22.0), minutes=12.0),
    )

    def lidded(n: int) -> Any:
        thick = 4 + n * 1e-3
        layers = (crust("base", thick, water=0.22), filling("filling", 43.0, 1.0, water=0.8), crust("lid", thick))
        return bake_trace(layers, tin, pie)

    def cases(n: int) -> Any:
        thicknesses = (2.5 + number / 32 + n * 1e-4 for number in range(64))
        return [bake_trace((crust("base", mm, water=0.22), weights(22.0)), tin, blind) for mm in thicknesses]

    return {"Bake: 90 minutes of a lidded pie (core)": lidded, "Bake: 64 cases under weights (core)": cases}


def plan_of_five() -> Any:
    """Five products of one dough, 40 pieces, each time a little thicker, so that nothing is kept from before."""
    from dataclasses import replace

    from northfold.core.formula.ratio import DoughLine
    from northfold.core.matter import reference_ingredients
    from northfold.core.method import PlanInputs, plan
    from northfold.core.shape.blanks import LID, Item
    from northfold.core.shape.tins import Tin

    shelf = reference_ingredients()
    dough = {"plain flour": 420, "unsalted butter": 280, "water": 140, "fine salt": 7}
    lines = tuple(DoughLine.of(shelf[name], grams) for name, grams in dough.items())
    items = (
        Item(Tin("case", "round", 240, 235, 25, key="tin:1"), 2),
        Item(Tin("tartlets", "round", 80, 75, 20, key="tin:2"), 24),
        Item(Tin("pie", "round", 220, 200, 40, key="tin:3"), 1, 4.0, 25.0, cover=LID, heap_mm=20),
        Item(Tin("hand pies", "hand_pie", 140, 0, 0, 95, key="tin:4"), 12, heap_mm=14, filling_g=90),
        Item(Tin("small case", "round", 180, 175, 25, key="tin:5"), 1),
    )

    def job(n: int) -> Any:
        return plan(
            PlanInputs(lines, tuple(replace(each, thickness_mm=each.thickness_mm + n * 1e-3) for each in items))
        )

    return job


def heat_jobs() -> dict[str, Any]:
    """A dough's twelve places in fourteen hours: our steps, SciPy's BDF on the same cells, 64 variants in a batch."""
    import numpy as np
    from scipy.integrate import solve_ivp

    from northfold.core.heat.conduction import CELLS, Body, Face, Stay, Variant, through, through_each
    from northfold.core.heat.dough_heat import dough_heat
    from northfold.core.matter import reference_ingredients

    table = reference_ingredients()
    names = (("plain flour", 420.0), ("unsalted butter", 280.0), ("water", 140.0), ("fine salt", 7.0))
    heat = dough_heat(tuple((table[name], grams) for name, grams in names))
    contents, degrees, conductivities = heat.knots
    capacities = np.diff(contents) / np.diff(degrees)
    places = ((2, 22, 25), (60, 4, 12), (6, 22, 25), (3, 22, 80), (8, -18, 14), (25, 4, 12))
    places += ((10, 22, 25), (45, 4, 12), (8, 22, 25), (20, 4, 15), (600, 4, 12), (53, 24, 25))
    stays = tuple(Stay(minutes, Face(air, 9), Face(air, film)) for minutes, air, film in places)
    body, dx = Body(25.0), 0.025 / CELLS

    def change(_: float, t: Any, stay: Stay) -> Any:
        k = np.interp(t, degrees, conductivities)
        flow = np.empty(CELLS + 1)
        flow[1:-1] = (t[:-1] - t[1:]) * 2 * k[:-1] * k[1:] / (k[:-1] + k[1:]) / dx
        flow[0] = (stay.below.temperature_c - t[0]) / (1 / stay.below.film_w_m2_k + dx / 2 / k[0])
        flow[-1] = (t[-1] - stay.above.temperature_c) / (1 / stay.above.film_w_m2_k + dx / 2 / k[-1])
        return (flow[:-1] - flow[1:]) / (capacities[np.searchsorted(degrees, t, side="right") - 1] * dx)

    def by_bdf(rtol: float) -> list[Any]:
        cells, ends = np.full(CELLS, 18.0), []
        for stay in stays:
            seconds = (0, 60 * stay.minutes)
            solved = solve_ivp(change, seconds, cells, "BDF", args=(stay,), rtol=rtol, atol=rtol)
            cells = np.maximum(solved.y[:, -1], -2.0)
            ends.append(cells)
        return ends

    reference = through(heat, body, 18.0, stays, tolerance_k=1e9, longest_s=1.0)
    ours = through(heat, body, 18.0, stays)
    at_every_sample = zip(ours, reference, strict=True)
    off = max(np.abs(np.subtract(one.surface_c, other.surface_c)).max() for one, other in at_every_sample)

    def off_by_bdf(rtol: float) -> float:
        ends = zip(by_bdf(rtol), reference, strict=True)
        return float(max(np.abs(cells - np.array(trace.profile_c)).max() for cells, trace in ends))

    loosest = next(rtol for rtol in (1e-1, 3e-2, 1e-2, 3e-3, 1e-3, 3e-4, 1e-4, 1e-5) if off_by_bdf(rtol) <= 0.2)
    variants = [Variant(Body(float(mm)), 18.0, stays) for mm in np.linspace(3, 40, 64)]
    return {
        f"Heat: 12 places in 14 h (core), {off:.3f} K from 1-second steps": lambda n: through(heat, body, 18.0, stays),
        f"Heat: the same by SciPy’s BDF, {off_by_bdf(loosest):.3f} K off": lambda n: by_bdf(loosest),
        "Heat: 64 thicknesses of it (core)": lambda n: through_each(heat, variants),
    }


LONG = """300 g plain flour
40 g rye flour
1/2 cup wholemeal flour
150 g unsalted butter, cold
60 g lard
40 g ground almonds
30 g icing sugar
1 medium egg
1 egg yolk
40-50 g iced water
20 g soured cream
1 tbsp cider vinegar
4 g fine salt
2 tsp sesame seed"""


def six_products(head: Any) -> dict[str, Any]:
    """A make of six products of one dough; answers what its Size form sends."""
    from northfold.dough.models import FormulaVersion
    from northfold.kitchen.models import Tin
    from northfold.makes.models import SIZE_FIELDS
    from northfold.makes.services import create_make, size_make

    names = ("Straight flan tin", "Tartlet tin", "Cracker", "Hand pie", "Fish turnover", "Oval dish")
    found = [Tin.objects.get(name=name) for name in names]
    version = FormulaVersion.objects.filter(formula__name="Harbour tart shell").first()
    make = create_make(head, version, tin=found[0], count=6, due_at=None)
    first = make.items.get()
    items = [{name: getattr(first, name) for name in SIZE_FIELDS} | {"tin": tin, "count": 12} for tin in found]
    make = size_make(make, make.edit_no, items=items, loss=0.02, due_at=None)
    sent: dict[str, Any] = {"pk": make.pk, "edit_no": make.edit_no, "items": 6, "loss": "2"}
    for number, item in enumerate(make.items.all()):
        sent |= {f"item-{number}-{name}": getattr(item, name) for name in SIZE_FIELDS}
        sent |= {f"item-{number}-id": item.pk, f"item-{number}-tin": item.tin_id}
    return sent


def write_long(head: Any) -> Any:
    """A formula of fourteen lines."""
    from northfold.dough import editing, services

    draft = services.open_draft(head, None)
    payload = editing.paste({**editing.empty_payload("metric"), "name": "Fourteen lines"}, LONG)
    draft = services.edit_draft(head, None, draft.edit_no, payload)
    return services.save_version(head, None, draft.edit_no).formula


if __name__ == "__main__":
    main()
