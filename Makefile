# Every target installs what is missing first.
.PHONY: demo test lint bench soak shots paint setup setup-dev wheel
setup:
	@bash tools/setup.sh run
setup-dev:
	@bash tools/setup.sh dev

demo: setup
	.venv/bin/orthomet demo

test: setup-dev
	QT_QPA_PLATFORM=offscreen .venv/bin/python -m pytest

lint: setup-dev
	.venv/bin/ruff check orthomet tests bench soak tools
	.venv/bin/ruff format --check orthomet tests bench soak tools
	.venv/bin/mypy

bench: setup-dev
	QT_QPA_PLATFORM=offscreen .venv/bin/python -m bench

# MINUTES may be a fraction; SEED=N begins with case N, and so plays a failure again.
MINUTES ?= 15
SEED ?=
soak: setup-dev
	MINUTES=$(MINUTES) SEED=$(SEED) .venv/bin/python -m soak

shots: setup-dev
	QT_QPA_PLATFORM=offscreen .venv/bin/python tools/shots.py

wheel: setup-dev
	.venv/bin/python -m build --wheel --no-isolation

paint: setup-dev
	.venv/bin/python -m orthomet.demo.painting.paint
