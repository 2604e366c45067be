"""A planned day as bytes and back."""

import zlib
from functools import cache, lru_cache

from pydantic import TypeAdapter

from northfold.core.day.outcome import Planned


@cache
def _adapter() -> TypeAdapter[Planned]:
    return TypeAdapter(Planned)


def pack(planned: Planned) -> bytes:
    return zlib.compress(_adapter().dump_json(planned))


@lru_cache(maxsize=16)
def thaw(packed: bytes) -> Planned:
    """The plan that these bytes are; it never changes."""
    return _adapter().validate_json(zlib.decompress(packed))
