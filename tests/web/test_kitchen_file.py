"""The whole kitchen as a file: out, looked over, read in, taken back; and nothing of it that cannot be."""

import json
import re
import zlib
from copy import deepcopy
from datetime import UTC, date, datetime

import jsonschema
import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.urls import reverse
from django.utils import timezone

from northfold.day.models import MadeFor, StandingOrder
from northfold.day.week.proposals import asked_of_days
from northfold.day.week.services import take_proposals
from northfold.demo.bakehouse import build
from northfold.dough.models import Formula
from northfold.exchange import queries, services
from northfold.exchange.models import Reading
from northfold.formats.files import BadFile, dumped_in_rows
from northfold.formats.kitchen import SECTIONS
from northfold.formats.schemas import schema
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Ingredient, Place, Tin
from northfold.makes import services as makes
from northfold.makes.freezing import pack
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.stock.models import Lot
from northfold.stock.services import take_out
from northfold.web.models import User
from northfold.web.whole import KEYED
from tests.conftest import write_formula

HAND = {
    "tins": [{"name": "Pier ring", "kind": "round", "top_mm": 200, "base_mm": 200, "height_mm": 30, "owned": 4}],
    "formulas": [
        {
            "name": "Pier shell",
            "lines": [
                {"ingredient": "plain flour", "g": 420},
                {"ingredient": "unsalted butter", "g": 280, "prep": "cold, diced"},
                {"ingredient": "water", "g": 150, "g_low": 140, "g_high": 160},
            ],
        }
    ],
    "makes": [
        {"formula": "Pier shell", "due": "2031-12-01T07:00:00+00:00", "items": [{"tin": "Pier ring", "count": 4}]}
    ],
}
NOON = datetime(2031, 3, 1, 12, tzinfo=UTC)


def text():
    return "".join(dumped_in_rows(queries.whole(), SECTIONS))


def emptied():
    """Every row of every app gone, as if the kitchen had never been."""
    with connection.cursor() as cursor:
        for model in apps.get_models(include_auto_created=True):
            if model.__module__.startswith("northfold"):
                cursor.execute(f'DELETE FROM "{model._meta.db_table}"')


def read_in(user, file, *, change=True):
    data = file if isinstance(file, bytes) else (file if isinstance(file, str) else json.dumps(file)).encode()
    services.look(data)
    return services.take(user, services.keep(user, "file.json", data), change=change)


def rows():
    with connection.cursor() as cursor:
        found = {}
        for model in apps.get_models():
            if model.__module__.startswith("northfold") and model is not Reading:
                cursor.execute(f'SELECT COUNT(*) FROM "{model._meta.db_table}"')
                found[model._meta.label] = cursor.fetchone()[0]
    return found


def test_the_whole_demo_kitchen_out_and_into_an_empty_one(db):
    build()
    # Some of its week is planned: what was made for which order comes along, halves of makes as well.
    now = timezone.now()
    taken_week = take_proposals(User.objects.get(username="runa"), timezone.localdate(now), 7, now)
    assert {make.half for make in taken_week} == {"", "ahead", "frozen"}
    wanted = [(row.on, row.pieces, bool(row.order)) for row in MadeFor.objects.order_by("on", "pieces", "pk")]
    first = text()
    told = {str(make.uuid): pack(plan_of(make, now=NOON)) for make in Make.objects.all()}
    hashes = [user.password for user in User.objects.all()]
    assert not any(each in first for each in hashes)
    jsonschema.validate(json.loads(first), schema("kitchen"))
    emptied()
    head = kitchen.start_kitchen(name="New", full_name="Runa Haldane", username="runa", password="long-quay-11")
    fresh = text()
    taken = read_in(head, first)
    second = text()
    # When it was written, and since when the ingredients that every kitchen begins with are known.
    times = re.compile(r'"(written_at|since)": "[^"]*"')
    assert times.sub("", second) == times.sub("", first)

    # Numbers differ, and with them what tins and places are called inside a plan; every figure is the same.
    def figures(packed):
        return KEYED.sub("", zlib.decompress(packed).decode())

    again = {str(make.uuid): pack(plan_of(make, now=NOON)) for make in Make.objects.all()}
    assert {key: figures(each) for key, each in again.items()} == {key: figures(each) for key, each in told.items()}
    assert len(told) > 30
    assert [(r.on, r.pieces, bool(r.order)) for r in MadeFor.objects.order_by("on", "pieces", "pk")] == wanted
    assert {row.on for row in asked_of_days(timezone.localdate(now), 7, now).proposals} == set()
    # Twice is once.
    found = services.look(first.encode())
    assert (found.count("new"), found.count("changed"), found.count("left")) == (0, 0, 0)
    # Whoever came with it cannot sign in until somebody gives them a password.
    assert not User.objects.get(username="teo").has_usable_password()
    assert User.objects.get(username="runa").check_password("long-quay-11")
    services.undo(taken)
    assert times.sub("", text()) == times.sub("", fresh)


