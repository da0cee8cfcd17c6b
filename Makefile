# Jade Ladder. A newcomer needs two commands: make demo, make test. Both set up what is missing.
PORT ?= 8000
DATA ?= .demo-data
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STATIC := src/jade_ladder/web/static/index.html
FRONTEND := $(shell find frontend/src frontend/public -type f 2>/dev/null) frontend/index.html frontend/vite.config.ts
# What is compiled is kept: every server and every worker of the tests would do it anew.
unexport PYTHONDONTWRITEBYTECODE

MINUTES ?= 30

.PHONY: demo test setup dev check bench torture walk wheel screenshots format types schema clean

demo: setup
	@PORT=$(PORT) DATA=$(DATA) $(BIN)/jade-ladder demo $(if $(AT),--at $(AT))

test: setup .chromium
	@$(BIN)/python -m pytest -n 3 --dist worksteal --durations 10

setup: $(VENV)/.ready $(STATIC)

# The Python side: locked packages with their hashes, and the project itself.
$(VENV)/.ready: requirements.lock pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Python 3.11 or newer is needed; give another: make PYTHON=python3.12"; exit 1; }
	@echo "Setting up Python …"
	@test -x $(BIN)/python || $(PYTHON) -m venv $(VENV) || { echo "python3 cannot make a venv; on Debian: apt-get install python3-venv"; exit 1; }
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements.lock
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@touch $@

# The front end: locked packages, then the build that the server and the wheel carry.
frontend/node_modules/.ready: frontend/package-lock.json
	@command -v npm >/dev/null || { echo "Node 20.19 or newer with npm is needed to build the front end"; exit 1; }
	@echo "Setting up the front end …"
	@cd frontend && npm ci --silent --no-audit --no-fund
	@touch $@

$(STATIC): frontend/node_modules/.ready $(FRONTEND)
	@echo "Building the front end …"
	@cd frontend && npm run --silent build
	@touch $@

# Chromium for the browser tests, from Debian's packages, when none is there.
.PHONY: .chromium
.chromium:
	@sh scripts/find-chromium >/dev/null

dev: setup
	@sh scripts/dev $(PORT)

check: setup
	@$(BIN)/ruff format --check src tests scripts
	@$(BIN)/ruff check src tests scripts
	@$(BIN)/mypy
	@$(BIN)/lint-imports
	@$(BIN)/python scripts/api_types.py --check
	@cd frontend && npm run --silent format && npm run --silent lint && npm run --silent types

# The front end's types, made anew from the API's document.
types: $(VENV)/.ready frontend/node_modules/.ready
	@$(BIN)/python scripts/api_types.py

# The present schema of the database, made anew from the migrations.
schema: setup
	@$(BIN)/python -m scripts.schema

format: setup
	@$(BIN)/ruff format src tests scripts
	@$(BIN)/ruff check --fix src tests scripts
	@cd frontend && npx prettier --log-level warn --write .

bench: setup .chromium
	@test -x .bench/venv/bin/python || $(PYTHON) -m venv .bench/venv
	@.bench/venv/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements-bench.lock
	@.bench/venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@.bench/venv/bin/python -m scripts.bench

torture: setup
	@$(BIN)/python -m scripts.torture

# The walk of the tests, for half an hour and with new seeds; what it finds is kept in .walk.
walk: setup
	@$(BIN)/python -m scripts.walk --minutes $(MINUTES) $(if $(SEED),--seed $(SEED)) $(if $(SCRIPT),--script $(SCRIPT))

screenshots: setup .chromium
	@$(BIN)/python scripts/screenshots.py

# The program with its built pages, for machines that only run it.
wheel: setup
	@$(BIN)/python -m hatchling build -t wheel

clean:
	@rm -rf $(VENV) frontend/node_modules src/jade_ladder/web/static .bench .demo-data .dev-data
