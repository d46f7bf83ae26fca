.PHONY: demo test lint bench assets schema screenshots record lock setup

setup:
	@scripts/setup

demo: setup
	.venv/bin/curve-rank demo

test:
	@scripts/setup test
	.venv/bin/python -m pytest

lint: setup
	.venv/bin/ruff check src tests benchmarks scripts
	.venv/bin/ruff format --check src tests benchmarks scripts
	.venv/bin/mypy
	.venv/bin/lint-imports
	.venv/bin/python -m scripts.check_sizes

bench: setup
	.venv/bin/python -m benchmarks

# Refresh the vendored front-end files: change a version in scripts/package.json first.
assets: setup
	cd scripts && npm install --no-audit --no-fund
	.venv/bin/python scripts/vendor_assets.py

# Write the variant document's JSON Schema to docs/.
schema: setup
	.venv/bin/python -m scripts.write_schema

# Write anew what pages and commands answer, after a change that is meant to change numbers.
record: setup
	.venv/bin/python -m tests.answers.record

# Take the pictures in docs/screenshots/ anew, from the demo data.
screenshots:
	@scripts/setup test
	.venv/bin/python -m scripts.take_screenshots

# Lock dependencies anew after a change in pyproject.toml.
lock: setup
	.venv/bin/python -m pip install -q pip-tools
	.venv/bin/pip-compile -q --extra dev --generate-hashes --allow-unsafe --strip-extras --no-emit-index-url --no-emit-find-links --no-emit-trusted-host --no-header -o requirements.lock pyproject.toml
