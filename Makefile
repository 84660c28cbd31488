# make demo   sets everything up and starts the application with the demo data
# make test   sets up what tests need, and runs all that reach a line or a branch of the program that no other reaches
# make long   runs the rest of them: what takes long, and goes over the same lines once more
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
# What is imported is compiled once, right after it was installed, also where bytecode may not be written later; a third
# of the time to install would go into what never is.
PIP_FLAGS := --quiet --disable-pip-version-check --require-hashes --no-deps --no-compile
COMPILE := env -u PYTHONDONTWRITEBYTECODE $(BIN)/python -c
STARTED := import uptide.cli.__main__, uptide.cli.demo, uptide.web.app, uptide.formats.assessment_json, uptide.formats.pdf
LATER := import alembic.command, scipy.special, uvicorn.protocols.http.auto, uvicorn.lifespan.on, uvicorn.loops.auto
TESTED := import fastapi.testclient, hypothesis, mypy.main, playwright.sync_api, pypdf, pytest, schemathesis.pytest

# Each job of tests keeps its files in a folder of its own: those that end together would sweep one another's away.
ALONE := export PYTEST_DEBUG_TEMPROOT=$$(mktemp -d); trap 'rm -rf "$$PYTEST_DEBUG_TEMPROOT"' EXIT;

# What a job has no use for takes it a second to begin.
NO_API := -p no:schemathesis
NO_BROWSER := -p no:playwright

