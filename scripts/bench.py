"""
Times of the main views at the server: median and 95th percentile over 60 requests, on demo data of its own.

Words on the command line choose the rows whose names hold one of them.
"""

import json
import os
import statistics
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
ROUNDS = 60


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        os.environ.update(NORTHFOLD_DATA=data, NORTHFOLD_DEBUG="", DJANGO_SETTINGS_MODULE="tests.settings")
        import django

        django.setup()
        from django.conf import settings
        from django.db import connection

        settings.DATABASES["default"]["NAME"] = connection.settings_dict["NAME"] = str(Path(data) / "bench.sqlite3")
        settings.ALLOWED_HOSTS.append("testserver")
        from django.core.management import call_command

        call_command("migrate", verbosity=0)
        report()


def report() -> None:
    from django.contrib.auth import get_user_model
    from django.test import Client

    from northfold.bench.models import BenchEvent
    from northfold.core.formula.reading import read_recipe
    from northfold.demo.bakehouse import build
    from northfold.dough.models import Formula
    from northfold.dough.services import open_draft

    build()
    head = get_user_model().objects.get(username="runa")
    client = Client()
    seq = BenchEvent.objects.filter(make=21).count()
    client.force_login(head, backend="django.contrib.auth.backends.ModelBackend")

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
    jobs = {
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
        "Bench": lambda n: client.get("/bench/21/"),
        "Bench, nothing new": lambda n: client.get(f"/bench/21/state/?seq={seq}"),
        "Bench, one tap": tap,
        "Result": lambda n: client.get("/makes/7/result/"),
        "Today": lambda n: client.get("/today/"),
        "Book of 2,000 formulas": lambda n: client.get("/book/"),
        "Book of 2,000, searched": lambda n: client.get("/book/?q=tart"),
        "Ingredients": lambda n: client.get("/kitchen/ingredients/"),
        "400 lines read (core)": lambda n: read_recipe(text),
    }
    jobs |= heat_jobs()
    if not sys.argv[1:] or "book" in sys.argv[1:]:
        fill_book(2000)
    print("# Times at the server\n\n`make bench`, milliseconds, one process, 60 rounds after 5 to warm up.\n")
    print("| what | median | 95th percentile |\n|---|---:|---:|")
    for name, job in jobs.items():
        if sys.argv[1:] and not any(word.lower() in name.lower() for word in sys.argv[1:]):
            continue
        for number in range(5):
            job(number)
        times = []
        for number in range(ROUNDS):
            start = time.perf_counter()
            job(number + 5)
            times.append(1000 * (time.perf_counter() - start))
        print(f"| {name} | {statistics.median(times):.1f} | {statistics.quantiles(times, n=20)[-1]:.1f} |")


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


def fill_book(count: int) -> None:
    """Copies of the demo's formulas, until the book holds so many."""
    from northfold.dough.models import Formula, FormulaVersion, VersionFacts

    known = list(VersionFacts.objects.select_related("version__formula"))
    for number in range(count - Formula.objects.count()):
        facts = known[number % len(known)]
        formula = Formula.objects.create(name=f"{facts.version.formula.name} {number}")
        version = FormulaVersion.objects.create(formula=formula, n=1, payload=facts.version.payload)
        facts.pk, facts.version = None, version
        facts.save(force_insert=True)


if __name__ == "__main__":
    main()
