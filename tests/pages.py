"""
The figures of every page of the demo bakehouse, at one moment of one day.

`tests/golden/pages` holds the demo as it was built once and the figures that its pages showed before anything of plans,
lists and learning was kept. `python scripts/golden.py pages` writes the figures anew, where they are meant to change.
"""

import html
import json
import lzma
import re
from datetime import UTC, datetime
from pathlib import Path

FOLDER = Path(__file__).parent / "golden" / "pages"
MOMENT = datetime(2026, 11, 27, 18, 45, tzinfo=UTC)
STAGES = ("dough", "size", "fold", "steps", "steps/card", "cold", "cold/answers", "bake", "weigh", "result")
LISTS = ("/", "/?state=finished", "/?order=name", "/?order=-due", "/?q=tart", "/today/", "/book/",
         "/book/?order=newest", "/book/?q=tart", "/cold-store/", "/methods/", "/kitchen/", "/kitchen/ingredients/",
         "/kitchen/places/", "/kitchen/people/", "/kitchen/how-we-reckon/")  # fmt: skip

_HIDDEN = re.compile(r"<(script|style|head)\b.*?</\1>|<!--.*?-->", re.DOTALL)
_VALUES = re.compile(r'<input\b[^>]*?\bvalue="([^"]*)"[^>]*>')
# What is another on every page: the seals of forms, the marks of taps, the sums of parts.
_SEAL = re.compile(r'name="(?:csrfmiddlewaretoken|client_id)"\s+value="[^"]*"|data-sum="[^"]*"')
_FIGURE = re.compile(r"[−-]?\d[\d,.:]*\d|\d")


def demo() -> bytes:
    """The demo's database, as it was built."""
    return lzma.decompress((FOLDER / "demo.sqlite3.xz").read_bytes())


def figures(page: str) -> str:
    """Every number of a page in order, those in its fields and drawings too."""
    seen = _SEAL.sub("", _HIDDEN.sub(" ", page))
    fields = " ".join(_VALUES.findall(seen))
    points = " ".join(re.findall(r'\bpoints="([^"]*)"', seen))
    text = html.unescape(re.sub(r"<[^>]*>", " ", seen))
    return " ".join(_FIGURE.findall(f"{text} | {fields} | {points}"))


def addresses(every: int = 1) -> list[str]:
    """Lists, formulas, ingredients, and every stage of every make, or of one make in so many."""
    from northfold.dough.models import Formula
    from northfold.kitchen.models import Ingredient
    from northfold.makes.models import Make

    found = list(LISTS)
    for number in Formula.objects.order_by("pk").values_list("pk", flat=True):
        found += [f"/book/{number}/", f"/book/{number}/v/1/"]
    flours = Ingredient.objects.filter(name__endswith="flour").order_by("pk")
    found += [f"/kitchen/ingredients/{number}/" for number in flours.values_list("pk", flat=True)]
    for number in Make.objects.order_by("pk").values_list("pk", flat=True)[::every]:
        found += [f"/makes/{number}/{stage}/" for stage in STAGES] + [f"/bench/{number}/"]
    return found


def read(client, every: int = 1) -> dict[str, str]:
    """What every page shows now; pages that answer otherwise by their code."""
    found = {}
    for address in addresses(every):
        answer = client.get(address)
        found[address] = figures(answer.content.decode()) if answer.status_code == 200 else str(answer.status_code)
    return found


def as_they_were() -> dict[str, str]:
    return json.loads(lzma.decompress((FOLDER / "figures.json.xz").read_bytes()))


def write(found: dict[str, str]) -> None:
    FOLDER.mkdir(exist_ok=True)
    (FOLDER / "figures.json.xz").write_bytes(lzma.compress(json.dumps(found).encode(), preset=9))
