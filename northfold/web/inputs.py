"""What comes in from outside as data, brought into a shape that can be kept: text, and JSON."""

import json
import re
from typing import Any

from django.core.exceptions import ValidationError

# No form of ours sends data nested deeper, or longer. [levels, characters]
MOST_NESTED, MOST_CHARACTERS = 40, 5_000_000
_SURROGATES = re.compile("[\ud800-\udfff]")


def plain_text(value: Any, length: int) -> str:
    """Text without what a database cannot hold, up to a length: no null, no half of a character."""
    return _SURROGATES.sub("", str("" if value is None else value).replace("\x00", ""))[:length]


def _no_number(word: str) -> Any:
    raise ValueError(f"{word} is no number")


def _whole_number(text: str) -> int:
    if len(text) > 18:
        raise ValueError(f"{text[:20]} is too large")
    return int(text)


def read_json(text: str | bytes | None) -> dict[str, Any] | None:
    """An object sent as JSON; None for anything else: broken, nested beyond reason, or with NaN and Infinity in it."""
    if text is None or len(text) > MOST_CHARACTERS:
        return None
    try:
        found = json.loads(text, parse_constant=_no_number, parse_int=_whole_number)
    except (TypeError, ValueError, RecursionError):
        return None
    return found if isinstance(found, dict) and _is_flat_enough(found) else None


def _is_flat_enough(data: Any, level: int = 0) -> bool:
    if level > MOST_NESTED:
        return False
    inside = data.values() if isinstance(data, dict) else data if isinstance(data, list) else ()
    return all(_is_flat_enough(each, level + 1) for each in inside)


def one_message(error: ValidationError) -> ValidationError:
    """What a check of several fields says, as the error of the one field that asked: a field takes no other's."""
    return ValidationError(error.messages)
