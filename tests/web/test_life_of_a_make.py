"""The life of a make, one test for each transition that docs/architecture.md names."""

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from northfold.core.matter import Composition
from northfold.core.method import plan
from northfold.core.shape import outlines
from northfold.dough import editing
from northfold.dough import services as dough
from northfold.dough.forms import payload_from
from northfold.dough.models import Draft, FormulaVersion, Line
from northfold.dough.queries import desk_of
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Ingredient, Tin
from northfold.makes import freezing
from northfold.makes import services as makes
from northfold.makes.again import make_again
from northfold.makes.models import FrozenPlan, Make
from northfold.makes.queries import plan_of, thread_of
from northfold.web import panels
from northfold.web.models import ImmutableError
from tests.conftest import HARBOUR, write_formula

NOW = datetime(2026, 3, 2, 6, 0, tzinfo=UTC)


def change(user, formula, **grams):
    """Put other grams on lines of a formula's draft, by the line's words."""
    draft = dough.open_draft(user, formula)
    lines = [{**line, "grams": grams.get(line["text"].split()[2], line["grams"])} for line in draft.payload["lines"]]
    return dough.edit_draft(user, formula, draft.edit_no, {**draft.payload, "lines": lines})


@pytest.fixture
def make(head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)


def test_paste_becomes_a_draft_that_survives(head):
    draft = dough.open_draft(head, None)
    payload = editing.paste({**draft.payload, "name": "Quay crust"}, HARBOUR)
    payload["lines"][0]["grams"] = "abc"
    dough.edit_draft(head, None, draft.edit_no, payload)
    again = dough.open_draft(head, None)
    assert again.payload == payload  # the mistake is kept too
    assert again.edit_no == draft.edit_no + 1
    with pytest.raises(dough.NotReady, match="“abc” is not a weight"):
        dough.save_version(head, None, again.edit_no)


def test_draft_becomes_version_1_and_then_2(head):
    first = write_formula(head)
    assert (first.n, first.parent, first.author) == (1, None, head)
    assert first.source_text == HARBOUR
    assert [line.usual_g for line in first.lines.all()] == [420, 280, 140, 7]
    assert not Draft.objects.filter(formula=None).exists()
    draft = change(head, first.formula, cold="300")
    second = dough.save_version(head, first.formula, draft.edit_no)
    assert (second.n, second.parent) == (2, first)
    assert [line.usual_g for line in first.lines.all()] == [420, 280, 140, 7]
    assert [line.usual_g for line in second.lines.all()] == [420, 300, 300, 7]
    assert not dough.open_draft(head, first.formula).is_changed
    assert dough.save_version(head, first.formula, dough.open_draft(head, first.formula).edit_no) == second


def test_save_refuses_what_is_not_settled(head):
    for text, words in [
        ("100 g butter", "No flour"),
        ("100 g plain flour\n10 g blorp", "“10 g blorp” is not settled"),
        ("100 g plain flour\nsalt to taste", "choose its ingredient and grams"),
    ]:
        with pytest.raises(dough.NotReady, match=words):
            write_formula(head, text=text)
        dough.discard_draft(head, None)
    with pytest.raises(dough.NotReady, match="name"):
        write_formula(head, name="")


def test_immutable_rows_refuse_change(head, make):
    version = make.formula_version
    makes.start_make(make)
    for row in (version, version.lines.first(), version.lines.first().ingredient_revision, make.frozen_plans.get()):
        with pytest.raises(ImmutableError):
            row.save()
        with pytest.raises(ImmutableError):
            row.delete()
        with pytest.raises(ImmutableError):
            type(row).objects.filter(pk=row.pk).update(pk=row.pk)
        with pytest.raises(ImmutableError):
            type(row).objects.all().delete()
    assert FormulaVersion.objects.count() == 1
    assert Line.objects.count() == 4
    assert FrozenPlan.objects.count() == 1


