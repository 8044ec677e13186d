# Kyklos: `make demo` to try it, `make test` to check it.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
PIP := $(BIN)/python -m pip install -q --disable-pip-version-check --require-hashes
QUIET := 2>&1 | { grep -v "is ignored" || true; }
PORT ?= 8017
# What Python compiled is kept beside it, whatever the shell says: every start and every test reads it.
export PYTHONDONTWRITEBYTECODE :=
.DEFAULT_GOAL := demo
SHELL := bash
.SHELLFLAGS := -o pipefail -ec

# Try it: a sample household in a temporary place, served on 127.0.0.1.
demo: $(VENV)/app.stamp
	@exec $(BIN)/kyklos demo --port $(PORT)

# Keep a household's own data, in the platform's data folder.
serve: $(VENV)/app.stamp
	@exec $(BIN)/kyklos serve --port $(PORT)

# All that continuous integration runs: style, types, contracts, tests.
test: $(VENV)/dev.stamp browser
	$(BIN)/ruff check src tests
	$(BIN)/mypy -p kyklos
	$(BIN)/lint-imports
	OPENBLAS_NUM_THREADS=1 $(BIN)/python -m pytest -n 2 --dist worksteal -m "not alone and not long"
	$(BIN)/python -m pytest -m alone

# Style, types, contracts and everything but the browser: for while you work.
quick: $(VENV)/dev.stamp
	$(BIN)/ruff check src tests
	$(BIN)/mypy -p kyklos
	$(BIN)/lint-imports
	OPENBLAS_NUM_THREADS=1 $(BIN)/python -m pytest -n 2 -m "not long" --ignore tests/browser

# What takes long: old households told as before, forecast honesty and speed, how quick twenty years are, a hundred seasons of practice,
# strange requests and documents by the ten thousand; fails outside the limits.
bench: $(VENV)/dev.stamp
	OPENBLAS_NUM_THREADS=1 $(BIN)/python -m pytest -m long
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/bench_forecast.py
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/bench_tapped.py
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/bench_years.py
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/bench_readers.py
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/bench_devices.py
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/bench_practice.py
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/malformed.py
	OPENBLAS_NUM_THREADS=1 $(BIN)/python tests/fuzz_routes.py
	OPENBLAS_NUM_THREADS=1 PYTHONPATH=. $(BIN)/python tests/fuzz_hands.py
	OPENBLAS_NUM_THREADS=1 PYTHONPATH=. $(BIN)/python tests/bench_pages.py demo young old older crowded

# Nothing acknowledged is lost: ten minutes of kills, backups, a full disk and a deleted file beside twenty clients.
durability: $(VENV)/dev.stamp
	$(BIN)/python tests/durability.py

# Small wrong changes to the rules, one at a time: which does no test of the core notice? Takes about an hour.
mutants: $(VENV)/dev.stamp
	$(BIN)/python tests/mutants.py 120

# Refresh the pictures in docs/screenshots from the demo.
pictures: $(VENV)/dev.stamp browser
	$(BIN)/python tests/browser/take_pictures.py

$(VENV)/app.stamp: requirements/app.txt pyproject.toml
	@test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	@echo "Installing what Kyklos needs (once)..."
	@$(PIP) -r requirements/app.txt $(QUIET)
	@$(BIN)/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e . $(QUIET)
	@touch $@

$(VENV)/dev.stamp: $(VENV)/app.stamp requirements/dev.txt
	@echo "Installing what the tests need (once)..."
	@$(PIP) -r requirements/dev.txt $(QUIET)
	@touch $@

# Browser journeys use the system's Chromium; Debian's is installed where it is missing.
browser:
	@command -v chromium >/dev/null || command -v google-chrome >/dev/null || { \
	  SUDO=$$( [ "$$(id -u)" = 0 ] || echo sudo ); \
	  $$SUDO apt-get update -qq && $$SUDO apt-get install -y -qq --no-install-recommends chromium >/dev/null; }

# Pin every requirement with its hashes, without naming any address.
LOCK := uv pip compile -q --generate-hashes --no-emit-index-url --no-emit-find-links --universal \
	--python-version 3.11 --custom-compile-command "make lock" pyproject.toml
lock:
	$(LOCK) -o requirements/app.txt
	$(LOCK) --extra dev -o requirements/dev.txt

# Build Bootstrap with our measures and copy fonts and htmx into static/vendor.
vendor:
	cd frontend && npm ci --ignore-scripts --silent && npm run --silent build

clean:
	rm -rf $(VENV) build src/*.egg-info

.PHONY: demo serve test quick bench durability mutants pictures browser lock vendor clean
