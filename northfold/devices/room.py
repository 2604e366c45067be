"""A room sensor: what it has read for a while is the room of the day, for the plans of today."""

from datetime import timedelta
from statistics import median

from django.utils import timezone

from northfold.core.method.choices.kitchen import ROOM_RANGE_C
from northfold.devices.models import Device, Reading
from northfold.kitchen import queries, services

# The room is what a sensor has read for so long, from so many readings on: a door that stands open is no weather.
WATCHED, LEAST = timedelta(minutes=10), 3
# It moves the plans of today from so much on. [K] Less moves no minutes that anyone would see.
MOVES_K = 1.0


def heard(device: Device, reading: Reading) -> None:
    """A reading has come in: where a room sensor has found the room otherwise for a while, the day goes by it. [°C]"""
    if device.kind != Device.Kind.ROOM or not reading.stable:
        return
    now = timezone.now()
    seen = device.readings.filter(at__gt=now - WATCHED, stable=True).values_list("value", flat=True)
    if len(seen) < LEAST:
        return
    found = min(max(round(2 * median(seen)) / 2, ROOM_RANGE_C[0]), ROOM_RANGE_C[1])
    today = queries.day_room_c(now)
    if abs(found - (queries.the_kitchen().room_c if today is None else today)) >= MOVES_K:
        services.note_room(found)