def test_stale_edit_number_is_refused_with_both_texts(head, version):
    formula = version.formula
    seen = dough.open_draft(head, formula)
    change(head, formula, plain="500")
    mine = {**seen.payload, "name": "My name"}
    with pytest.raises(dough.StaleEdit) as stale:
        dough.edit_draft(head, formula, seen.edit_no, mine)
    assert stale.value.mine["name"] == "My name"
    assert stale.value.theirs["lines"][0]["grams"] == "500"
    assert dough.resolve_stale(head, formula, mine).payload["name"] == "My name"


def test_base_version_no_longer_newest_is_refused(head, version):
    other = kitchen.add_person(name="Other Head", role="head", username="other", password="quay-side-x").user
    mine = change(head, version.formula, plain="500")
    theirs = change(other, version.formula, plain="450")
    dough.save_version(other, version.formula, theirs.edit_no)
    with pytest.raises(dough.StaleEdit) as stale:
        dough.save_version(head, version.formula, mine.edit_no)
    assert "Other Head saved version 2" in stale.value.why
    draft = dough.resolve_stale(head, version.formula, stale.value.mine)
    third = dough.save_version(head, version.formula, draft.edit_no)
    assert (third.n, third.parent.n, third.lines.first().usual_g) == (3, 2, 500)


def test_draft_without_changes_follows_the_newest_version(head, version):
    other = kitchen.add_person(name="Other Head", role="head", username="other", password="quay-side-x").user
    dough.open_draft(other, version.formula)
    second = dough.save_version(head, version.formula, change(head, version.formula, plain="450").edit_no)
    assert dough.open_draft(other, version.formula).base_version == second


def test_changing_an_ingredient_moves_no_saved_figure(head, version, make):
    before = plan_of(make, now=NOW)
    butter = Ingredient.objects.get(name="unsalted butter")
    fat_free = {**version.lines.all()[1].ingredient_revision.composition, "fat": 0.5, "water": 0.48}
    newest = butter.revisions.first().matter
    kitchen.revise_ingredient(butter, replace(newest, composition=Composition(**fat_free)))
    assert plan_of(Make.objects.get(pk=make.pk), now=NOW) == before
    assert replace(thread_of(Make.objects.get(pk=make.pk), head).plan.inputs, now=NOW) == before.inputs
    fresh = write_formula(head, name="Fresh")
    assert fresh.facts.true_fat == pytest.approx(100 * 280 * 0.5 / 420)


def test_a_better_reading_later_moves_no_saved_figure(head, monkeypatch):
    version = write_formula(head, text="2 cups plain flour\n2 eggs\n100 g butter, cold")
    saved = [line.usual_g for line in version.lines.all()]

    def other(text, system, ingredients=None):
        raise AssertionError("a saved line was read again")

    monkeypatch.setattr(editing, "read_recipe", other)
    desk = desk_of(version.payload, version)
    assert [line.grams for line in desk.lines] == saved
    assert [line.preparation for line in desk.lines] == ["", "", "cold"]
    assert desk.lines[0].grams_low < desk.lines[0].grams < desk.lines[0].grams_high
    assert not any(row.is_marked for row in desk.rows)


def test_another_measuring_system_reads_the_cups_again(head):
    version = write_formula(head, text="2 cups plain flour", system="metric")
    post = {"system": "us"}
    payload = payload_from(post, version.payload)
    desk = desk_of(payload, version)
    assert desk.lines[0].grams == pytest.approx(2 * 236.6 * 0.53)


def test_make_previews_the_draft_and_moves_when_it_is_saved(head, version, make, flan_tin):
    other = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    assert not thread_of(make, head).is_preview
    draft = change(head, version.formula, plain="500")
    thread = thread_of(make, head)
    assert thread.is_preview
    assert thread.plan.ratio.flour_g == 500
    assert thread.plan.dough_g is not None
    assert plan_of(make).ratio.flour_g == 420
    second = makes.save_dough(head, make, draft.edit_no)
    make.refresh_from_db()
    other.refresh_from_db()
    assert make.formula_version == second
    assert other.formula_version == version


