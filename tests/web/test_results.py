"""Results: what was measured becomes evidence, and the next make is sized by it."""

import pytest

from northfold.kitchen.learning import learn_from, standing_evidence
from northfold.kitchen.models import Evidence
from northfold.kitchen.queries import learned
from northfold.kitchen.reckoning import learned_values
from northfold.makes import services as makes
from northfold.makes.queries import plan_of
from northfold.records.models import Result
from northfold.records.queries import outcome_of, standing_result
from northfold.records.services import Findings, NotBaked, NothingSaid, Superseded, record_result
from northfold.web.models import ImmutableError
from tests.conftest import write_formula

PROUD = [2.0] * 4
THREE_PERCENT = [-2.2] * 4  # 4.2 mm at each end: 8.4 mm of 280


def flush_make(user, version, tin):
    make = makes.create_make(user, version, tin=tin, count=6, due_at=None)
    makes.trim_all(make, "flush")
    makes.edit_step(user, make, "chill.1", "minutes", "51")
    make.refresh_from_db()
    return make


@pytest.fixture
def baked(head, version, flan_tin):
    make = flush_make(head, version, flan_tin)
    makes.start_make(make)
    make.refresh_from_db()
    return make


def record(user, make, supersedes=None, **found):
    return record_result(user, make, Findings(**found), supersedes=supersedes)


def test_three_percent_moves_the_next_allowance(head, version, flan_tin, baked):
    """The worked example: about 1.1 % predicted, 3.0 measured; scale 1.33 ± 0.29, weight 0.315, 1.6 to 2.1 mm."""
    before = plan_of(flush_make(head, version, flan_tin))
    assert before.pieces[0].rim_mm == (2.0,)
    result = record(head, baked, before_mm=PROUD, after_mm=THREE_PERCENT, gap_mm=1.0)
    outcome = outcome_of(result, plan_of(baked))
    assert outcome.measured.percent == pytest.approx(3.0)
    assert outcome.predicted.percent == pytest.approx(1.107, abs=0.01)
    taught = outcome.taught
    assert taught.update.weight == pytest.approx(0.315, abs=0.005)
    assert (taught.after.mean, taught.after.sd) == (pytest.approx(1.33, abs=0.01), pytest.approx(0.29, abs=0.005))
    assert taught.allowance_before.exact_mm == pytest.approx(1.55, abs=0.02)
    assert (taught.allowance_after.exact_mm, taught.allowance_after.whole_mm) == (pytest.approx(2.06, abs=0.03), 3)
    after = plan_of(flush_make(head, version, flan_tin))
    assert after.pieces[0].rim_mm == (3.0,)
    assert after.route.shrink[0].scale == pytest.approx(taught.after.mean)
    assert plan_of(baked).pieces[0].rim_mm == (2.0,)  # the started one never moves


def test_a_doubtful_record_does_not_teach(head, baked):
    record(head, baked, before_mm=PROUD, after_mm=THREE_PERCENT, gap_mm=1.0, doubtful=True)
    assert Evidence.objects.count() == 1
    assert learned().shrink_scales == ()


def test_a_slumped_wall_is_not_shrink(head, baked):
    result = record(head, baked, before_mm=PROUD, after_mm=THREE_PERCENT, gap_mm=0.0)
    assert result.slumped
    assert learned().shrink_scales == ()


def test_a_correction_supersedes_and_is_all_that_teaches(head, baked):
    first = record(head, baked, before_mm=PROUD, after_mm=THREE_PERCENT, gap_mm=1.0)
    once = learn_from(standing_evidence(Evidence.Kind.SHRINK), first.evidence.subject).mean
    with pytest.raises(Superseded):
        record(head, baked, note="unaware of the first")
    second = record(head, baked, first.pk, before_mm=PROUD, after_mm=[1.0] * 4, gap_mm=1.0)
    assert standing_result(baked) == second
    assert learn_from(standing_evidence(Evidence.Kind.SHRINK), second.evidence.subject).mean < once
    assert Result.objects.count() == 2  # nothing is lost
    third = record(head, baked, second.pk, note="never measured, after all")
    assert learned().shrink_scales == ()
    assert third.evidence.doubtful
    with pytest.raises(ImmutableError):
        third.delete()


