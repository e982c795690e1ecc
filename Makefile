# `make demo` and `make test` are all a newcomer needs; each sets up what it needs by itself.
PYTHON ?= python3.11
VENV := .venv
RUN := $(VENV)/bin
READY := $(VENV)/.ready

.PHONY: demo test deep check lint fuzz faults bench screenshots figure docs man clean

demo: $(READY)
	@rm -rf build/tarnhut
	@$(RUN)/lemmar demo --into build/tarnhut

test: $(READY)
	$(RUN)/python -m pytest -n auto --dist worksteal --durations=15

# The same tests with all their examples, on the whole demo: what is tried by examples, and what is slow.
deep: $(READY)
	LEMMAR_TESTS=deep $(RUN)/python -m pytest -n auto --dist worksteal --durations=15 -m "$(or $(MARKS),hypothesis or deep)"

check: lint test deep fuzz

lint: $(READY)
	$(RUN)/ruff check src tests tools benchmarks
	$(RUN)/ruff format --check src tests tools benchmarks
	$(RUN)/mypy
	$(RUN)/lint-imports
	$(RUN)/python tools/make_docs.py --check

fuzz: $(READY)
	$(RUN)/python tools/fuzz.py --seconds $(or $(SECONDS),30) --seed $(or $(SEED),7)

faults: $(READY)
	$(RUN)/python tools/faults.py

figure: $(READY)
	$(RUN)/python -m pip install --quiet --disable-pip-version-check --editable '.[figures]'
	$(RUN)/python tools/make_figure.py

docs: $(READY)
	$(RUN)/python tools/make_docs.py

man: $(READY)
	$(RUN)/python tools/make_man.py

bench: $(READY)
	$(RUN)/python benchmarks/run.py

screenshots: $(READY)
	$(RUN)/python tools/make_screenshots.py

$(READY): pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(RUN)/python -m pip install --quiet --disable-pip-version-check --editable '.[dev]'
	@touch $(READY)

clean:
	rm -rf $(VENV) build dist .mypy_cache .ruff_cache .pytest_cache .hypothesis
