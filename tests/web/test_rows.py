"""Steps, fields and shapes that came as rows of their tables, as their users meet them: desk, bench, rack, methods."""

import re
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from northfold.bench import services as bench
from northfold.bench.queries import run_of
from northfold.core.method.choices.fields import field_of
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.kitchen.models import Place, Tin
from northfold.makes import methods
from northfold.makes import services as makes
from northfold.makes.queries import plan_of
from northfold.makes.stages import bake, cold
from northfold.makes.stages.fields import Fields
from northfold.makes.stages.page import STAGES


@pytest.fixture
def make(head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)


def page_of(client, make, stage):
    return " ".join(client.get(f"/makes/{make.pk}/{stage}/").content.decode().split())


def edit(client, make, step, field, value):
    return client.post(f"/makes/{make.pk}/steps/edit/", {"step": step, "field": field, "value": value})


# -- a boat mould


def test_a_boat_mould_is_put_on_the_rack_sized_and_drawn_with_its_tips(sign_in, head, version):
    client = sign_in("head")
    measures = {"name": "Silver boat", "top_mm": "110", "top_width_mm": "50", "base_mm": "90", "base_width_mm": "34",
                "height_mm": "18", "owned": "24", "per_tray": "12", "material": "bright"}  # fmt: skip
    asked = client.get(f"{reverse('kitchen:new_tin')}?kind=boat").content.decode()
    assert all(f'name="{name}"' in asked for name in ("top_mm", "top_width_mm", "base_width_mm", "height_mm"))
    assert client.post(f"{reverse('kitchen:new_tin')}?kind=boat", measures).status_code == 302
    boat = Tin.objects.get(name="Silver boat")
    assert boat.kind == "boat" and boat.shape.size == "110 × 50 × 18"
    make = makes.create_make(head, version, tin=boat, count=24, due_at=None)
    page = page_of(client, make, "size")
    rings, cut = re.findall(r'<path class="ring (\w+)" d="(M[^"]*)"', page), page.count('<path class="cut-piece"')
    assert {name for name, _ in rings} >= {"blank", "base"} and cut >= 24
    # Two arcs from tip to tip and back: it ends where it began.
    for _, path in rings:
        numbers = [float(each) for each in re.findall(r"-?\d+(?:\.\d+)?", path)]
        assert path.count("A") == 2 and path.endswith("Z") and numbers[:2] == numbers[-2:]
    assert not plan_of(make).problems and "cut" in {each.key for each in plan_of(make).route.steps}
    wrong = client.post(f"{reverse('kitchen:new_tin')}?kind=boat", {**measures, "base_mm": "130"})
    assert wrong.status_code == 422 and "wider than the top" in wrong.content.decode()


# -- the tray, and what may be left out


def test_the_tray_is_told_on_steps_left_out_and_taken_back(sign_in, make):
    client = sign_in("bench")
    page = page_of(client, make, "steps")
    assert "Turn every tray round, back to front" in page and re.search(r"After \d+ min: Turn the tray\.", page)
    edit(client, make, "tray", "skip", "yes")
    page = page_of(client, make, "steps")
    assert "Turn every tray round" not in page and "Turn the tray" in page  # the way back
    assert all(each.key != "tray" for each in plan_of(make).route.steps)
    (said,) = methods.in_words(plan_of(make).edits, plan_of(make))
    assert (said.step, said.what, said.is_so) == ("Turn the tray", "this step", "is left out")
    edit(client, make, "tray", "skip", "")
    assert any(each.key == "tray" for each in plan_of(make).route.steps)


