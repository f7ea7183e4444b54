.PHONY: setup run-setup demo test lint types layers unit bench mutants torture screenshots lock resources docs

PY := .venv/bin/python
# Every worker and every command of a test would compile each package anew.
unexport PYTHONDONTWRITEBYTECODE

setup:
	@bash tools/setup.sh dev

# What runs the program, and nothing else.
run-setup:
	@bash tools/setup.sh run

demo: run-setup
	@bash tools/with_display.sh $(PY) -m ochre_stone --demo

test: setup
	@$(MAKE) --no-print-directory lint layers
	@$(MAKE) --no-print-directory --jobs=2 types unit

lint:
	@$(PY) -m ruff check --quiet src tests tools benchmarks
	@$(PY) -m ruff format --check --quiet src tests tools benchmarks

types:
	@$(PY) -m mypy --no-error-summary

layers:
	@.venv/bin/lint-imports --no-cache > .lint-imports.log || { cat .lint-imports.log; exit 1; }

unit:
	@$(PY) -m tests

bench: setup
	@$(PY) -m benchmarks
	@$(PY) -m benchmarks.pictures
	@$(PY) -m benchmarks.masses
	@$(PY) -m benchmarks.log
	@$(PY) -m benchmarks.recipes
	@$(PY) -m benchmarks.turns
	@$(PY) -m benchmarks.plans
	@$(PY) -m benchmarks.placing
	@$(PY) -m benchmarks.darks

# Half an hour; it goes on where it was left. A short version of each part is in the tests.
torture: setup
	@$(PY) -m benchmarks.torture

# Hours: not part of make test.
mutants: setup
	@$(PY) -m tools.mutants --map
	@$(PY) -m tools.mutants
	@$(PY) -m tools.mutants --report

screenshots: setup
	@PYTHONPATH=. bash tools/with_display.sh $(PY) tools/make_screenshots.py

# The tables and data that ship are grown by these scripts and committed.
resources: setup
	$(PY) tools/make_observer_table.py
	$(PY) tools/make_munsell_table.py
	$(PY) tools/make_gamut_table.py
	$(PY) tools/make_chart_table.py
	$(PY) -m tools.pigments
	$(PY) -m tools.pigments.check
	$(PY) -m tools.make_demo
	PYTHONPATH=. $(PY) tools/make_demo_log.py
	PYTHONPATH=. $(PY) tools/make_board_photo.py
	QT_QPA_PLATFORM=offscreen $(PY) tools/make_start_pictures.py
	@$(MAKE) --no-print-directory docs

# Tables of figures in docs/, as the program has them now.
docs: setup
	$(PY) tools/make_paint_tables.py

# Two: what runs the program, and all that its makers use, in the same versions.
COMPILE := .venv/bin/uv pip compile --quiet --system-certs pyproject.toml --generate-hashes --no-header --no-emit-index-url --python-version 3.11
lock: setup
	$(COMPILE) --extra setup --extra dev -o requirements-dev.lock
	$(COMPILE) --extra setup --constraint requirements-dev.lock -o requirements.lock
