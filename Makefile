# Two commands do everything: "make demo" and "make test".
PYTHON := .venv/bin/python
PORT ?= 8000
WEB_SOURCES := $(shell find web/src web/index.html web/vite.config.ts -type f 2>/dev/null)

.PHONY: demo install test test-journeys test-the-rest check bench explore load lock pictures types clean

demo: install
	$(PYTHON) -m demo --port $(PORT)

install: .venv/installed web/dist/index.html

.venv/installed: requirements.lock pyproject.toml
	test -x $(PYTHON) || python3 -m venv .venv
	$(PYTHON) -m pip install --quiet --disable-pip-version-check -r requirements.lock
	$(PYTHON) -m pip install --quiet --disable-pip-version-check --no-deps -e .
	touch $@

.venv/developing: requirements-dev.lock .venv/installed
	$(PYTHON) -m pip install --quiet --disable-pip-version-check -r requirements-dev.lock
	touch $@

web/node_modules/installed: web/package.json web/package-lock.json
	cd web && npm ci --no-fund --no-audit
	touch $@

web/dist/index.html: web/node_modules/installed $(WEB_SOURCES)
	cd web && npm run --silent build

test: install .venv/developing check
	sh tests/debian.sh
	sh tests/samples.sh
	$(MAKE) --jobs 2 --output-sync test-journeys test-the-rest

# Two halves that take about as long as each other, side by side.
WITH_THE_REST := tests.journeys.test_accessible tests.journeys.test_screens
JOURNEYS := $(subst /,.,$(basename $(sort $(wildcard tests/journeys/test_*.py))))

test-journeys:
	$(PYTHON) manage.py test --noinput $(filter-out $(WITH_THE_REST),$(JOURNEYS))

test-the-rest:
	cd web && npm run --silent test
	$(PYTHON) manage.py test --noinput tests.core tests.engines tests.load tests.reference tests.server $(WITH_THE_REST)

check: install .venv/developing
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports
	cd web && npm run --silent check

# Tests of properties on examples that no run has had yet. What one of them finds becomes a test of its own.
explore: install .venv/developing
	EXPLORE=1 $(PYTHON) manage.py test --noinput tests.core tests.server

bench: install .venv/developing
	$(PYTHON) -m bench

load: install .venv/developing
	$(PYTHON) -m tests.load $(LOAD)

pictures: install .venv/developing
	$(PYTHON) -m tests.journeys.pictures

# The locks anew, from what pyproject.toml asks for: versions stay where they can.
LOCK := .venv/bin/uv pip compile pyproject.toml --python-version 3.11 --generate-hashes --no-emit-index-url --no-annotate --no-header

lock: .venv/installed
	$(PYTHON) -m pip install --quiet --disable-pip-version-check uv
	$(LOCK) --output-file requirements.lock
	$(LOCK) --extra developing --constraint requirements.lock --output-file requirements-dev.lock

types: .venv/installed
	$(PYTHON) manage.py shell --no-imports -c "import json; from mellowspine.server.api import api; print(json.dumps(api.get_openapi_schema(), indent=1, default=str))" > web/openapi.json
	$(PYTHON) manage.py shell --no-imports -c "from mellowspine.server.rooms.described import typescript; print(typescript(), end='')" > web/src/workspace/view/described.ts
	$(PYTHON) manage.py shell --no-imports -c "from mellowspine.server.api.described import typescript; print(typescript(), end='')" > web/src/api/settings.ts
	cd web && npm run --silent types

clean:
	rm -rf .venv var web/node_modules web/dist