def test_a_file_by_hand_without_ids(sign_in, head):
    client = sign_in()
    sent = SimpleUploadedFile("pier.json", json.dumps(HAND).encode())
    before = rows()
    page = client.post(reverse("exchange:files"), {"file": sent}, follow=True).content.decode()
    assert "3 new" in page and "Pier shell, 1 December" in page and "Nothing is written yet" in page
    assert rows() == before
    reading = Reading.objects.get()
    page = client.post(reverse("exchange:take", args=[reading.pk]), follow=True).content.decode()
    assert "1 tin, 1 formula, 1 make" in page
    make = Make.objects.get()
    assert (make.formula_version.formula.name, make.created_by) == ("Pier shell", head)
    assert make.items.get().thickness_mm == 3.0  # as a case in a round tin starts
    assert plan_of(make).dough_g > 0
    assert client.get(reverse("makes:steps", args=[make.pk])).status_code == 200
    # The same file again doubles nothing, whatever its ids were made of.
    assert services.look(json.dumps(HAND).encode()).count("new") == 0
    read_in(head, HAND)
    assert (Make.objects.count(), Formula.objects.count(), Tin.objects.count()) == (1, 1, 1)
    # One tap takes it back, and a second one changes nothing.
    page = client.post(reverse("exchange:undo", args=[reading.pk]), follow=True).content.decode()
    assert "is taken back" in page
    assert (Make.objects.count(), Formula.objects.count(), Tin.objects.count()) == (0, 0, 0)
    client.post(reverse("exchange:undo", args=[reading.pk]))


def test_what_was_used_since_is_not_taken_back(head):
    reading = read_in(head, HAND)
    make = Make.objects.get()
    makes.start_make(make)
    with pytest.raises(services.CannotUndo, match="changed since"):
        services.undo(reading)
    assert Make.objects.get().state == "started"


def test_what_was_made_of_it_since_stands_in_the_way(head, flan_tin):
    reading = read_in(head, {"formulas": HAND["formulas"]})
    makes.create_make(head, Formula.objects.get().newest, tin=flan_tin, count=1, due_at=None)
    with pytest.raises(services.CannotUndo, match="hangs on it"):
        services.undo(reading)
    assert Formula.objects.count() == 1


def test_what_is_different_changes_only_where_it_is_said(head, flan_tin):
    mine = {"tins": [{"name": "Flan tin", "kind": "round", "top_mm": 240, "base_mm": 240, "height_mm": 25, "owned": 6}]}
    (row,) = services.look(json.dumps(mine).encode()).rows
    assert (row.state, row.says) == ("changed", "top mm 230 → 240, base mm 230 → 240")
    read_in(head, mine, change=False)
    assert Tin.objects.get().top_mm == 230
    reading = read_in(head, mine)
    assert (Tin.objects.get().top_mm, Tin.objects.get().pk) == (240, flan_tin.pk)
    services.undo(reading)
    assert Tin.objects.get().top_mm == 230


def test_more_versions_and_other_ones(head, version):
    file = json.loads(text())
    more = deepcopy(file["book"][0])
    more["versions"].append({**deepcopy(more["versions"][0]), "n": 2, "parent": 1, "note": "Less water."})
    more["versions"][1]["lines"][2] |= {"g": 130.0, "g_low": 130.0, "g_high": 130.0}
    read_in(head, {"book": [more]})
    assert [line.usual_g for line in version.formula.newest.lines.all()] == [420, 280, 130, 7]
    more["versions"][1]["lines"][2] |= {"g": 120.0, "g_low": 120.0, "g_high": 120.0}
    (row,) = services.look(json.dumps({"book": [more]}).encode()).rows
    assert (row.state, row.says) == ("left", "its version 2 here is another one")


