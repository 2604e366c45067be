"""Pictures of the main views for the README: the demo bakehouse on data of its own, in Debian's Chromium."""

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from datetime import date, timedelta
from pathlib import Path

from playwright.sync_api import sync_playwright

ROOT = Path(__file__).resolve().parents[1]
FLAGS = (
    "--no-sandbox --disable-gpu --disable-dev-shm-usage --disable-background-networking --disable-component-update "
    "--disable-sync --no-first-run"
)
PORT = "8771"
ADDRESS = f"http://127.0.0.1:{PORT}"
PAGES = {
    "makes": "/",
    "book": "/book/",
    "dough": "/makes/1/dough/",
    "size": "/makes/1/size/",
    "fill": "/makes/30/fill/",
    "cold-store": "/cold-store/",
    "weigh-sheet": "/makes/1/weigh/",
    "fold": "/makes/6/fold/",
    "steps": "/makes/23/steps/",
    "cold": "/makes/1/cold/",
    "bake": "/makes/23/bake/",
    "bench": "/bench/19/",
    "wall": "/wall/",
    "result": "/makes/10/result/",
    "today": "/today/",
    "week": "/week/",
}

# A table as somebody has it, with a line that nobody can read.
TABLE = (
    b"recipe,ingredient,g,prep\nRye shell,plain flour,400,\nRye shell,rye flour,100,sifted\nRye shell,butter,280,cold\n"
    b"Rye shell,water,120,iced\nSharp lid,plain flour,500,\nSharp lid,lard,200,\nSharp lid,sharp water,140,\n"
    b"Medlar filling,pear,800,peeled\nMedlar filling,sugar,120,\n"
)


def manage(*words: str, data: str, wait: bool = True) -> subprocess.Popen:
    env = {**os.environ, "NORTHFOLD_DEMO": "1", "NORTHFOLD_DATA": data, "NORTHFOLD_DEBUG": "1"}
    process = subprocess.Popen([sys.executable, "manage.py", *words], cwd=ROOT, env=env, stdout=subprocess.DEVNULL)
    if wait and process.wait():
        raise SystemExit(f"manage.py {words[0]} failed")
    return process


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        manage("migrate", "--verbosity", "0", data=data)
        manage("build_demo", data=data)
        server = manage("serve", "--port", PORT, data=data, wait=False)
        try:
            for _ in range(100):
                try:
                    urllib.request.urlopen(f"{ADDRESS}/health/")
                    break
                except OSError:
                    time.sleep(0.2)
            take()
        finally:
            server.terminate()


def take() -> None:
    folder = ROOT / "docs/screenshots"
    folder.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS.split())
        page = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB").new_page()
        page.goto(f"{ADDRESS}/sign-in/")
        page.get_by_role("button", name="Runa Haldane").click()
        for name, address in PAGES.items():
            page.goto(ADDRESS + address)
            page.evaluate("document.fonts.ready")
            page.screenshot(path=folder / f"{name}.png")
        page.goto(f"{ADDRESS}/book/read/")
        page.locator("#id_file").set_input_files([{"name": "autumn.csv", "mimeType": "text/csv", "buffer": TABLE}])
        page.get_by_role("button", name="Look it over").click()
        page.wait_for_selector("text=Nothing is written yet")
        page.screenshot(path=folder / "read-in.png")
        page.goto(f"{ADDRESS}/day/{date.today() + timedelta(days=1)}/")
        page.get_by_role("button", name="Plan the day").click()
        page.wait_for_selector("text=Take this plan", timeout=120_000)
        page.screenshot(path=folder / "day.png")
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto(f"{ADDRESS}/bench/21/")
        page.screenshot(path=folder / "bench-phone.png")
        browser.close()


if __name__ == "__main__":
    main()
