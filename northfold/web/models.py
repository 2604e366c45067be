"""Accounts, and the two manners of rows that every app shares: immutable ones and ones with a bin."""

import uuid
from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any, ClassVar, NoReturn, TypeVar

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils import timezone
from django.utils.crypto import salted_hmac

from northfold.web import audit
from northfold.web.permissions import RIGHTS, Role

BIN_DAYS = 30


class User(AbstractUser):
    """Somebody who signs in, with one role."""

    role = models.CharField(max_length=10, choices=Role.choices, default=Role.GUEST)
    must_change_password = models.BooleanField(default=False, help_text="Somebody else chose it: changed at once")
    sessions_from = models.PositiveIntegerField(default=0, help_text="One more ends every session there is")

    def _get_session_auth_hash(self, secret: str | None = None) -> str:
        """Django's own, which also moves when somebody is signed out everywhere."""
        held = self.password if not self.sessions_from else f"{self.password}{self.sessions_from}"
        salt = "django.contrib.auth.models.AbstractBaseUser.get_session_auth_hash"
        return salted_hmac(salt, held, secret=secret, algorithm="sha256").hexdigest()

    def may(self, right: str) -> bool:
        return self.is_active and self.role in RIGHTS[right]

    @classmethod
    def like(cls, username: str, full_name: str) -> "User":
        """Somebody of these names, saved nowhere: a password must not be like them."""
        first, _, last = full_name.partition(" ")
        return cls(username=username, first_name=first, last_name=last)

    @property
    def called(self) -> str:
        return self.get_full_name() or self.username


class ImmutableError(TypeError):
    """Somebody tried to change a row that is kept as it was."""

    def __init__(self, model: type[models.Model]) -> None:
        super().__init__(f"A {model._meta.verbose_name} is kept as it was; make a new one instead.")


class ImmutableQuerySet(models.QuerySet[Any]):
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


OfBin = TypeVar("OfBin", bound="Binned")


def in_bin(rows: "Iterable[OfBin]", now: datetime) -> "list[OfBin]":
    """Of rows that were read with what is binned among them: what can still be put back, the latest first."""
    found = [row for row in rows if row.binned_at is not None and row.binned_at > now - timedelta(days=BIN_DAYS)]
    return sorted(found, key=lambda row: row.binned_at or now, reverse=True)


class BinnedQuerySet(models.QuerySet[Any]):
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
        audit.record(audit.Kind.BINNED, f"{self._meta.verbose_name}: {self}")

    def put_back(self) -> None:
        """Take it out of the bin again; where it does not lie there, nothing changes."""
        if self.binned_at is None:
            return
        self.binned_at = None
        self.save(update_fields=["binned_at"])
        audit.record(audit.Kind.PUT_BACK, f"{self._meta.verbose_name}: {self}")

    @property
    def bin_days_left(self) -> int:
        return max(0, BIN_DAYS - (timezone.now() - (self.binned_at or timezone.now())).days)


class Named(models.Model):
    """A row with a name of its own in the whole world, by which another kitchen knows it again."""

    uuid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)

    class Meta:
        abstract = True


class Counted(models.Model):
    """
    A row whose changes are counted, so that what is kept of it knows whether it still holds.

    Saving never writes the count back: it only goes up, see `kitchen/changes.py` and `makes/facts.py`.
    """

    changes = models.PositiveIntegerField(default=0, editable=False)

    class Meta:
        abstract = True

    def save(self, *args: Any, **kwargs: Any) -> None:
        if not self._state.adding and kwargs.get("update_fields") is None:
            fields = (field for field in self._meta.concrete_fields if not field.primary_key)
            kwargs["update_fields"] = [field.attname for field in fields if field.name != "changes"]
        super().save(*args, **kwargs)


class AuditEntry(Immutable):
    """Something that was done which others must be able to look up: see `web/audit.py`."""

    kind = models.CharField(max_length=20, choices=audit.Kind.choices)
    at = models.DateTimeField()
    by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    who = models.CharField(max_length=150, blank=True, help_text="Their name as it was then")
    said = models.CharField(max_length=300, blank=True)
    address = models.CharField(max_length=45, blank=True)
    browser = models.CharField(max_length=40, blank=True)
    name_key = models.CharField(max_length=16, blank=True, help_text="Counts the tries of one sign-in name")
    device = models.CharField(max_length=16, blank=True, help_text="Of a device that was known for the name")

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["kind", "at"]), models.Index(fields=["name_key", "kind"])]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} {self.said}".strip()
