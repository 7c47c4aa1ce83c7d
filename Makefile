# Everything a fresh Debian machine with Python 3.11 and Node 20 needs is set up from here.
PY := .venv/bin/python
BIN := .venv/bin
export PIP_DISABLE_PIP_VERSION_CHECK = 1

# Some environments have Python keep no byte code; every start would compile the program anew.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: setup demo test coverage quick check check-program check-page bench bench-quick soak hostile crash fresh-wheel audit bounds shots pictures schemas media wheel clean

setup: .venv/.warm .venv/.installed yearning/web/index.html

# What runs the program, in the versions of the lock. Byte code is made of what is imported, not of
# all that is installed: that would take longer than the rest.
.venv/.program: requirements.lock pyproject.toml
	test -x $(PY) || python3 -m venv .venv
	$(BIN)/pip install -q --no-compile -c requirements.lock setuptools
	$(BIN)/pip install -q --no-compile -c requirements.lock --no-build-isolation -e .
	touch $@

# And what works on it.
.venv/.installed: .venv/.program
	$(BIN)/pip install -q --no-compile -r requirements.lock
	touch $@

# Compile the numba kernels now, so that the first picture does not wait for them.
.venv/.warm: .venv/.program $(shell find yearning/core yearning/media -name '*.py')
	$(PY) -m yearning.warm
	touch $@

web/node_modules/.installed: web/package-lock.json
	cd web && npm install --no-audit --no-fund --loglevel=error
	touch $@

yearning/web/index.html: web/node_modules/.installed schemas/openapi.json web/index.html \
		web/vite.config.ts $(shell find web/src -type f)
	cd web && npm run --silent build
	touch $@

# The published schemas and the web client's types, from the one definition in Python.
schemas: .venv/.installed
	$(PY) -m yearning.schemas schemas
	$(PY) -m yearning.handbook docs
	cd web && npm run --silent types

# Kernels that are not compiled yet are compiled while the page is open.
demo:
	$(MAKE) -j2 .venv/.program yearning/web/index.html
	$(BIN)/yearning serve --demo

# One file to install, with the built page inside; Node is not needed where it is.
wheel: .venv/.program yearning/web/index.html
	$(BIN)/pip wheel -q --no-deps --no-build-isolation -w dist .

# Debian's: a browser to drive, and ffprobe to read back what was written.
.venv/.debian:
	mkdir -p .venv
	test -x /usr/bin/chromium -a -x /usr/bin/ffprobe || (apt-get update -qq && \
		DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends \
			chromium ffmpeg)
	touch $@

test: setup .venv/.debian
	cd web && npm run --silent test
	rm -rf .failures
	$(BIN)/pytest -n 2 --no-loadscope-reorder

# What of the code the tests run: an hour, for all of it is traced. The page is built with its
# source beside it, and anew as it was by whatever is made next.
coverage: setup .venv/.debian
	rm -rf .coverage && mkdir -p .coverage/page
	cd web && npm run --silent build -- --mode coverage && touch index.html
	PAGE_COVERAGE=$(CURDIR)/.coverage/page $(BIN)/coverage run -m pytest -n 2 --no-loadscope-reorder
	$(BIN)/coverage combine -q && $(BIN)/coverage json -q -o .coverage/python.json
	cd web && npm run --silent test -- --coverage
	cd web && node coverage.mjs ../.coverage/page ../.coverage/page.json
	$(PY) -m tests.coverage_page .coverage/python.json .coverage/page.json docs/coverage.md
	$(MAKE) yearning/web/index.html

# For daily work: formats, types, and the tests of what most changes touch.
quick: setup
	$(BIN)/ruff check -q .
	$(BIN)/mypy
	cd web && npm run --silent check && npm run --silent test
	$(BIN)/pytest -n 2 tests/core tests/store tests/test_guides.py --ignore=tests/core/measure

check: check-program check-page

check-program: setup
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	! grep -rnE 'wait_for_timeout|asyncio\.sleep' tests --include='*.py'  # see tests/waiting.py
	$(PY) -m tests.naming
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(PY) -m yearning.schemas --check schemas
	$(PY) -m yearning.handbook --check docs

check-page: web/node_modules/.installed
	cd web && npm run --silent check
	cd web && npm run --silent types && git diff --exit-code --stat -- src/api/schema.d.ts

# An hour on two slow cores, and best on a machine that does nothing else.
bench: setup .venv/.debian
	$(PY) -m benchmarks --write docs/measured.md

# The same with fewer rounds, and without the longest, in three minutes.
bench-quick: setup
	$(PY) -m benchmarks --quick --write docs/measured.md

# Memory of a server that is worked with for a while, on a clip of half an hour.
MINUTES = 60
BUDGET_MB = 750
soak: setup
	$(PY) -m tests.soak $(MINUTES) $(BUDGET_MB)

# Five hundred files that mean no good, and a quarter of an hour of requests from the document.
hostile: setup
	$(PY) -m tests.hostile.bringing_in 500
	$(PY) -m tests.hostile.document 900

# The wheel where there is nothing else: installed with all it names, it serves the page.
fresh-wheel: setup .venv/.debian
	$(PY) -m tests.wheel

# Servers killed at work, and whether anything is lost: some fifteen seconds each.
N = 100
crash: setup
	$(PY) -m tests.hostile.crash $(N)

# Whether anything is known against what is installed, where the registries say so.
audit: setup
	-$(BIN)/pip install -q pip-audit && $(BIN)/pip-audit -r requirements.lock --no-deps
	-cd web && npm audit

# Every index of every kernel checked, in all treatments and starter looks (two minutes).
bounds: setup
	NUMBA_BOUNDSCHECK=1 NUMBA_CACHE_DIR=$$(mktemp -d) $(PY) -m tests.bounds

shots: setup .venv/.debian
	$(PY) -m tests.ui.shots docs/screenshots

# The demo's encoded clips are part of the project; this makes them anew (about 15 minutes).
media: .venv/.installed
	$(PY) -m yearning.demo.make

clean:
	rm -rf .venv web/node_modules yearning/web .demo

CLIP = yearning/demo/media/glasshouse.mp4

pictures: setup
	$(PY) -m yearning.handbook --pictures docs
	$(BIN)/yearning frame $(CLIP) 60 --height 270 --bits 8 --look docs/looks/faded-monochrome.json --after footage -o docs/looks/as-shot.png
	for step in grey fade; do $(BIN)/yearning frame $(CLIP) 60 --height 270 --bits 8 --look docs/looks/faded-monochrome.json --after $$step -o docs/looks/$$step.png; done
	for step in sides edge snap; do $(BIN)/yearning frame $(CLIP) 60 --height 270 --bits 8 --look docs/looks/cold-warm.json --after $$step -o docs/looks/$$step.png; done