def test_at_the_bench_the_tray_stands_beside_the_bake_and_is_past_when_it_is_out(sign_in, head, make):
    client, began = sign_in("bench"), timezone.now() - timedelta(hours=5)
    makes.start_make(make, began)
    make.refresh_from_db()
    stage = max((s for s in plan_of(make).route.along if s.key.startswith("bake.")), key=lambda s: s.wait_min).key

    def tap(key, minute):
        at = began + timedelta(minutes=minute)
        bench.record(head, make, kind="done", step_key=key, client_id=f"t{key}{minute}", value={}, device="d", at=at)

    minute = 0
    while run_of(make).progress.current.step.key != stage:
        tap(run_of(make).progress.current.step.key, minute := minute + 5)
    page = " ".join(client.get(f"/bench/{make.pk}/").content.decode().split())
    assert re.search(r"After \d+ min: <strong>turn the tray</strong>", page)
    tap(stage, minute + 5)
    progress = run_of(make).progress
    assert progress.state("tray").has_lapsed and progress.current.step.key != "tray"
    whole = len(progress.steps)
    assert f"All steps, {progress.done_count} of {whole} done" in " ".join(
        client.get(f"/bench/{make.pk}/").content.decode().split()
    )
    # Somebody who turned it all the same may still say so.
    tap("tray", minute + 6)
    assert run_of(make).progress.state("tray").done_at is not None


# -- fields


def fields_of(stage, shown):
    if stage == "steps":
        steps = shown.plan.route.steps
        return [each for step in steps for each in (*shown.of_step(step), *shown.own_hand(step))]
    return cold.fields_of(shown) if stage == "cold" else bake.fields_of(shown)


@pytest.mark.parametrize("stage", ["steps", "cold", "bake"])
def test_every_number_of_a_stage_is_refused_in_the_words_of_its_row(stage, sign_in, make):
    Place.objects.create(name="Bench", kind="bench_wood")
    client, tried = sign_in("bench"), set()
    for each in fields_of(stage, Fields(plan_of(make))):
        kind = field_of(each.step_key, each.name)
        if not kind.is_number or (each.step_key, each.name) in tried:
            continue
        tried.add((each.step_key, each.name))
        far = f"{kind.high * 10 + 7:.12g}"
        sent = {"step": each.step_key, "field": each.name, "value": far}
        answer = client.post(f"/makes/{make.pk}/{stage}/edit/", sent)
        page = " ".join(answer.content.decode().split())
        assert answer.status_code == 422 and kind.number in page and f'value="{far}"' in page, sent
        assert f"{kind.high:.12g}" in page.replace(",", ""), sent
    assert len(tried) >= {"steps": 12, "cold": 5, "bake": 1}[stage] and not make.step_edits.exists()


def test_a_field_that_a_step_does_not_have_is_told_and_nothing_is_kept(sign_in, make):
    client = sign_in("bench")
    for step, field in (("mix", "thickness_mm"), ("bake.off", "place"), ("weigh", "skip"), ("rest.1", "name")):
        answer = edit(client, make, step, field, "12")
        assert answer.status_code == 422 and "No step takes this" in answer.content.decode(), (step, field)
    # Asked for in place, the note comes with the answer.
    sent = {"step": "mix", "field": "thickness_mm", "value": "12"}
    answer = client.post(f"/makes/{make.pk}/steps/edit/", sent, headers={"HX-Request": "true"}).content.decode()
    assert 'id="notes"' in answer and "hx-swap-oob" in answer and "No step takes this" in answer
    fine = {"step": "rest.1", "field": "minutes", "value": "45"}
    answer = client.post(f"/makes/{make.pk}/steps/edit/", fine, headers={"HX-Request": "true"}).content.decode()
    assert 'id="notes"' not in answer
    edit(client, make, "rest.1", "minutes", "")
    assert not make.step_edits.exists()


def test_every_field_that_a_page_shows_has_its_label_from_its_row(make):
    plan = plan_of(make)
    shown = Fields(plan)
    for step in plan.route.steps:
        for each in (*shown.of_step(step), *shown.own_hand(step)):
            kind = field_of(each.step_key, each.name)
            assert kind is not None and each.label in (kind.label, step_kinds()[step.key].name), (step.key, each.name)
            assert each.unit == kind.shown_unit


def test_every_stage_of_the_pleat_has_its_page_and_its_edit(sign_in, make):
    client = sign_in("guest")
    assert set(STAGES) == {"fill", "steps", "fold", "cold", "bake"}
    for stage in STAGES:
        assert client.get(f"/makes/{make.pk}/{stage}/").status_code == 200
        assert client.post(f"/makes/{make.pk}/{stage}/edit/", {}).status_code == 403