def test_a_tin_starts_from_its_family(head, baked, version, flan_tin):
    record(head, baked, before_mm=PROUD, after_mm=THREE_PERCENT, gap_mm=1.0)
    from northfold.kitchen.models import Tin

    other = Tin.objects.create(name="Other", kind="round", top_mm=200, base_mm=200, height_mm=25)
    assert plan_of(flush_make(head, version, other)).route.shrink[0].scale == pytest.approx(1.33, abs=0.01)
    sweet = write_formula(head, "Sweet", "250 g plain flour\n150 g unsalted butter\n90 g icing sugar\n36 g egg yolk")
    assert plan_of(flush_make(head, sweet, flan_tin)).route.shrink[0].scale == 1.0


def test_nothing_to_say_or_nothing_baked_is_refused(head, version, flan_tin, baked):
    with pytest.raises(NothingSaid, match="Measure the rim"):
        record(head, baked)
    with pytest.raises(NotBaked):
        record(head, flush_make(head, version, flan_tin), note="early")


# -- the page


def sent(before="2", after="-2.2", **more):
    points = ("far", "right", "near", "left")
    return {
        **{f"before_{point}": before for point in points}, **{f"after_{point}": after for point in points},
        "gap": "1", "taste": "", "note": "", "supersedes": "", **more,
    }  # fmt: skip


def test_the_page_takes_a_result_and_shows_what_it_taught(sign_in, baked):
    client = sign_in("bench")
    address = f"/makes/{baked.pk}/result/"
    assert client.get(address).status_code == 200
    answer = client.post(
        address, sent(faults=["domed", "shrank"], taste="nearly", note="Oven door stood open."), follow=True
    )
    page = answer.content.decode()
    for words in ("3.0 %", "1.32", "weight is 0.31", "domed", "nearly", "Oven door stood open.", "this record"):
        assert words in page, words
    assert "Correct it" in page
    assert 'value="-2.2"' in client.get(f"{address}?correct=1").content.decode()


@pytest.mark.parametrize(
    "form, words",
    [
        (sent(after="3"), "3 mm after is higher than 2 mm before"),
        (sent(before="900"), "900 mm is outside -200 to 200 mm"),
        (sent(before="abc"), "“abc” is not a number of mm"),
        (sent(after_left=""), "measure all four points"),
        (sent(gap="80"), "80 mm is outside 0 to 50 mm"),
        ({"note": "  "}, "Nothing is filled in yet"),
    ],
)
def test_bad_measures_are_named_and_what_was_typed_stays(sign_in, baked, form, words):
    form = {**form, "note": form.get("note") or "kept words"} if words[0] != "N" else form
    answer = sign_in("bench").post(f"/makes/{baked.pk}/result/", form)
    page = answer.content.decode()
    assert answer.status_code == 422
    assert words in page
    for name in ("before_far", "after_far", "gap"):
        if form.get(name):
            assert f'value="{form[name]}"' in page
    assert not Result.objects.exists()


def test_guests_see_results_and_write_none(sign_in, head, baked):
    client = sign_in("guest")
    address = f"/makes/{baked.pk}/result/"
    assert b'name="before_far"' not in client.get(address).content
    assert client.post(address, sent()).status_code == 403
    record(head, baked, note="fine")
    assert b"fine" in client.get(address).content


def test_how_we_reckon_shows_what_was_learned_and_where_it_starts(sign_in, head, baked):
    page = sign_in("guest").get("/kitchen/how-we-reckon/").content.decode()
    assert "Nothing yet" in page
    assert "Choi and Okos" in page
    record(head, baked, before_mm=PROUD, after_mm=THREE_PERCENT, gap_mm=1.0)
    rows = {found.of: found.value for found in learned_values()}
    assert set(rows) == {"shrink of pie dough in any tin", "shrink of pie dough in Flan tin"}
    page = sign_in("guest").get("/kitchen/how-we-reckon/").content.decode()
    assert f"{rows['shrink of pie dough in Flan tin'].mean:.2f}" in page
