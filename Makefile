# Everything is installed below this folder; nothing outside it is changed, except Chromium through apt for the tests.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
export DJANGO_SETTINGS_MODULE := wattikos_web.settings

.PHONY: demo test build check client warm benchmarks slow clean

demo: $(VENV)/.installed frontend/collected/.built $(VENV)/.warm
	$(BIN)/python manage.py serve

test: $(VENV)/.installed-dev frontend/collected/.built $(VENV)/.warm
	./scripts/chromium
	$(MAKE) --no-print-directory check
	./scripts/run-tests $(BIN)/python

# Formatting, lint, types and the rules of the rooms.
check: $(VENV)/.installed-dev frontend/node_modules/.installed
	$(BIN)/ruff format --check .
	$(BIN)/ruff check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(BIN)/python manage.py makemigrations --check --dry-run
	./scripts/client-is-current
	cd frontend && npm run --silent lint && npm run --silent types

# The tests that take minutes.
slow: $(VENV)/.installed-dev frontend/collected/.built $(VENV)/.warm
	$(BIN)/python manage.py test --settings wattikos_web.settings_test --tag slow

benchmarks: $(VENV)/.installed-dev $(VENV)/.warm
	$(BIN)/python -m benchmarks.run
	$(BIN)/python -m benchmarks.polygons
	$(BIN)/python -m benchmarks.in_time
	$(BIN)/python -m benchmarks.accuracy

build: frontend/collected/.built

# The TypeScript client, generated from the API.
client: $(VENV)/.installed frontend/node_modules/.installed
	$(BIN)/python manage.py export_openapi_schema --api wattikos_web.api.api --indent 1 > frontend/openapi.json
	cd frontend && npm run --silent client

$(VENV)/bin/python:
	$(PYTHON) -m venv $(VENV)

$(VENV)/.installed: requirements.txt pyproject.toml | $(VENV)/bin/python
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements.txt
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps -e .
	touch $@

$(VENV)/.installed-dev: requirements-dev.txt $(VENV)/.installed
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements-dev.txt
	touch $@

frontend/node_modules/.installed: frontend/package-lock.json
	cd frontend && npm ci --no-audit --no-fund --loglevel error
	touch $@

frontend/collected/.built: frontend/node_modules/.installed $(shell find frontend/src frontend/index.html frontend/vite.config.ts -type f 2>/dev/null) | $(VENV)/.installed
	cd frontend && npx vite build --logLevel warn
	$(BIN)/python manage.py collectstatic --noinput --clear --verbosity 0
	touch $@

# Compile numba's caches once, so that nobody waits for a first solve.
$(VENV)/.warm: $(wildcard wattikos_core/physics/*.py) | $(VENV)/.installed
	$(BIN)/python -m wattikos_core.warm
	touch $@

warm: $(VENV)/.warm

clean:
	rm -rf $(VENV) frontend/node_modules frontend/dist frontend/collected
