"""What evidence teaches is kept as it stands: the same, to the last digit, as reading all of it anew."""

import random
from datetime import UTC, datetime, timedelta

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from northfold.core.formula.liquid import LIQUID_RECORD_SD, LIQUID_SD
from northfold.core.heat.mixing import FRICTION_SD
from northfold.core.learning.places import PlaceEvidence, learn_place
from northfold.core.learning.values import RECORD_SD, learn_scale
from northfold.core.learning.values import Evidence as Measured
from northfold.kitchen import learning, queries
from northfold.kitchen.models import Evidence, LearnedState, Place
from northfold.kitchen.services import record_evidence, save_row

Kind = Evidence.Kind
pytestmark = pytest.mark.django_db
FIRST = datetime(2026, 3, 1, 6, 0, tzinfo=UTC)
SUBJECTS = [
    (Kind.SHRINK, "shortcrust/tin:1"),
    (Kind.SHRINK, "shortcrust/tin:2"),
    (Kind.SHRINK, "shortcrust"),
    (Kind.SHRINK, "short/tin:1"),
    (Kind.LIQUID, "plain flour"),
    (Kind.LIQUID, "rye flour"),
    (Kind.FRICTION, "fingers"),
]


@pytest.fixture
def fridge():
    return Place.objects.create(name="Walk-in", kind="fridge", air_c=4.0)


def record(scatter, number, fridge, *, supersedes=None, at=None, **values):
    kind, subject = scatter.choice([*SUBJECTS, (Kind.PLACE, fridge.core.key)])
    if supersedes is not None:
        kind, subject = supersedes.kind, supersedes.subject
    detail = {"per_film": scatter.uniform(-4, -0.5), "per_air": scatter.uniform(0.2, 0.95), "air_c": 4.0}
    return record_evidence(
        kind=kind,
        subject=subject,
        predicted=scatter.uniform(2, 9),
        measured=scatter.uniform(2, 12),
        instrument=scatter.choice([0.5, 1.4]),
        detail=detail if kind == Kind.PLACE else {},
        source=f"make {number}",
        at=at or FIRST + timedelta(hours=number),
        supersedes=supersedes,
        **values,
    )


def from_all_evidence(fridge):
    """Every learned value by the core, from every row that stands and is not doubted, in the order of its date."""
    rows = [row for row in Evidence.objects.all() if not row.doubtful and not hasattr(row, "superseded_by")]
    rows.sort(key=lambda row: (row.at, row.pk))

    def of(fits):
        return [Measured(row.predicted, row.measured, row.instrument) for row in rows if fits(row)]

    found = {}
    shrink = {row.subject for row in rows if row.kind == Kind.SHRINK}
    for family in {subject.split("/")[0] for subject in shrink}:
        mine = lambda row, family=family: row.kind == Kind.SHRINK and row.subject.split("/")[0] == family  # noqa: E731
        found[Kind.SHRINK, family] = learn_scale(of(mine))
        for tin in {subject for subject in shrink if subject.startswith(f"{family}/")}:
            elsewhere = learn_scale(of(lambda row, tin=tin, mine=mine: mine(row) and row.subject != tin)).mean
            found[Kind.SHRINK, tin] = learn_scale(of(lambda row, tin=tin: row.subject == tin), prior_mean=elsewhere)
    sds = {Kind.LIQUID: (LIQUID_SD, LIQUID_RECORD_SD), Kind.FRICTION: (FRICTION_SD, RECORD_SD)}
    for kind, subject in {(row.kind, row.subject) for row in rows if row.kind in sds}:
        own = of(lambda row, kind=kind, subject=subject: (row.kind, row.subject) == (kind, subject))
        prior, each = sds[kind]
        found[kind, subject] = learn_scale(own, prior_sd=prior, record_sd=each)
    pairs = [
        PlaceEvidence(row.predicted, row.measured, probe_k=row.instrument, **row.detail)
        for row in rows
        if row.kind == Kind.PLACE
    ]
    return found, learn_place(pairs, fridge.air_c)


def assert_exact(fridge):
    scales, place = from_all_evidence(fridge)
    kept = learning.states()
    of_scales = {key: state for key, state in kept.items() if key[0] != Kind.PLACE}
    assert of_scales.keys() == scales.keys()
    for key, value in scales.items():
        told = of_scales[key].value
        assert (told.mean, told.sd, told.count) == (value.mean, value.sd, value.count), key
    ((_, told),) = queries.places_with_learning()
    assert told == place


@pytest.mark.parametrize("seed", range(4))
def test_states_moved_piece_by_piece_are_those_of_all_evidence_to_the_last_digit(fridge, seed):
    scatter = random.Random(seed)
    standing = []
    for number in range(120):
        turn = scatter.random()
        if turn < 0.12 and standing:
            old = standing.pop(scatter.randrange(len(standing)))
            standing.append(record(scatter, number, fridge, supersedes=old, doubtful=turn < 0.03))
        elif turn < 0.2:
            # Written down late: its day lies before others that were taken in already.
            standing.append(record(scatter, number, fridge, at=FIRST - timedelta(days=number)))
        else:
            standing.append(record(scatter, number, fridge, doubtful=turn > 0.95))
    assert_exact(fridge)
    before = {(state.kind, state.subject): state.state for state in LearnedState.objects.all() if state.count}
    learning.rebuild()
    after = {(state.kind, state.subject): state.state for state in LearnedState.objects.all() if state.count}
    assert after == before


def test_a_dial_that_is_set_anew_moves_where_the_readings_count_from(fridge):
    scatter = random.Random(7)
    for number in range(40):
        record(scatter, number, fridge)
    save_row(fridge, {"air_c": 2.5})
    assert_exact(fridge)


def test_evidence_written_past_the_services_is_seen_at_once_and_taken_in_with_the_next(fridge):
    scatter = random.Random(11)
    for number in range(20):
        record(scatter, number, fridge)
    row = Evidence.objects.filter(kind=Kind.LIQUID).first()
    values = {"predicted": 50, "measured": 70, "instrument": 1, "at": FIRST, "source": "elsewhere"}
    Evidence.objects.bulk_create([Evidence(kind=Kind.LIQUID, subject=row.subject, **values)])
    assert_exact(fridge)
    record(scatter, 21, fridge)
    assert_exact(fridge)
    assert learning.rebuild() == LearnedState.objects.count()


def test_reading_what_was_learned_takes_one_short_query_however_much_evidence_there_is(fridge):
    scatter = random.Random(3)
    for number in range(60):
        record(scatter, number, fridge)
    with CaptureQueriesContext(connection) as asked:
        learning.states()
    (query,) = (each["sql"] for each in asked)
    assert 'FROM "kitchen_learnedstate"' in query
    assert query.endswith('LIMIT 1) AS "newest" FROM "kitchen_learnedstate"')