def test_a_make_alone_is_planned_anew_elsewhere(sign_in, head, version, flan_tin):
    cold = kitchen.save_row(Place(), {"name": "Cold", "kind": "fridge", "air_c": 3.0})
    make = makes.create_make(head, version, tin=flan_tin, count=5, due_at=None)
    makes.edit_step(head, make, "rest.1", "place", cold.core.key)
    told = plan_of(make, now=NOON)
    file = sign_in("guest").get(reverse("exchange:make", args=[make.pk])).content
    emptied()
    other = kitchen.start_kitchen(name="Other", full_name="Pell Strand", username="pell", password="long-quay-11")
    read_in(other, file)
    found = Make.objects.get()
    again = plan_of(found, now=NOON)
    assert (again.dough_g, again.route.steps[2].start_min) == (told.dough_g, told.route.steps[2].start_min)
    assert found.step_edits.get().value == Place.objects.get(name="Cold").core.key != cold.core.key


def test_in_a_kitchen_at_work_its_own_places_stay(head, version):
    own = kitchen.save_row(Place(), {"name": "Cold", "kind": "fridge", "air_c": 3.0})
    read_in(head, {"places": [{"name": "Cellar", "kind": "fridge", "air_c": 7.0}]})
    assert set(Place.objects.values_list("name", flat=True)) == {"Cold", "Cellar"}
    assert Place.objects.filter(pk=own.pk).exists()


def test_a_name_means_what_the_file_has_before_what_is_here(head, version, flan_tin):
    """The kitchen has a dough and a shape of the same names: the make is of those of the file."""
    Tin.objects.create(name="Pier ring", kind="cut_round", top_mm=55)
    write_formula(head, name="Pier shell", text="300 g plain flour\n150 g lard\n80 g water")
    read_in(head, HAND)
    make = Make.objects.get()
    assert make.formula_version.formula.name == "Pier shell 2"
    assert [line.usual_g for line in make.formula_version.lines.all()] == [420, 280, 150]
    assert make.items.get().tin.kind == "round"


def test_two_tins_of_one_name_stay_two(head, flan_tin):
    """One of them is the one here, by its name; the other is another."""
    tin = {"name": "Flan tin", "kind": "round", "base_mm": 200, "top_mm": 200, "height_mm": 25}
    read_in(head, {"tins": [{**tin, "id": ONE}, {**tin, "id": TWO, "top_mm": 180, "base_mm": 180}]}, change=False)
    assert sorted(Tin.objects.values_list("top_mm", flat=True)) == [180, 230]
    # The id of the one here is in the file: no other row of its name is taken for it.
    third = "6f1f4a52-6a0e-4d0c-9d5a-0b5b8b7f0a03"
    read_in(head, {"tins": [{**tin, "id": third}, {**tin, "id": ONE}]}, change=False)
    assert sorted(Tin.objects.values_list("top_mm", flat=True)) == [180, 200, 230]


def test_the_same_grams_of_something_else_are_another_formula(head, version):
    grams = {"plain flour": 420, "lard": 280, "water": 140, "fine salt": 7}
    lines = [{"ingredient": name, "g": g} for name, g in grams.items()]
    file = {"id": str(version.formula.uuid), "name": "Harbour tart shell", "lines": lines}
    (row,) = services.look(json.dumps({"formulas": [file]}).encode()).rows
    assert row.state == "changed"
    lines[1]["ingredient"] = "Unsalted butter"
    (row,) = services.look(json.dumps({"formulas": [file]}).encode()).rows
    assert row.state == "same"
    whole = json.loads(text())
    (row,) = services.look(json.dumps({"book": whole["book"]}).encode()).rows
    assert row.state == "same"
    whole["book"][0]["versions"][0]["lines"][1] |= {"ingredient": "lard", "revision": 1}
    (row,) = services.look(json.dumps({"book": whole["book"]}).encode()).rows
    assert (row.state, row.says) == ("left", "its version 1 here is another one")


def book_of(*lines, name="Loop", **more):
    version = {"n": 1, "at": "2026-01-01T00:00:00Z", "draft": {}, "lines": list(lines)}
    return {"name": name, "kind": "custard", "versions": [version], **more}


