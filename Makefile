# Every thing people do, one command each. `make demo` needs make and Python 3.11 with venv; no Node, no root.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
PORT ?= 8000
export PORT
export TIDEFLAT_VAR ?= $(CURDIR)/var
export TIDEFLAT_PROOF_PARTS ?= $(CURDIR)/requirements/proof.txt
# As the command itself sets it (cli.py): small matrices, whose threads would wait busily for each other.
export OPENBLAS_NUM_THREADS ?= 1

.PHONY: demo photographs measured proof-parts light drawn settled demo-reset test fuzz bench arrangements drifts bench-load memory weigh schema record findings judgement mutants check styles shots lock check-python check-chromium lint

demo: $(VENV)/runtime.stamp
	@$(BIN)/tideflat demo

demo-reset: $(VENV)/runtime.stamp
	@rm -f $(TIDEFLAT_VAR)/tideflat.sqlite3 $(TIDEFLAT_VAR)/tideflat.sqlite3-wal $(TIDEFLAT_VAR)/tideflat.sqlite3-shm
	@$(BIN)/tideflat demo

# The renderer and the denoiser, which the demo installs by itself once the server answers.
proof-parts: $(VENV)/runtime.stamp
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/proof.txt

check-python:
	@command -v $(PYTHON) >/dev/null 2>&1 || { echo "Python is missing. Install Python 3.11 or newer (Debian: apt install python3 python3-venv), or name one: make demo PYTHON=/path/to/python3.11"; exit 2; }
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Python 3.11 or newer is needed; $$($(PYTHON) --version) was found. Name another: make demo PYTHON=/path/to/python3.11"; exit 2; }
	@$(PYTHON) -c 'import venv, ensurepip' 2>/dev/null || { echo "Python's venv is missing. On Debian: apt install python3-venv"; exit 2; }

$(VENV)/runtime.stamp: requirements/runtime.txt pyproject.toml | check-python
	@test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	@echo "Installing what Tideflat needs (once)"
	@$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/build.txt
	@$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/runtime.txt
	@$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@$(BIN)/python -m compileall -q src  # commands begin a quarter of a second sooner where Python may not write beside its sources
	@touch $@

$(VENV)/dev.stamp: requirements/dev.txt $(VENV)/runtime.stamp
	@echo "Installing what the tests need (once)"
	@$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/dev.txt
	@touch $@

check-chromium:
	@command -v chromium >/dev/null 2>&1 || { [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1 && echo "Installing Chromium for the browser tests (once)" && apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium >/dev/null; } \
		|| { echo "The browser tests need Debian's Chromium. Install it (apt install chromium), or set CHROMIUM to a Chromium's path."; [ -n "$$CHROMIUM" ] || exit 2; }

lint: $(VENV)/dev.stamp
	$(BIN)/ruff check src tests tools
	$(BIN)/mypy
	$(BIN)/lint-imports

# Under a minute: what to run after every change. `make test` is everything, on all cores.
check: $(VENV)/dev.stamp lint
	$(BIN)/python -m pytest tests/core tests/architecture -n auto --dist worksteal -p no:logging

test: $(VENV)/dev.stamp check-chromium lint
	$(BIN)/python -m pytest -n $$(( $$(nproc) + 2 )) --dist worksteal  # two more than processors: a third of the time is waiting for servers and pages

# Long: 5,000 posts for each of three seeds. SEEDS="1 2 3" and POSTS=5000 may be given.
SEEDS ?= 1 2 3
POSTS ?= 5000
fuzz: $(VENV)/dev.stamp
	@for seed in $(SEEDS); do echo "seed $$seed, $(POSTS) posts"; TIDEFLAT_FUZZ=$(POSTS) TIDEFLAT_FUZZ_SEED=$$seed $(BIN)/python -m pytest tests/web/test_fuzz.py -p no:logging || exit 1; done

bench: $(VENV)/dev.stamp
	$(BIN)/python -m tools.bench

# How well arrangements are proposed, over twenty seeds. SEEDS_TRIED=20
SEEDS_TRIED ?= 20
arrangements: $(VENV)/dev.stamp
	$(BIN)/python -m tools.arrangements --seeds $(SEEDS_TRIED)

# Whether every thing of the demo scenes may drift just as far as is told, in eight directions.
drifts: $(VENV)/dev.stamp
	$(BIN)/python -m tools.drifts

# Readings against the path tracer, written anew; and what the frame draws against the proof, thing by thing.
light: $(VENV)/dev.stamp
	$(BIN)/python -m tools.light_reference

drawn: $(VENV)/dev.stamp
	$(BIN)/python -m tools.drawn_against_proof

settled: $(VENV)/dev.stamp
	$(BIN)/python -m tools.proof_settled $(SCENE)

# Photographs to measure in, rendered anew where they are missing; and how measuring does on them (ASIDE=--aside: on those kept aside).
photographs: $(VENV)/dev.stamp
	$(BIN)/python -m tools.measuring_pictures

measured: $(VENV)/dev.stamp
	$(BIN)/python -m tools.measured_pictures $(ASIDE)

# Fifty people for a minute each, on the loopback address only.
bench-load: $(VENV)/dev.stamp
	$(BIN)/python -m tools.load --processes 1
	$(BIN)/python -m tools.load --processes 2

# What a process remembers after two hundred cameras of one scene, cache by cache.
memory: $(VENV)/dev.stamp
	$(BIN)/python -m tools.memory

weigh: $(VENV)/dev.stamp
	$(BIN)/python -m tools.weigh

# What of the scene document's JSON Schema follows from the code.
schema: $(VENV)/dev.stamp
	$(BIN)/python -m tools.schema

# What the core says of many tables, after a change that was meant.
record: $(VENV)/dev.stamp
	$(BIN)/python -m tools.record

# Small faults put into the core: which do the tests notice? COUNT=400 SEED=9.
COUNT ?= 400
SEED ?= 9
mutants: $(VENV)/dev.stamp
	$(BIN)/python -m tools.mutants --count $(COUNT) --seed $(SEED)

# Ten scenes with what a practitioner would want said of each: hits, misses, false alarms.
judgement: $(VENV)/dev.stamp
	$(BIN)/python -m tools.judgement

# The table of docs/findings.md, from the kinds as they are declared.
findings: $(VENV)/dev.stamp
	$(BIN)/python -m tools.findings

shots: $(VENV)/dev.stamp check-chromium
	$(BIN)/python -m tools.shots

styles:
	@command -v npm >/dev/null 2>&1 || { echo "Building styles needs Node and npm; running and testing do not."; exit 2; }
	npm install --no-audit --no-fund
	$(PYTHON) -m tools.styles

lock:
	@command -v uv >/dev/null 2>&1 || { echo "Locking needs uv: pip install uv"; exit 2; }
	cd requirements && for of in build runtime proof; do uv pip compile --generate-hashes --python-version 3.11 --no-header $$of.in -o $$of.txt; done && uv pip compile --generate-hashes --python-version 3.11 --no-header dev.in -o dev.txt
