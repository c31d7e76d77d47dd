# Two commands: `make demo` starts the app with the demo data, `make test` passes all tests.
# Each works from a fresh clone; set-up runs by itself and only when something changed.

PYTHON ?= python3
BIN := .venv/bin
STAMPS := .stamps

# Where the environment says that no byte code be written, each process would compile anew what it reads: seconds, for the kernel and for each test's
# server.
export PYTHONDONTWRITEBYTECODE :=

.PHONY: setup made demo test test-times mutants wheel read looked-at code-looked-at page-looked-at kernel coverage bench check api screenshots clean

# What does not wait for each other is done beside each other.
setup:
	@test -e $(STAMPS)/page -a -e $(STAMPS)/py || echo "Setting up, which takes a minute, once."
	@$(MAKE) --no-print-directory -j 2 --output-sync=target made

made: $(STAMPS)/py $(STAMPS)/npm $(STAMPS)/page $(STAMPS)/assets
	@$(BIN)/python -m compileall -q src/dramok

# The rules kernel is compiled in the background, which takes some seconds the first time.
demo: setup
	@(nice $(BIN)/python -m dramok.workers.kernel_process --warm > /dev/null 2>&1 &)
	$(BIN)/dramok demo

# As many as there are cores. With one more the tests take a tenth less time, and more memory.
WORKERS ?= 2

# Tests use a build of the rules kernel with bounds checks; it is compiled while the sources are checked.
test:
	@$(MAKE) --no-print-directory -j 3 --output-sync=target $(STAMPS)/py $(STAMPS)/browser $(STAMPS)/npm $(STAMPS)/page kernel made read looked-at
	$(BIN)/pytest -n $(WORKERS) --dist loadgroup tests

# Modules become byte code when they are first read: once, and not by each process that tests.
read: $(STAMPS)/py $(STAMPS)/assets
	@$(BIN)/python -c "import bench.opened, hypothesis, pytest, playwright.sync_api"

looked-at: code-looked-at page-looked-at

code-looked-at: $(STAMPS)/py
	$(BIN)/ruff check src tests bench
	$(BIN)/mypy

page-looked-at: $(STAMPS)/npm
	cd web && npm run --silent check && npm run --silent lint

kernel: $(STAMPS)/py
	DRAMOK_CHECKED_KERNEL=1 $(BIN)/python -m dramok.workers.kernel_process --warm

# Lines and branches by room, of all tests but those in a browser: those drive a server of its own.
coverage: setup
	$(BIN)/coverage erase
	$(BIN)/coverage run -m pytest -q tests --ignore tests/browser
	$(BIN)/coverage combine -q
	$(BIN)/coverage json -q -o .coverage.json
	$(BIN)/python tests/coverage_by_room.py .coverage.json

bench: setup $(STAMPS)/browser
	$(BIN)/python -m bench

check: setup looked-at

# The 40 slowest tests of the last `make test`.
test-times:
	@cat .test-times 2>/dev/null || echo "Run make test first."

# One file to install, with the built page and fonts: dist/dramok-*.whl
wheel: setup
	$(BIN)/python -m hatchling build -t wheel -d dist

# The page's API client is generated from the server's own document; so is the schema of archives from their models, and the kernel's copy from its fields.
api: $(STAMPS)/py $(STAMPS)/npm
	$(BIN)/python -m dramok.server.openapi web/src/api/openapi.json
	cd web && npm run --silent api
	$(BIN)/python -c "import json; from dramok.formats.game_file import schema; print(json.dumps(schema(), indent=1, sort_keys=True))" > docs/archive.schema.json
	$(BIN)/python -c "from pathlib import Path; from dramok.core.engine.kernel import state_copy; Path(state_copy.__file__).with_name('state_copy_generated.py').write_text(state_copy.written())"

$(STAMPS)/py: requirements.lock pyproject.toml
	@mkdir -p $(STAMPS)
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/python -m pip install -q --disable-pip-version-check uv || true
	if test -x $(BIN)/uv; then $(BIN)/uv pip install -q --python $(BIN)/python --require-hashes -r requirements.lock && \
	  $(BIN)/uv pip install -q --python $(BIN)/python --no-deps -e . ; \
	else $(BIN)/python -m pip install -q --disable-pip-version-check -r requirements.lock && \
	  $(BIN)/python -m pip install -q --disable-pip-version-check --no-deps -e . ; fi
	@touch $@

$(STAMPS)/npm: web/package.json web/package-lock.json
	@mkdir -p $(STAMPS)
	cd web && npm ci --silent --no-audit --no-fund
	@touch $@

$(STAMPS)/assets: $(STAMPS)/npm $(STAMPS)/py web/copy-assets.mjs src/dramok/formats/font_preparation.py
	node web/copy-assets.mjs
	$(BIN)/python -m dramok.formats.font_preparation
	@touch $@

$(STAMPS)/page: $(STAMPS)/npm $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/tsconfig.json
	cd web && npm run --silent build
	@touch $@

# Chromium is needed by the browser tests only: the one without windows, or the whole one.
BROWSERS := chromium-headless-shell chromium
$(STAMPS)/browser:
	@mkdir -p $(STAMPS)
	@command -v chromium-headless-shell >/dev/null || { echo "Installing Chromium for the browser tests"; apt-get update -qq || true; \
	  for each in $(BROWSERS); do \
	    command -v $$each >/dev/null || DEBIAN_FRONTEND=noninteractive apt-get install -y -qq $$each >/dev/null || continue; exit 0; \
	  done; \
	  echo "Chromium could not be installed. The browser tests need it: run 'sudo apt-get install chromium-headless-shell', then 'make test' again."; exit 1; }
	@touch $@

screenshots: setup $(STAMPS)/browser
	PYTHONPATH=. $(BIN)/python docs/screenshots/take.py

clean:
	rm -rf .stamps .venv web/node_modules src/dramok/assets src/dramok/server/page

# 100 seeded mutations of core and services, each run against the tests that execute its line; prints the survivors. It takes an hour;
# `python tests/mutants.py 60 1 core/faces` takes minutes for one room.
mutants: setup
	DRAMOK_CHECKED_KERNEL=1 $(BIN)/python tests/mutants.py