ONE = "6f1f4a52-6a0e-4d0c-9d5a-0b5b8b7f0a01"
TWO = "6f1f4a52-6a0e-4d0c-9d5a-0b5b8b7f0a02"
WEIGHED = {"g": 10, "g_low": 10, "g_high": 10}
TAP = {"step": "weigh", "kind": "done", "at": "2026-01-01T00:00:00Z", "by": "head", "client": "c1"}
EVIDENCE = {
    "kind": "shrink", "subject": "pie", "predicted": 2, "measured": 3, "instrument": 1, "source": "make 1",
    "at": "2026-01-01T00:00:00Z",
}  # fmt: skip
HOSTILE = {
    "too large": (b" " * 20_000_001, "at most 20 MB"),
    "too deep": (b'{"tins": ' + b"[" * 60 + b"]" * 60 + b"}", "Line 1: lists and objects lie deeper"),
    "half a file": (json.dumps(HAND, indent=1)[:300].encode(), r"Line \d+, column"),
    "not UTF-8": (b'{"tins": [{"name": "R\xfcster"}]}', "Line 1 is not UTF-8"),
    "no kitchen": (b"[1, 2]", "begins with"),
    "a key twice": (b'{"tins": [], "tins": []}', "stands twice"),
    "a number that is none": (b'{"tins": [{"name": "x", "kind": "round", "top_mm": NaN}]}', "no number"),
    "an unknown key": ({"tons": []}, "tons: is not known"),
    "a tin of 9 metres": (
        {"tins": [{"name": "Sea", "kind": "round", "top_mm": 9000, "base_mm": 9000, "height_mm": 25}]},
        "Line 1, tins → number 1: top_mm of Sea is 9000, and goes from 10 to 2000",
    ),
    "a kind of tin that is none": ({"tins": [{"name": "x", "kind": "star", "top_mm": 90}]}, "“star” is no kind"),
    "an id that is none": ({"tins": [{**HAND["tins"][0], "id": "seven"}]}, "“seven” is no UUID"),
    "an id twice": (
        {"tins": [{**HAND["tins"][0], "id": ONE}, {**HAND["tins"][0], "name": "y", "id": ONE}]},
        "tins → number 2: the same id as number 1",
    ),
    "a mixture in itself": ({"book": [book_of({"mixture": ONE, **WEIGHED}, id=ONE)]}, "is in itself"),
    "two mixtures in each other": (
        {
            "book": [
                book_of({"mixture": TWO, **WEIGHED}, id=ONE),
                book_of({"mixture": ONE, **WEIGHED}, id=TWO, name="Knot"),
            ]
        },
        "is in itself",
    ),
    "beside itself": (
        {"book": [book_of({"ingredient": "water", **WEIGHED}, id=ONE, beside="Loop")]},
        "stands beside itself",
    ),
    "no flour": (
        {"book": [{**book_of({"ingredient": "water", **WEIGHED}), "kind": "dough"}]},
        "no flour",
    ),
    "versions with a gap": (
        {"book": [{"name": "x", "versions": [{**book_of({"ingredient": "water", **WEIGHED})["versions"][0], "n": 2}]}]},
        "go 1, 2, 3",
    ),
    "an ingredient of nobody": (
        {"book": [book_of({"ingredient": "moon dust", **WEIGHED})]},
        "there is no ingredient “moon dust”",
    ),
    "a tin of nobody": ({**HAND, "tins": []}, "there is no tin “Pier ring”"),
    "a name nearly right": (
        {**HAND, "makes": [{"formula": "Pier shel", "items": [{"tin": "Pier ring"}]}]},
        "Is it Pier shell?",
    ),
    "started without a plan": ({**HAND, "makes": [{**HAND["makes"][0], "state": "started"}]}, "has its plan"),
    "a plan that is none": (
        {
            **HAND,
            "makes": [
                {
                    **HAND["makes"][0],
                    "state": "started",
                    "plans": [{"seq": 1, "cause": "x", "core_version": "1", "at": "2026-01-01T00:00:00Z", "plan": {}}],
                }
            ],
        },
        "cannot be opened",
    ),
    "taps of a planned make": ({**HAND, "makes": [{**HAND["makes"][0], "taps": [TAP]}]}, "has no taps"),
    "evidence that corrects what follows": (
        {"evidence": [{**EVIDENCE, "id": ONE, "supersedes": TWO}, {**EVIDENCE, "id": TWO, "measured": 4}]},
        "evidence → number 1: there is no piece of evidence",
    ),
    "a cold store without a place": (
        {
            "lots": [
                {
                    "what": "x", "kind": "dough", "place": "Mars", "made_at": "2026-01-01T00:00:00Z",
                    "since": "2026-01-01T00:00:00Z",
                    "moves": [{"amount": 5, "at": "2026-01-01T00:00:00Z", "why": "put in"}],
                }
            ]
        },
        "there is no place “Mars”",
    ),
}  # fmt: skip