def test_start_freezes_the_plan(head, version, make):
    before = plan_of(make, now=NOW)
    frozen = makes.start_make(make, NOW)
    assert makes.start_make(make, NOW) == frozen  # twice changes nothing
    make.refresh_from_db()
    assert freezing.from_json(frozen.plan) == before
    assert plan(before.inputs, before.edits, before.learned) == before
    # Live tables may move as they like now.
    Tin.objects.update(top_mm=400, base_mm=400)
    make.items.update(count=1)
    change(head, version.formula, plain="999")
    assert thread_of(make, head).plan == before
    with pytest.raises(makes.StartedMake):
        makes.size_make(make, make.edit_no, items=[], loss=0, due_at=None)
    second = dough.save_version(head, version.formula, dough.open_draft(head, version.formula).edit_no)
    with pytest.raises(makes.StartedMake):
        makes.move_to(make, second)


def test_finish_needs_a_start_and_twice_changes_nothing(make):
    with pytest.raises(makes.CannotStart, match="has not started"):
        makes.finish_make(make)
    makes.start_make(make)
    make.refresh_from_db()
    makes.finish_make(make)
    makes.finish_make(make)
    assert Make.objects.get().state == "finished"


def test_nothing_starts_without_a_tin(head, version, flan_tin):
    bare = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    bare.items.all().delete()
    with pytest.raises(makes.CannotStart, match="Choose a tin"):
        makes.start_make(bare)


def test_make_again_takes_the_newest_version_and_the_same_pieces(head, version, make):
    second = dough.save_version(head, version.formula, change(head, version.formula, plain="450").edit_no)
    copy = make_again(head, make)
    assert copy.formula_version == second
    assert [item.core for item in copy.items.all()] == [item.core for item in make.items.all()]
    assert copy.pk != make.pk


def test_stale_sizes_are_refused(make):
    item = {"id": make.items.get(), "tin": make.items.get().tin, "count": 3, "thickness_mm": 3.0, "overhang_mm": 5.0}
    item |= {"trimming": "after", "margin_mm": 5.0, "offcuts": "apart"}
    makes.size_make(make, make.edit_no, items=[item], loss=0.02, due_at=None)
    with pytest.raises(makes.StaleMake):
        makes.size_make(make, make.edit_no, items=[item], loss=0.02, due_at=None)


def test_panels_of_all_registered_stages_show_in_order(head, make):
    faces = panels.faces(thread_of(make, head))
    assert [(panel.key, face.figure, face.line) for panel, face in faces] == [
        ("dough", "3 : 2 : 1", "pie dough, v 1"),
        ("size", "1.66\u2009kg", "6 × Ø 230"),
        ("fill", "bare", "no layers yet"),
        ("steps", "3 h 29", "17 steps"),
        ("cold", "4 °C", "water"),
        ("bake", "190 °C", "18 + 15 min"),
        ("bench", "–", "not started"),
        ("result", "1.2 %", "shrink expected"),
    ]
    panels.register(panels.Panel("none", "None", 15, lambda thread: None, "makes:size"))
    try:
        assert "none" not in [panel.key for panel, _ in panels.faces(thread_of(make, head))]
    finally:
        del panels._panels["none"]


def test_panel_words_stay_within_their_room_whatever_the_dough(head, flan_tin):
    wide = Tin.objects.create(name="w", kind=outlines.RECTANGLE, top_mm=999.5, base_mm=999.5, height_mm=20,
                              top_width_mm=999.5, base_width_mm=999.5)  # fmt: skip
    for text in ("1 g plain flour\n999999 g unsalted butter", HARBOUR, "100 g rice flour\n3 g water"):
        version = write_formula(head, name=text[:9], text=text)
        make = makes.create_make(head, version, tin=wide, count=5000, due_at=None)
        for _, face in panels.faces(thread_of(make, head)):
            assert len(face.figure) <= panels.FIGURE_UP_TO
            assert len(face.line) <= panels.LINE_UP_TO


def test_bin_and_back(head, version):
    formula = version.formula
    dough.bin_formula(formula)
    assert not type(formula).objects.kept().exists()
    dough.restore_formula(formula)
    assert type(formula).objects.kept().get() == formula
