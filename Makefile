# Everything starts here.  `make demo` runs Good Quill with its demo world; `make test` runs every check.
SHELL := /bin/bash
PY := .venv/bin/python

ifneq ($(filter demo demo-reset,$(MAKECMDGOALS)),)
export QUILL_PARTS = run
endif

.PHONY: quick requirements demo demo-reset test web-test set-up build lint types schema fonts pack bench bench-server bench-browser bench-signing mutate bench-attack clean

demo: build
	@$(PY) -m ops.demo

demo-reset: build
	@$(PY) -m ops.demo --reset

set-up:
	@bash ops/set-up.sh

# The pins, made anew from what is asked for by name.
requirements:
	cd requirements && for part in run check; do ../.venv/bin/pip-compile -q --allow-unsafe --generate-hashes --strip-extras --no-header \
		--no-emit-index-url --no-emit-trusted-host --no-emit-find-links -o $$part.txt $$part.in; done

build: set-up web/dist/app.html

web/dist/app.html: $(shell find web/src web/public -type f 2>/dev/null) web/app.html web/package-lock.json web/vite.config.ts core/quillcore/pdf/fonts/SourceSans3-Medium.ttf
	@echo "Building the web application …"
	@$(PY) -m ops.fonts
	@cd web && npm run --silent build
	@$(PY) -m whitenoise.compress --quiet web/dist

lint:
	.venv/bin/ruff format --check .
	.venv/bin/ruff check .
	$(PY) -m ops.words --check
	PYTHONPATH=server $(PY) -m ops.figures
	cd web && npm run --silent lint

types:
	QUILL_SECRET_KEY=types QUILL_DEMO=1 PYTHONPATH=server .venv/bin/mypy
	cd web && npm run --silent check-types
	PYTHONPATH=server .venv/bin/lint-imports

# The inner loop: everything that needs neither database nor browser, in some three minutes.
quick: build
	$(MAKE) --no-print-directory --output-sync -j 2 lint types web-test
	$(PYTEST) -n 3 tests/core tests/test_words.py

# Files made from others: the schema, the web's and the server's types, the demo pack.  Tests say when they are stale.
schema: set-up
	QUILL_SECRET_KEY=schema $(PY) server/manage.py spectacular --file server/schema.yaml --validate --fail-on-warn
	$(PY) -m ops.wire_types
	cd web && npm run --silent types && npx prettier --write --log-level error src/api/schema.d.ts

fonts: set-up
	$(PY) -m quillcore.pdf.faces
	$(PY) -m quillcore.signing.outlining

pack: set-up
	.venv/bin/quill pack build packs/calloway/source -o packs/calloway/built

# Tests start and end some fifty databases: their files are kept in memory, where there is a place for that.
# Tests wait for databases and browsers now and then: a worker more than there are processors has work then.
# What one file's tests do stays in one worker; the order of files is tests/conftest.py's.
QUICK := $(shell [ -w /dev/shm ] && echo /dev/shm || echo /tmp)
PYTEST := PYTHONDONTWRITEBYTECODE= $(PY) -m pytest --dist loadfile --no-loadscope-reorder

# With COVERAGE=1, as in CI, it is told what the tests reach and which files they reach least; no figure is asked for.
# Not counted: limited children and running products, whose bounds of computing a count would use up.
ifdef COVERAGE
COVERED := --cov --cov-report=
WEB_COVERED := -- --coverage
REACHED := $(PY) -m coverage report --sort=cover --skip-covered | sed -n '1,24p;/^TOTAL/p'
else
REACHED := true
endif

web-test:
	cd web && npm run --silent test $(WEB_COVERED)

test: build
	$(MAKE) --no-print-directory --output-sync -j 2 lint types web-test
	export TMPDIR=$$(mktemp -d -p $(QUICK)); trap 'rm -rf "$$TMPDIR"' EXIT; chmod 711 "$$TMPDIR"; \
	export QUILL_TEST_SHARED="$$TMPDIR"/shared COVERAGE_FILE="$$TMPDIR"/coverage; mkdir "$$QUILL_TEST_SHARED"; \
	$(PYTEST) -n 3 $(COVERED) tests/core tests/server tests/test_processes.py tests/test_proxy.py tests/test_words.py && $(REACHED) && \
	$(PYTEST) -n 3 tests/journeys tests/faults

bench-attack: set-up
	PYTHONPATH=server $(PY) -m bench.attack

mutate: set-up
	$(PY) -m tests.mutate

bench-browser: build
	PYTHONPATH=server $(PY) -m bench.browser

bench-server: set-up
	$(PY) -m bench.server

bench-signing: set-up
	$(PY) -m bench.signing

bench: set-up
	$(PY) -m bench.package
	$(PY) -m bench.reading

clean:
	rm -rf .venv .local web/node_modules web/dist web/public/fonts
