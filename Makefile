# Everything a newcomer runs. Each command is quick when nothing changed.
PORT ?= 8000
HOST ?= 127.0.0.1
PYTHON ?= python3.11
FILE ?=
VENV := .venv
BIN := $(VENV)/bin
MANAGE := $(BIN)/python manage.py
DEMO := NORTHFOLD_DEMO=1 NORTHFOLD_DATA=$(CURDIR)/var/demo

.PHONY: demo run devices test check bench screenshots soak backup restore pins clean

demo: $(VENV)/compiled.ok ## the demo bakehouse, on its own data
	@$(DEMO) $(MANAGE) serve --host $(HOST) --port $(PORT)

run: $(VENV)/compiled.ok ## your own kitchen
	@$(MANAGE) serve --host $(HOST) --port $(PORT)

devices: $(VENV)/run.ok ## a scale, a probe, a room sensor and a label printer that stand in for real ones, for `make run` on this machine
	@$(MANAGE) devices --server http://127.0.0.1:$(PORT)

test: $(VENV)/dev.ok ## everything that must hold before a change lands
	@sh scripts/ensure-chromium.sh
	@$(MAKE) --no-print-directory check
	@$(BIN)/pytest -n 3 --dist loadfile --no-loadscope-reorder

check: $(VENV)/dev.ok ## lint, types and import contracts alone
	@$(BIN)/ruff check . && $(BIN)/ruff format --check .
	@$(BIN)/mypy
	@$(BIN)/lint-imports
	@$(BIN)/djlint --lint --quiet northfold

bench: $(VENV)/dev.ok ## times of the main views; the table is kept in docs/bench.md
	@$(BIN)/python scripts/bench.py | tee docs/bench.md

soak: $(VENV)/dev.ok ## half an hour of kills, clients, guessing and hostile values; what it found is kept in docs/soak.md
	@$(BIN)/python scripts/soak.py | tee docs/soak.md

screenshots: $(VENV)/dev.ok ## docs/screenshots from the demo bakehouse
	@sh scripts/ensure-chromium.sh
	@$(BIN)/python scripts/screenshots.py

restore: $(VENV)/run.ok ## put a backup in the place of your kitchen's data: make restore FILE=var/backups/...
	@test -n "$(FILE)" || { echo "Say which: make restore FILE=var/backups/northfold-....sqlite3"; exit 1; }
	@$(MANAGE) restore "$(FILE)"

backup: $(VENV)/run.ok ## a whole copy of your kitchen's data under var/backups
	@$(MANAGE) backup

pins: $(VENV)/python.ok ## pin what requirements*.in name, each file with its hash: after a version in them was changed
	@$(BIN)/pip install --quiet --disable-pip-version-check uv
	@for each in requirements requirements-dev; do \
	  $(BIN)/uv pip compile --quiet --generate-hashes --no-header --annotation-style line $$each.in -o $$each.txt; done

$(VENV)/python.ok:
	@command -v $(PYTHON) >/dev/null || { echo "Python 3.11 is needed; name it with PYTHON=/path/to/python3.11"; exit 1; }
	@$(PYTHON) -m venv $(VENV) && touch $@

$(VENV)/run.ok: requirements.txt $(VENV)/python.ok
	@echo "Installing what the application needs ..."
	@$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements.txt && touch $@

$(VENV)/compiled.ok: northfold/core/heat/march.py $(VENV)/run.ok
	@echo "Compiling the heat conduction ..."
	@$(BIN)/python -m northfold.core.heat.compiled && touch $@

$(VENV)/dev.ok: requirements-dev.txt $(VENV)/run.ok
	@echo "Installing what the tests need ..."
	@$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements-dev.txt && touch $@

clean:
	rm -rf $(VENV) staticfiles var/demo