@pytest.mark.parametrize("case", HOSTILE)
def test_what_cannot_be_is_refused_and_nothing_is_written(case, head):
    file, said = HOSTILE[case]
    data = file if isinstance(file, bytes) else json.dumps(file).encode()
    before = rows()
    with pytest.raises(BadFile, match=said):
        services.look(data)
        # What only shows when it is written.
        services.take(head, services.keep(head, "x.json", data), change=True)
    assert rows() == before


def test_a_bad_file_keeps_the_page_and_says_why(sign_in):
    sent = SimpleUploadedFile("bad.json", json.dumps({"tins": [{"name": "x"}]}, indent=1).encode())
    answer = sign_in().post(reverse("exchange:files"), {"file": sent})
    assert answer.status_code == 422
    assert "Line 3, tins → number 1 → kind: is missing" in answer.content.decode()
    assert not Reading.objects.exists()


def test_what_a_file_is_called_leads_nowhere(sign_in):
    sent = SimpleUploadedFile("../../etc/<b>pier</b>.json", json.dumps(HAND).encode())
    page = sign_in().post(reverse("exchange:files"), {"file": sent}, follow=True).content.decode()
    assert Reading.objects.get().name == "b>.json"  # all before the last stroke is no part of a name
    assert "b&gt;.json" in page and "etc" not in page


def taps_of(make):
    file = json.loads(text())
    return next(each for each in file["makes"] if each["id"] == str(make.uuid)), file


