"""The tables of the core: figures with their sources, and words."""

import tomllib
from importlib import resources
from typing import Any


def table(name: str) -> dict[str, Any]:
    """A table of this folder by its name, without its ending. It is read anew each time: whoever keeps it, caches."""
    return tomllib.loads(resources.files(__name__).joinpath(f"{name}.toml").read_text("utf-8"))
