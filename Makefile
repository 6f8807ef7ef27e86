# Two commands do everything on a fresh machine: `make demo` and `make test`.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
MARKS := .make
# One test process a processor: with twice as many, browser tests wait so long for one another that some give up.
WORKERS ?= auto
STATIC := src/wempa/api/static/index.html
# Where compiled modules are not kept, every process of the tests and of the program compiles all of them again.
export PYTHONDONTWRITEBYTECODE :=
WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/tsconfig.json

# What does not wait for one another is done at once: both worlds' packages, both worlds' linters.
# Goals that are named together are done one after the other.
ifeq ($(filter-out 0 1,$(words $(MAKECMDGOALS))),)
MAKEFLAGS += --jobs=2
endif

.PHONY: demo start dist test dev lint lint-python lint-web lint-generated bench mutants soak fuzz press screenshots setup generate lock clean

demo: $(MARKS)/python $(STATIC)
	$(BIN)/wempa demo

# The same with a stash of one's own, kept in ~/.local/share/wempa.
start: $(MARKS)/python $(STATIC)
	$(BIN)/wempa serve

test: setup
	cd web && npm run --silent test
	$(BIN)/python -m pytest -n $(WORKERS) --maxprocesses 4 --dist worksteal -m "not timed" $(TESTS)
	$(BIN)/python -m pytest -m timed $(TESTS)

dev: $(MARKS)/python $(MARKS)/web
	$(BIN)/python tools/dev.py

lint: lint-python lint-web lint-generated

lint-python: $(MARKS)/python
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports

lint-generated: $(MARKS)/python $(MARKS)/web
	$(BIN)/python tools/generate.py --check

lint-web: $(MARKS)/web
	cd web && npm run --silent lint

bench: setup
	$(BIN)/python -m bench $(BENCH)

# Which single lines could be changed with no test failing.
mutants: setup
	$(BIN)/python -m tools.mutants $(MUTANTS)

# Kills, first starts broken off, a full disk, fifty people at once.
soak: setup
	$(BIN)/python -m tools.soak $(SOAK)

# Every route at random, by its schema; then every parser.
fuzz: setup
	$(BIN)/python -m tools.fuzz $(FUZZ)
	FUZZ_TIMES=40 $(BIN)/python -m pytest -q tests/formats/test_fuzz.py

press: setup
	$(BIN)/python -m tools.press $(PRESS)

# One file to install from, with the pages in it.
dist: $(MARKS)/python $(STATIC)
	$(BIN)/pip wheel --quiet --disable-pip-version-check --no-deps --wheel-dir dist .
	@ls dist/*.whl

screenshots: setup
	$(BIN)/python -m tools.screenshots

setup: $(MARKS)/python $(STATIC) $(MARKS)/chromium

# Types of the front end, from the Python enumerations and the OpenAPI schema.
generate: $(MARKS)/python $(MARKS)/web
	$(BIN)/python tools/generate.py

lock: $(MARKS)/python
	$(BIN)/pip-compile --quiet --strip-extras --no-emit-index-url --no-emit-find-links --no-emit-trusted-host --no-header --annotation-style=line --output-file=requirements.txt pyproject.toml
	$(BIN)/pip-compile --quiet --strip-extras --no-emit-index-url --no-emit-find-links --no-emit-trusted-host --no-header --annotation-style=line --extra dev --constraint requirements.txt --output-file=requirements-dev.txt pyproject.toml

$(MARKS)/python: requirements-dev.txt pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Wempa needs Python 3.11 or newer; set PYTHON=…"; exit 1; }
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements-dev.txt
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --editable .
	@mkdir -p $(MARKS) && touch $@

$(MARKS)/web: web/package-lock.json web/.npmrc
	@command -v npm >/dev/null || { echo "Wempa needs Node 20 with npm to build its pages"; exit 1; }
	cd web && npm ci --silent --no-audit --no-fund
	@mkdir -p $(MARKS) && touch $@

$(STATIC): $(MARKS)/web $(WEB_SOURCES)
	cd web && npm run --silent build
	@touch $@

$(MARKS)/chromium:
	@sh tools/chromium.sh
	@mkdir -p $(MARKS) && touch $@

clean:
	rm -rf $(VENV) $(MARKS) web/node_modules src/wempa/api/static build