@pytest.mark.parametrize(
    ("tap", "said"),
    [
        ({"step": "weigh", "kind": "weighed", "value": {"grams": "much"}}, "make no sense"),
        ({"step": "weigh", "kind": "probed", "value": {}}, "make no sense"),
    ],
)
def test_taps_that_the_bench_could_not_open_are_refused(tap, said, head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    makes.start_make(make)
    _, file = taps_of(make)
    file["makes"][0] |= {"id": ONE, "taps": [{**TAP, **tap}]}
    before = rows()
    with pytest.raises(BadFile, match=said):
        read_in(head, file)
    assert rows() == before


def test_a_result_of_pieces_that_there_are_none_of_is_refused(head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    makes.start_make(make)
    _, file = taps_of(make)
    file["makes"][0] |= {"id": ONE, "results": [{"piece": 7, "at": "2026-01-01T00:00:00Z", "by": "head"}]}
    with pytest.raises(BadFile, match="pieces number 8, and it makes 1 kinds"):
        read_in(head, file)


def test_names_are_kept_apart_and_ids_adopted(head, version):
    """A formula of the same name under another id gets a number; an ingredient of that name is the same one."""
    file = json.loads(text())
    file["book"][0]["id"] = ONE
    file["ingredients"] = [{**each, "id": TWO} for each in file["ingredients"] if each["name"] == "plain flour"]
    for line in file["book"][0]["versions"][0]["lines"]:
        if "ingredient" in line:
            line["ingredient"] = Ingredient.objects.get(uuid=line["ingredient"]).name
    read_in(head, {"book": file["book"], "ingredients": file["ingredients"]})
    assert sorted(Formula.objects.values_list("name", flat=True)) == ["Harbour tart shell", "Harbour tart shell 2"]
    assert str(Ingredient.objects.get(name="plain flour").uuid) == TWO
    assert Ingredient.objects.get(name="plain flour").revisions.count() == 1


def test_what_an_unknown_hand_did_goes_under_the_readers_name(head, version):
    file = json.loads(text())
    file["book"][0] |= {"id": ONE, "name": "Elsewhere"}
    file["book"][0]["versions"][0]["by"] = "stranger"
    found = services.look(json.dumps({"book": file["book"]}).encode())
    assert found.doubts == ("What was done by stranger, who have no account here, goes under your name.",)
    read_in(head, {"book": file["book"]})
    assert Formula.objects.get(name="Elsewhere").newest.author == head


def test_a_lot_comes_with_its_moves(head, version):
    cold = kitchen.save_row(Place(), {"name": "Freezer", "kind": "freezer", "air_c": -18.0})
    at = "2026-11-20T09:00:00+00:00"
    moves = [
        {"amount": 900, "at": at, "why": "put in"},
        {"amount": -300, "at": at, "why": "taken"},
        {"amount": 300, "at": at, "why": "put back", "undoes": 2},
    ]
    lot = {"what": "Spare", "kind": "dough", "place": "Freezer", "made_at": at, "since": at, "moves": moves}
    read_in(head, {"lots": [lot]})
    found = Lot.objects.get()
    assert (found.on_hand, found.place, found.is_used_up) == (900, cold, False)
    assert found.moves.last().undoes == found.moves.all()[1]
    # By now more was taken: a file of before does not bring it back.
    file = text()
    take_out(head, found, 200, why="baked")
    (row,) = (each for each in services.look(file.encode()).rows if each.section == "lots")
    assert row.state == "left"


def test_an_order_by_hand_and_one_that_is_like_nothing(head):
    make = {**HAND["makes"][0], "id": "0b8f2f39-57a1-4b51-8f4f-0d2c86a2e0a1"}
    order = {"like": make["id"], "pieces": 24, "weekdays": [1, 4], "at_min": 510,
             "changes": [{"on": "2031-12-02", "pieces": 0}]}  # fmt: skip
    file = {**HAND, "makes": [make], "orders": [order], "levels": [{"like": make["id"], "low": 10, "high": 40}]}
    read_in(head, file)
    row = StandingOrder.objects.get()
    assert (row.pieces, row.weekdays, row.like.formula_version.formula.name) == (24, [1, 4], "Pier shell")
    assert row.core.pieces_on(date(2031, 12, 2)) == 0 and row.core.pieces_on(date(2031, 12, 5)) == 24
    read_in(head, {**file, "orders": [{**order, "id": str(row.uuid), "pieces": 30}]})
    assert StandingOrder.objects.get(pk=row.pk).pieces == 30
    with pytest.raises(BadFile, match="there is no make"):
        read_in(head, {"orders": [{**order, "like": "1c8f2f39-57a1-4b51-8f4f-0d2c86a2e0a1"}]})
    with pytest.raises(BadFile, match="let the high one be more"):
        read_in(head, {**file, "levels": [{"like": make["id"], "low": 40, "high": 40}]})


def test_only_the_head_gets_the_whole_kitchen(sign_in, version):
    assert sign_in("bench").get(reverse("exchange:whole")).status_code == 403
    answer = sign_in().get(reverse("exchange:whole"))
    assert answer["Content-Disposition"].endswith('.json"')
    assert [each["name"] for each in json.loads(answer.content)["book"]] == ["Harbour tart shell"]


def test_a_kitchens_file_in_the_wrong_place_says_where_it_belongs(sign_in):
    sent = SimpleUploadedFile("k.json", json.dumps({"format": "northfold/kitchen/1", "tins": []}).encode())
    assert "Kitchen, Files" in sign_in().post(reverse("dough:read_in"), {"file": sent}).content.decode()


def test_mixtures_come_before_what_they_are_in(head):
    """Whatever their order in the file; a line without a version is of the newest."""
    outer = book_of({"mixture": "Inner", **WEIGHED}, id=ONE, name="Outer")
    inner = book_of({"ingredient": "whole milk", **WEIGHED}, id=TWO, name="Inner")
    read_in(head, {"book": [outer, inner]})
    line = Formula.objects.get(name="Outer").newest.lines.get()
    assert line.of_mixture.formula.name == "Inner"
    assert line.core.ingredient.composition.water > 0.8  # it is milk


def test_a_formula_of_an_id_that_is_here_becomes_its_next_version(head, version):
    file = {"id": str(version.formula.uuid), "name": "Harbour tart shell", "lines": HAND["formulas"][0]["lines"]}
    (row,) = services.look(json.dumps({"formulas": [file]}).encode()).rows
    assert (row.state, row.says) == ("changed", "becomes version 2")
    read_in(head, {"formulas": [file]}, change=False)
    assert version.formula.newest.n == 1
    read_in(head, {"formulas": [file]})
    assert version.formula.newest.n == 2
