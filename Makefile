# Everything sets itself up: on a machine with Python 3.11+, Node 20+, make and Debian's package manager,
# `make demo` and `make test` need nothing done by hand before.
PY := .venv/bin/python
SHELL := /bin/bash
export PIP_DISABLE_PIP_VERSION_CHECK = 1
# Some environments forbid compiled modules to be kept: then each of the hundreds of starts in the tests compiles all again.
export PYTHONDONTWRITEBYTECODE =
APT = $$( [ "$$(id -u)" = 0 ] || echo sudo ) apt-get
WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/package-lock.json $(wildcard docs/guide/*.md)

.PHONY: help demo dev build test long lint types map defaults shots bench mutate wheel clean hardness sentences readability
help:
	@echo "make demo    install what is missing, build, start with the demo homes"
	@echo "make test    install what the tests need; linters, type checks, all tests"
	@echo "make long    the tests in their long form: every example, not one of each kind"
	@echo "make dev     server and interface with reload, on the demo homes"
	@echo "make shots   refresh docs/screenshots from the demo homes"
	@echo "make bench   print speed as ratios against baselines of the same run"
	@echo "make mutate  change the program in 150 places, one at a time, and count which the tests notice"
	@echo "make types   make the API client's types again;  make wheel  build the wheel"
	@echo "make defaults  write the guide's page of planning defaults again"
	@echo "make map     write the module map in CONTRIBUTING.md again"

.venv/made: requirements/bootstrap.txt
	python3 -m venv .venv || ( $(APT) update && $(APT) install -y --no-install-recommends python3-venv && python3 -m venv .venv )
	.venv/bin/pip install -q --require-hashes -r requirements/bootstrap.txt
	touch $@

.venv/app: .venv/made requirements/dev.txt pyproject.toml
	VIRTUAL_ENV=.venv .venv/bin/uv pip sync -q --require-hashes requirements/dev.txt requirements/bootstrap.txt
	VIRTUAL_ENV=.venv .venv/bin/uv pip install -q --no-build-isolation --no-deps -e .
	touch $@

web/node_modules/.made: web/package-lock.json web/.npmrc
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

src/imbuto/web_dist/index.html: web/node_modules/.made $(WEB_SOURCES)
	cd web && npx vite build --logLevel warn
	touch $@

# What a PDF is drawn with: Debian's pango. Without it everything but printing works, so a refusal to install is told only.
.venv/pango: .venv/made
	ldconfig -p | grep -q libharfbuzz-subset.so.0 && ldconfig -p | grep -q libpangoft2-1.0.so.0 || \
	  ( $(APT) update -q && $(APT) install -y -q --no-install-recommends libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0 ) || \
	  echo "No PDFs until pango is installed."
	touch $@

# Photographed labels are read with Debian's tesseract: without it their button says what to install.
.venv/tesseract: .venv/made
	command -v tesseract > /dev/null || ( $(APT) update -q && $(APT) install -y -q --no-install-recommends tesseract-ocr ) || \
	  echo "No photographed labels until tesseract-ocr is installed."
	touch $@

# The arithmetic is compiled once, into a cache beside its source.
.venv/compiled: .venv/app $(wildcard src/imbuto/core/run/*.py)
	$(PY) -c "from imbuto.core.run.compile_ahead import compile_all; compile_all()"
	touch $@

build: .venv/app .venv/pango .venv/tesseract .venv/compiled src/imbuto/web_dist/index.html

demo: build
	.venv/bin/imbuto demo --folder .demo

dev: build
	trap 'kill 0' EXIT; .venv/bin/uvicorn imbuto.api.reload:app --reload --reload-dir src --port 8474 & cd web && npx vite

/usr/bin/chromium:
	$(APT) update -q && $(APT) install -y -q --no-install-recommends chromium

types: .venv/app web/node_modules/.made
	.venv/bin/imbuto openapi > web/openapi.json
	.venv/bin/imbuto blanks > web/src/shared/api/blanks.json
	cd web && npx openapi-typescript openapi.json -o src/shared/api/generated.ts && rm openapi.json

lint: .venv/app web/node_modules/.made
	.venv/bin/ruff check src tests bench
	.venv/bin/ruff format --check -q src tests bench
	.venv/bin/mypy
	.venv/bin/lint-imports --no-cache
	.venv/bin/deptry src > /dev/null
	$(PY) bench/module_map.py --check
	$(PY) bench/planning_defaults.py --check
	$(PY) bench/sentences.py --check
	! .venv/bin/vulture | grep -v "unused variable"
	.venv/bin/imbuto openapi > web/openapi.json
	cd web && npx openapi-typescript openapi.json -o generated.new.ts > /dev/null && rm openapi.json && \
	  { diff -q generated.new.ts src/shared/api/generated.ts || { rm generated.new.ts; echo "The API client's types are stale: make types"; exit 1; }; } && rm generated.new.ts
	.venv/bin/imbuto blanks | diff -q - web/src/shared/api/blanks.json || { echo "What new things begin with is stale: make types"; exit 1; }
	cd web && npx vue-tsc --noEmit -p tsconfig.json && npx eslint --max-warnings 0 . && npx prettier --check --log-level warn .

# A broker that others wrote: where it is installed, the link to a broker is tested against it too. It comes with a service
# that starts by itself, so only machines that are thrown away afterwards are given it unasked.
/usr/sbin/mosquitto:
	( $(APT) update -q && $(APT) install -y -q --no-install-recommends mosquitto ) || \
	  echo "Without mosquitto, the link to a broker is tested against the demo's alone."

test: build lint /usr/bin/chromium
	cd web && npx vitest run --reporter=dot
	.venv/bin/pytest -n 2 --dist worksteal

long: build /usr/bin/chromium
	IMBUTO_LONG=1 .venv/bin/pytest -n 2 --dist worksteal

shots: build /usr/bin/chromium
	$(PY) bench/shots.py

mutate: .venv/app
	$(PY) bench/mutate.py

hardness: build
	$(PY) bench/hardness.py all

defaults: .venv/app
	$(PY) bench/planning_defaults.py

map: .venv/app
	$(PY) bench/module_map.py

sentences: .venv/app
	$(PY) bench/sentences.py > docs/sentences.md

readability: .venv/app
	$(PY) bench/sentences.py --readability

bench: build
	$(PY) bench/speed.py

wheel: build
	VIRTUAL_ENV=.venv .venv/bin/uv build -q --wheel --no-build-isolation
	@ls dist/*.whl

clean:
	rm -rf .venv web/node_modules src/imbuto/web_dist dist .demo
