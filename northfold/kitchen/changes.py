"""Counts the changes of what plans read of the kitchen, so that what is kept of plans knows whether it still holds."""

from collections.abc import Iterable
from typing import Any

from django.db.models import F, Model
from django.db.models.signals import post_save

from northfold.kitchen.models import Evidence, Kitchen, LearnedState, PackPrice, Tin
from northfold.web.once import forget

# No plan reads these; a tin moves the makes that it is chosen for, and what is learned those that use it, which the app
# of makes sees to.
PASSED_OVER = (Evidence, LearnedState, PackPrice, Tin)


def count(sender: Any = None, **_: object) -> None:
    """One change more, and what this request has read of the kitchen is read again."""
    forget()
    if sender not in PASSED_OVER:
        Kitchen.objects.update(changes=F("changes") + 1)


def connect(models: Iterable[type[Model]]) -> None:
    """Count whatever is saved of these, whichever service writes it."""
    for model in models:
        if not str(model._meta.object_name).startswith("Historical"):
            post_save.connect(count, sender=model)
