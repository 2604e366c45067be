"""Accounts, and the two manners of rows that every app shares: immutable ones and ones with a bin."""

from datetime import datetime, timedelta
from typing import Any, ClassVar, NoReturn

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils import timezone

from northfold.web.permissions import RIGHTS, Role

BIN_DAYS = 30


class User(AbstractUser):
    """Somebody who signs in, with one role."""

    role = models.CharField(max_length=10, choices=Role.choices, default=Role.GUEST)

    def may(self, right: str) -> bool:
        return self.is_active and self.role in RIGHTS[right]

    @property
    def called(self) -> str:
        return self.get_full_name() or self.username


class ImmutableError(TypeError):
    """Somebody tried to change a row that is kept as it was."""

    def __init__(self, model: type[models.Model]) -> None:
        super().__init__(f"A {model._meta.verbose_name} is kept as it was; make a new one instead.")


class ImmutableQuerySet(models.QuerySet):
    def _refuse(self, *args: Any, **kwargs: Any) -> NoReturn:
        raise ImmutableError(self.model)

    update = delete = bulk_update = _refuse


class Immutable(models.Model):
    """A row that is written once."""

    objects = ImmutableQuerySet.as_manager()

    class Meta:
        abstract = True

    def save(self, *args: Any, **kwargs: Any) -> None:
        if not self._state.adding:
            raise ImmutableError(type(self))
        super().save(*args, **{**kwargs, "force_insert": True})

    def delete(self, *args: Any, **kwargs: Any) -> NoReturn:
        raise ImmutableError(type(self))


class BinnedQuerySet(models.QuerySet):
    def kept(self) -> "BinnedQuerySet":
        return self.filter(binned_at=None)

    def binned(self, now: datetime) -> "BinnedQuerySet":
        """What lies in the bin and can still be put back."""
        return self.filter(binned_at__gt=now - timedelta(days=BIN_DAYS)).order_by("-binned_at")


class Binned(models.Model):
    """A row that is put into the bin and can be put back for 30 days."""

    binned_at = models.DateTimeField(null=True, blank=True, editable=False)

    objects: ClassVar[Any] = BinnedQuerySet.as_manager()

    class Meta:
        abstract = True

    def put_in_bin(self) -> None:
        self.binned_at = timezone.now()
        self.save(update_fields=["binned_at"])

    def put_back(self) -> None:
        self.binned_at = None
        self.save(update_fields=["binned_at"])

    @property
    def bin_days_left(self) -> int:
        return max(0, BIN_DAYS - (timezone.now() - self.binned_at).days)
