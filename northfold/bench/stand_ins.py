"""The stand-ins of a kitchen: scale, label printer, a probe in its doughs as they really are, a sensor on its wall."""

import time

from django.conf import settings
from django.db import close_old_connections
from django.utils import timezone

from northfold.bench.queries import runs
from northfold.core.practice.truth import Truth, as_it_goes, dough_c, true_room, truth
from northfold.devices import services
from northfold.devices.models import Device
from northfold.devices.stand_ins.instruments import Probe, RoomSensor, Scale
from northfold.devices.stand_ins.pages import AnyStandIn, StandIn, StandIns
from northfold.devices.stand_ins.printer import PrinterStandIn
from northfold.kitchen.services import kitchen

# What stands in for what, by the key of its page.
NAMES = {
    "scale": ("Bench scale", Device.Kind.SCALE, "mass", "g"),
    "probe": ("Probe", Device.Kind.PROBE, "temperature", "°C"),
    "room": ("Wall by the door", Device.Kind.ROOM, "temperature", "°C"),
}
PRINTER = "Label printer"
IN_DOUGH, IN_AIR, BY_HAND = "in the dough", "in the air", "set"
# A dough and a room move slowly: they are looked at so often. [s]
LOOKS_S = 3.0


class Tip:
    """Where the tip of the probe is: in the dough that is worked, in the air, in what is as warm as somebody says."""

    def __init__(self, found: Truth, where: str = IN_DOUGH) -> None:
        self.found, self.where, self.told_c = found, where, 20.0
        self._seen_at, self._seen_c = float("-inf"), 20.0

    def put(self, where: str, number: float = 0.0) -> None:
        self.where, self.told_c = where, number if where == BY_HAND else self.told_c
        self._seen_at = float("-inf")

    def c(self) -> float:
        """How warm it is there. [°C]"""
        if self.where == BY_HAND:
            return self.told_c
        if time.monotonic() - self._seen_at > LOOKS_S:
            dough = _dough_now(self.found) if self.where == IN_DOUGH else None
            self._seen_c = room_now(self.found) if dough is None else dough
            self._seen_at = time.monotonic()
        return self._seen_c


def room_now(found: Truth) -> float:
    """How warm the room really is. [°C]"""
    close_old_connections()
    return true_room(kitchen().room_c, found)


def _dough_now(found: Truth) -> float | None:
    """How warm the dough really is that was tapped last at the bench; None where none is on its way. [°C]"""
    close_old_connections()
    under_way = [(run, run.progress.current) for run in runs()]
    newest = max(
        ((state.started_at, run, state) for run, state in under_way if state and state.started_at),
        key=lambda each: each[0],
        default=None,
    )
    if newest is None:
        return None
    started, run, state = newest
    minutes = (timezone.now() - started).total_seconds() / 60
    really = as_it_goes(run.plan, found)
    steps = [each.step for each in run.progress.steps]
    # Where nothing is traced of the step itself, the dough is as the one before left it.
    for step in reversed(steps[: steps.index(state.step) + 1]):
        c = dough_c(really, step.key, minutes if step is state.step else step.minutes)
        if c is not None:
            return c
    return None


def stand_ins(server: str, port: int, seed: int = 1, level: int = 1) -> StandIns:
    """
    A scale, a probe, a room sensor and a label printer of a server, each let in with a key of its own.

    What is hidden of their kitchen is drawn by `seed`, as far off as `level` lets it be.
    """
    found = truth(seed, level)
    tip, scale = Tip(found), Scale(seed)
    probe, room = Probe(seed, tip.c), RoomSensor(seed, Tip(found, IN_AIR).c)
    instruments: dict[str, Scale | Probe | RoomSensor] = {"scale": scale, "probe": probe, "room": room}
    acts = {
        "scale": {"put": scale.put, "tare": lambda _: scale.tare(), "clear": lambda _: scale.clear()},
        "probe": {
            IN_DOUGH: lambda _: tip.put(IN_DOUGH),
            IN_AIR: lambda _: tip.put(IN_AIR),
            BY_HAND: lambda number: tip.put(BY_HAND, number),
        },
        "room": {},
    }
    says = {
        "scale": "Shows whole grams, follows a load within a second, and drifts a little.",
        "probe": "In the dough of the make that was tapped last, as it really is in this kitchen.",
        "room": "As warm as the room really is, which is not what the kitchen’s settings say.",
    }
    made: dict[str, AnyStandIn] = {}
    for key, (name, kind, quantity, unit) in NAMES.items():
        address, word = _let_in(server, name, kind)
        made[key] = StandIn(name, instruments[key], f"{address}/readings", word, quantity, unit, acts[key], says[key])
    address, word = _let_in(server, PRINTER, Device.Kind.PRINTER)
    folder = settings.DATA_DIR / "labels"
    made["printer"] = PrinterStandIn(PRINTER, f"{address}/labels", word, folder, "Writes SVG and PDF to var/labels.")
    return StandIns(made, port)


def _let_in(server: str, name: str, kind: Device.Kind) -> tuple[str, str]:
    """The address of a stand-in, and a new key for it."""
    device = Device.objects.kept().filter(name=name, kind=kind, is_stand_in=True).first()
    if device is None:
        device, word = services.add_device(name=name, kind=kind, is_stand_in=True)
    else:
        word = services.new_key(device)
    return f"{server.rstrip('/')}/devices/{device.uuid}", word
