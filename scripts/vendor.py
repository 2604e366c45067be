"""Refresh the vendored front-end files from npm and write their manifest: name, version, licence, file, checksum."""

import hashlib
import re
import subprocess
import tarfile
import tempfile
from pathlib import Path

TARGET = Path(__file__).resolve().parents[1] / "northfold/web/static/vendor"
# package, version, licence, {file in the package: file here}
PACKAGES = [
    ("htmx.org", "2.0.11", "0BSD", {"dist/htmx.min.js": "htmx.min.js"}),
    ("idiomorph", "0.8.0", "0BSD", {"dist/idiomorph-ext.min.js": "idiomorph-ext.min.js"}),
    (
        "bootstrap",
        "5.3.9",
        "MIT",
        {
            "dist/css/bootstrap-reboot.min.css": "bootstrap-reboot.min.css",
            "dist/css/bootstrap-grid.min.css": "bootstrap-grid.min.css",
            "dist/css/bootstrap-utilities.min.css": "bootstrap-utilities.min.css",
        },
    ),
    ("@fontsource/besley", "5.3.0", "OFL-1.1", {"files/besley-latin-600-normal.woff2": "besley-600.woff2"}),
    (
        "@fontsource/atkinson-hyperlegible-next",
        "5.3.0",
        "OFL-1.1",
        {
            "files/atkinson-hyperlegible-next-latin-400-normal.woff2": "atkinson-400.woff2",
            "files/atkinson-hyperlegible-next-latin-600-normal.woff2": "atkinson-600.woff2",
        },
    ),
]
SOURCE_MAP = re.compile(rb"\n?(?:/\*|//)# sourceMappingURL=[^\s*]+(?:\s*\*/)?\s*$")


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    rows = ["# Written by scripts/vendor.py; a test holds the checksums against the files.\n"]
    for package, version, licence, files in PACKAGES:
        with tempfile.TemporaryDirectory() as folder:
            subprocess.run(
                ["npm", "pack", "--silent", f"{package}@{version}"], cwd=folder, check=True, stdout=subprocess.DEVNULL
            )
            with tarfile.open(next(Path(folder).glob("*.tgz"))) as archive:
                name = package.rsplit("/", 1)[-1]
                wanted = {**files, "LICENSE": f"LICENSE.{name}.txt"}
                for inside, here in wanted.items():
                    data = archive.extractfile(f"package/{inside}").read()
                    data = SOURCE_MAP.sub(b"\n", data)
                    (TARGET / here).write_bytes(data)
                    digest = hashlib.sha256(data).hexdigest()
                    rows.append(
                        f'[[file]]\nname = "{here}"\npackage = "{package}"\nversion = "{version}"\n'
                        f'licence = "{licence}"\nsha256 = "{digest}"\n'
                    )
    (TARGET / "manifest.toml").write_text("\n".join(rows))


if __name__ == "__main__":
    main()
