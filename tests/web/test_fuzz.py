"""Every address, method and role against a seeded set of hostile values: an answer in words, never a 500."""

import os
import random
import re

import pytest
from django.urls import URLPattern, URLResolver, get_resolver

from northfold.bench import services as bench
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Place
from northfold.makes import services as makes
from northfold.stock import services as stock
from tests.conftest import write_formula

SEED = int(os.environ.get("NORTHFOLD_FUZZ_SEED", 20261127))
ROLES = (None, "guest", "bench", "head")
# Rounds of hostile values for each address; together they take about half a minute. `make soak` asks for more.
ROUNDS = int(os.environ.get("NORTHFOLD_FUZZ_ROUNDS", 2))
DEEP = "[" * 3000 + "]" * 3000
HOSTILE = (
    "", " ", "0", "-1", "1e309", "Infinity", "-Infinity", "NaN", "nan", "9" * 40, "-" + "9" * 40, "0.0000001", "1/0",
    "½", "12,5", "1 2 3", "\x00", "a\x00b", "\U0001f600" * 20, "\u202eabc", "<script>alert(1)</script>",
    "' OR 1=1 --",
    "../../etc/passwd", "%00", "{{ 7 }}", "x" * 5000, "\r\nSet-Cookie: a=b", "null", "true", "[]", "{}", DEEP,
    "2026-13-45T99:99", "2026-03-29T01:30", "0001-01-01T00:00", "9999-12-31T23:59", "a b", "ann ann", "é" * 200,
    "=1+1", "1;2", "drop:x:y", "text:nope:1", "part:x:dough", "system:x:us", "accept::", "swap:1:2:3", "::::",
)  # fmt: skip
NUMBERS_IN_PATHS = ("1", "0", "999999", "9" * 18, "9" * 40)
WORDS_IN_PATHS = ("mix", "rest.1", "nope", "x" * 300, "%00", "..", "own.1")
JSON_BODIES = (
    DEEP, "NaN", '{"kind": NaN}', "{", '"\\ud800"', "[1]",
    '{"kind": "done", "step_key": "\\ud800", "client_id": "\\ud800"}',
    '{"kind": "probed", "step_key": "rest.1", "value": {"c": Infinity}}',
    '{"kind": "weighed", "step_key": "weigh", "value": {"line": 1e309, "grams": NaN}}',
    '{"kind": "weighed", "step_key": "weigh", "value": {"line": 0, "grams": "\\ud800"}}',
    '{"kind": "note", "step_key": "mix", "value": {"text": "\\udfff"}}',
    '{"kind": "extended", "step_key": "rest.1", "value": {"minutes": -1e308}, "at": 1e400}',
    '{"kind": "started", "step_key": "mix", "at": NaN, "device": "\\ud800"}', '{"value": ' + DEEP + "}",
)  # fmt: skip


def addresses(patterns=None, before=""):
    """Every address as a pattern: "makes/<int:pk>/size/"."""
    for each in get_resolver().url_patterns if patterns is None else patterns:
        route = before + str(each.pattern)
        if isinstance(each, URLResolver):
            yield from addresses(each.url_patterns, route)
        elif isinstance(each, URLPattern):
            yield route


ADDRESSES = sorted({route for route in addresses() if "static" not in route and "<path" not in route})


def filled(route, dice):
    """An address with its parts filled in: mostly rows that exist, else what nobody has."""

    def part(match):
        kind = match[1] or "str"
        if kind in ("int", "row"):
            return "1" if dice.random() < 0.75 else dice.choice(NUMBERS_IN_PATHS)
        return dice.choice(WORDS_IN_PATHS)

    return "/" + re.sub(r"<(?:(\w+):)?\w+>", part, route)


@pytest.fixture
def house(head, flan_tin, client):
    """A kitchen with something of everything, so that addresses lead somewhere."""
    client.raise_request_exception = False
    version = write_formula(head)
    write_formula(
        head, "Eggy", "300 g plain flour\n150 g butter\n2 eggs\nFor the filling\n200 g plums\nBake 20 min at 200 C"
    )
    fridge = Place.objects.create(name="Fridge", kind="fridge", air_c=4.0)
    Place.objects.create(name="Freezer", kind="freezer", air_c=-35.0)
    Place.objects.create(name="Bench", kind="bench_wood")
    stock.put_in(head, what="tart dough", kind="dough", amount=500, place=fridge, formula=version.formula)
    kitchen.kitchen()
    planned = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    running = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    makes.start_make(running)
    bench.record(head, running, kind="done", step_key="tins", client_id="first")
    return planned


def names_on(client, path):
    """The names of the fields that a page asks for."""
    answer = client.get(path)
    body = answer.content.decode("utf-8", "replace") if answer.status_code == 200 else ""
    return sorted(set(re.findall(r'name="([\w.-]+)"', body)) - {"csrfmiddlewaretoken"})


def test_no_hostile_value_breaks_an_address(house, client, people):
    dice, broken = random.Random(SEED), []
    for role in ROLES:
        client.logout()
        if role:
            client.force_login(people[role], backend="django.contrib.auth.backends.ModelBackend")
        for route in ADDRESSES:
            if "sign-out" in route:
                continue
            fields = names_on(client, filled(route, random.Random(1)))
            for _ in range(ROUNDS if role in ("bench", "head") else 1):
                path = filled(route, dice)
                query = {name: dice.choice(HOSTILE) for name in dice.sample(fields, min(3, len(fields)))}
                sent = {name: dice.choice(HOSTILE) for name in fields if dice.random() < 0.6}
                sent |= {"edit_no": dice.choice(("0", "1", dice.choice(HOSTILE))), "act": dice.choice(HOSTILE)}
                htmx = {"HX-Request": "true"} if dice.random() < 0.5 else {}
                for answer in (
                    client.get(path, query, headers=htmx),
                    client.post(path, sent, headers=htmx),
                    client.post(path, dice.choice(JSON_BODIES), content_type="application/json"),
                    client.put(path),
                    client.delete(path),
                ):
                    if answer.status_code >= 500:
                        broken.append((role, answer.request["REQUEST_METHOD"], path[:80], repr(sent)[:300]))
    assert broken == []