# What is formatted beside Python, and how.
TEMPLATES := src/uptide/web/templates
STYLES := $(wildcard src/uptide/web/static/*.css)
SCRIPTS := $(wildcard src/uptide/web/static/*.js)
STYLE := -s 2 -n
SCRIPT := -s 2 -n -w 120 -b collapse,preserve-inline

# Tests start a hundred programs; without bytecode each compiles all of it anew, which takes most of its time.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo test long division mutants constants static in-browser of-pages beside of-the-rest check test-postgres bench crash fuzz load read-all same lock screenshots clean

demo: $(VENV)/run.stamp
	$(BIN)/uptide demo

# All at a time: those in a browser wait for it half of the time, and those of instruments mostly.
WITH_TESTS := in-browser of-pages of-the-rest beside
# By their mark; nothing for all of them.
WHICH ?= not long
test: $(VENV)/dev.stamp chromium
	$(MAKE) --jobs=5 --output-sync=target WHICH="$(WHICH)" $(WITH_TESTS) static

long: $(VENV)/dev.stamp chromium
	$(MAKE) --jobs=4 --output-sync=target WHICH=long $(WITH_TESTS)

# Which tests are long is measured, once in a while: see bench/division.py.
division: $(VENV)/mutants.stamp chromium
	folder=$$(mktemp -d) && $(BIN)/python -m bench.division $$folder && rm -rf $$folder

static: $(VENV)/dev.stamp
	$(BIN)/ruff format --check .
	$(BIN)/ruff check .
	$(BIN)/lint-imports
	$(BIN)/djlint --check --quiet $(TEMPLATES)
	for file in $(STYLES); do $(BIN)/css-beautify $(STYLE) $$file | diff -u $$file - || exit 1; done
	for file in $(SCRIPTS); do $(BIN)/js-beautify $(SCRIPT) $$file | diff -u $$file - || exit 1; done
	$(BIN)/uptide check-catalogue
	$(BIN)/mypy

# Chromium is looked for in the recipe: as a prerequisite it would let the other jobs take the first places.
in-browser: $(VENV)/dev.stamp
	@$(MAKE) --no-print-directory chromium
	$(ALONE) $(BIN)/pytest -q $(NO_API) -m "$(WHICH)" tests/browser

# Tests that are made beside the others, so that no job is the long one, with those that wait for instruments.
PAGES_BESIDE := tests/web/test_whatever_is_stored.py tests/web/test_hostile.py tests/web/test_forged.py tests/web/data tests/web/api
BESIDE := $(PAGES_BESIDE) tests/core/finder tests/devices

of-pages: $(VENV)/dev.stamp
	$(ALONE) $(BIN)/pytest -q $(NO_API) $(NO_BROWSER) -m "$(WHICH)" tests/web $(PAGES_BESIDE:%=--ignore=%)

beside: $(VENV)/dev.stamp
	$(ALONE) $(BIN)/pytest -q $(NO_BROWSER) -m "$(WHICH)" $(BESIDE)

of-the-rest: $(VENV)/dev.stamp
	$(ALONE) $(BIN)/pytest -q $(NO_API) $(NO_BROWSER) -m "$(WHICH)" $(BESIDE:%=--ignore=%) --ignore=tests/web --ignore=tests/browser

# The store, the pages and the kills on a PostgreSQL of their own; nothing else needs one.
test-postgres: $(VENV)/dev.stamp
	@ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || command -v initdb >/dev/null || { \
		if [ "$$(id -u)" = 0 ]; then sudo=; else sudo=sudo; fi; \
		$$sudo apt-get update -qq && $$sudo apt-get install -y -qq --no-install-recommends postgresql >/dev/null; }
	$(BIN)/python -m bench.postgres $(BIN)/pytest -q tests/store tests/web tests/workshop/test_killed.py

# Everything but the browser: what one runs between two edits.
check: $(VENV)/dev.stamp
	$(BIN)/ruff format .
	-$(BIN)/djlint --reformat --quiet $(TEMPLATES)
	for file in $(STYLES); do $(BIN)/css-beautify $(STYLE) -r $$file; done
	$(BIN)/js-beautify $(SCRIPT) -r $(SCRIPTS)
	$(BIN)/ruff check .
	$(BIN)/mypy
	$(BIN)/pytest -q -m "not browser"

bench: $(VENV)/dev.stamp chromium
	$(BIN)/python -m bench.measure $(KEEP)

# Killed at any moment of what it writes, again and again: make crash KILLS=200
crash: $(VENV)/dev.stamp
	$(BIN)/python -m bench.crash $(KILLS)

# What the tests do not notice: the core changed in one place after the other (make mutants ONLY="uptide.core.lipids*"),
# and its numbers moved by a tenth (make constants PACKAGES="lipids physics").
mutants: $(VENV)/mutants.stamp
	$(BIN)/python -m bench.mutants $(ONLY)

constants: $(VENV)/dev.stamp
	$(BIN)/python -m bench.constants $(PACKAGES)

# Odd words for every address and every form: make fuzz REQUESTS=10000
fuzz: $(VENV)/dev.stamp
	$(BIN)/python -m bench.fuzz $(REQUESTS)

# Everything that is stored through every page: make read-all DATABASE=FILE, of the demo by default
read-all: $(VENV)/dev.stamp
	$(BIN)/python -m bench.read_all $(DATABASE)

# Sixteen at once against one alone, with one process and with two: make load SERVER="--postgres URL"
load: $(VENV)/dev.stamp
	$(BIN)/python -m bench.load $(SERVER)

# Every figure and every word of a page against another revision: make same AGAINST=v1
same: $(VENV)/dev.stamp
	$(BIN)/python -m bench.same $(AGAINST)

screenshots: $(VENV)/dev.stamp chromium
	$(BIN)/python -m bench.screenshots

$(VENV)/bin/python:
	$(PYTHON) -c "import sys; sys.exit(0 if (3, 11) <= sys.version_info < (3, 14) else 'Up Tide needs Python 3.11, 3.12 or 3.13; found ' + sys.version.split()[0])"
	$(PYTHON) -m venv $(VENV)

$(VENV)/run.stamp: $(VENV)/bin/python requirements.lock pyproject.toml
	$(BIN)/python -m pip install $(PIP_FLAGS) -r requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	$(COMPILE) "$(STARTED)"
	$(COMPILE) "$(LATER)"
	touch $@

# In two halves at once: each package is installed for itself, and that takes a core a minute.
HALF = $(VENV)/requirements-half-
$(VENV)/dev.stamp: $(VENV)/bin/python requirements-dev.lock pyproject.toml
	awk '/^[a-z]/ { entry++ } { print > "$(HALF)" entry % 2 ".txt" }' requirements-dev.lock
	$(BIN)/python -m pip install $(PIP_FLAGS) -r $(HALF)0.txt & half=$$!; \
		$(BIN)/python -m pip install $(PIP_FLAGS) -r $(HALF)1.txt && wait $$half
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	$(COMPILE) "$(TESTED)" & tested=$$!; $(COMPILE) "$(STARTED)" && $(COMPILE) "$(LATER)" && wait $$tested
	touch $@

$(VENV)/mutants.stamp: $(VENV)/dev.stamp requirements-mutants.lock
	$(BIN)/python -m pip install $(PIP_FLAGS) -r requirements-mutants.lock
	touch $@

# Headless Chromium from Debian's packages, when there is none.
.PHONY: chromium
chromium:
	@command -v chromium-headless-shell >/dev/null || { \
		if [ "$$(id -u)" = 0 ]; then sudo=; else sudo=sudo; fi; \
		$$sudo apt-get update -qq && $$sudo apt-get install -y -qq --no-install-recommends chromium-headless-shell >/dev/null; }

# The lock holds hashes and no host. hatchling is in both: the package is built without fetching anything else.
LOCK := uv pip compile --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header --no-annotate
lock:
	$(LOCK) --group dev pyproject.toml -o requirements-dev.lock
	$(LOCK) -c requirements-dev.lock --group pyproject.toml:mutants -o requirements-mutants.lock
	printf 'editables\nhatchling\n' | $(LOCK) -c requirements-dev.lock pyproject.toml - -o requirements.lock

clean:
	rm -rf $(VENV) .mypy_cache .ruff_cache .pytest_cache .hypothesis
