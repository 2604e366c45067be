"""A thousand random taps of one make from three devices, lost, repeated and late: they fold to one state for all."""

import random
import uuid
from collections import Counter
from itertools import pairwise

import pytest

from northfold.bench.queries import run_of, steps_of
from northfold.bench.services import record
from northfold.core.errors import CoreError
from northfold.core.method.route import progress
from northfold.core.method.route.recording import check
from northfold.makes import services as makes

TAPS, DEVICES = 1000, ("by the oven", "at the bench", "in a pocket")
LOST, ANSWER_LOST, AGAIN = 0.15, 0.15, 0.1


class Network:
    """Between a device and the kitchen: a tap may not arrive, its answer may not, and either may come twice."""

    def __init__(self, rng, make, users):
        self.rng, self.make, self.users = rng, make, users
        self.refused, self.taken = {}, {}

    def send(self, device, tap):
        """Whether the device has an answer that names the tap."""
        if self.rng.random() < LOST:
            return False
        for _ in range(2 if self.rng.random() < AGAIN else 1):
            self._arrives(device, tap)
        return self.rng.random() >= ANSWER_LOST

    def _arrives(self, device, tap):
        try:
            event = record(self.users[device], self.make, device=device, **tap)
        except CoreError as error:
            self.refused.setdefault(tap["client_id"], str(error))
        else:
            # The same answer, whenever it is asked for again.
            first = self.taken.setdefault(tap["client_id"], event.pk)
            assert first == event.pk


def random_tap(rng, seen):
    """What somebody may tap who sees a make so: mostly sense, now and then a step that is over or still to come."""
    current = seen.progress.current or seen.progress.steps[-1]
    state = current if rng.random() < 0.85 else rng.choice(seen.progress.steps)
    done = "trip" if state.step.trips and not state.is_last_trip else "done"
    kind = rng.choices(
        ["weighed", done, "probed", "started", "extended", "undone", "paused", "note", "looked"],
        [50, 6, 12, 6, 6, 5, 3, 6, 6],
    )[0]
    values = {
        "weighed": {"line": rng.randrange(4), "grams": rng.choice(["", f"{rng.uniform(1, 500):.1f}"])},
        "probed": {"c": f"{rng.uniform(-5, 30):.1f}"},
        "extended": {"minutes": str(rng.choice([5, -5, 10]))},
        "note": {"text": f"note {rng.random()}"},
        "looked": {"right": True},
        "trip": {"trip": state.trip},
    }
    key = "weigh" if kind == "weighed" else state.step.key
    return {
        "kind": kind,
        "step_key": key,
        "client_id": uuid.UUID(int=rng.getrandbits(128)).hex,
        "value": values.get(kind, {}),
    }


@pytest.mark.parametrize("seed", [7])
def test_a_thousand_taps_from_three_devices_fold_to_one_state(seed, head, people, version, flan_tin):
    rng = random.Random(seed)
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(make)
    network = Network(rng, make, dict(zip(DEVICES, (head, people["bench"], head), strict=True)))
    queues = {device: [] for device in DEVICES}
    views = dict.fromkeys(DEVICES, run_of(make))
    tapped = 0
    while tapped < TAPS or any(queues.values()):
        device = rng.choice(DEVICES)
        if tapped < TAPS:
            # What it shows may be old: it looks anew only now and then.
            if rng.random() < 0.1:
                views[device] = run_of(make)
            queues[device].append(random_tap(rng, views[device]))
            tapped += 1
        if rng.random() < 0.6 or tapped >= TAPS:
            while queues[device] and network.send(device, queues[device][0]):
                queues[device].pop(0)
    run = run_of(make)
    events = list(make.events.all())
    # Each tap was taken or refused; each taken once, "done" of two devices perhaps as one; numbered without a gap.
    assert len({*network.taken, *network.refused}) == TAPS
    assert [each.seq for each in events] == list(range(1, len(events) + 1))
    assert set(network.taken.values()) == {each.pk for each in events}
    assert max(Counter(each.client_id for each in events).values()) == 1
    assert all(before.at <= after.at for before, after in pairwise(events))
    # One device alone, without any loss, comes to the same with the taps in the order in which they were taken.
    told, steps = [], steps_of(run.plan)
    for number, event in enumerate(events):
        if number % 9 == 0:
            state = progress.fold(steps, run.started_at, told)
            assert check(state, event.kind, event.step_key, event.value, len(run.plan.scaled)) is not None
        told.append(event.core)
    assert progress.fold(steps, run.started_at, told) == run.progress
    # By another way of counting: what was weighed last of each line, and which steps stand as done.
    last = {}
    for event in events:
        if event.kind == "weighed":
            last[event.value["line"]] = event.value["grams"]
    assert run.progress.weighed == {line: grams for line, grams in last.items() if grams is not None}
    done = set()
    for event in events:
        if event.kind == "done":
            assert event.step_key not in done
            done.add(event.step_key)
        elif event.kind == "undone":
            done.discard(event.step_key)
    assert {each.step.key for each in run.progress.steps if each.done_at is not None} == done
    assert len(done) >= 5 and len(events) > TAPS / 2
