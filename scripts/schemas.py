"""Write the schemas of the open formats into docs/formats, as they are published: python scripts/schemas.py"""

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from northfold.formats.schemas import KINDS, schema_text  # noqa: E402

if __name__ == "__main__":
    for name in KINDS:
        (ROOT / "docs/formats" / f"{name}.json").write_text(schema_text(name), encoding="utf-8")
