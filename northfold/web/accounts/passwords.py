"""A rule for passwords beside Django's own: no longer than a person could type."""

from typing import Any

from django.core.exceptions import ValidationError

MOST = 128


class MaximumLengthValidator:
    def validate(self, password: str, user: Any = None) -> None:
        if len(password) > MOST:
            said = f"That has {len(password)} characters; at most {MOST} are taken. Shorten it."
            raise ValidationError(said, code="password_too_long")

    def get_help_text(self) -> str:
        return f"At most {MOST} characters."
