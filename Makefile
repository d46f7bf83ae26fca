.PHONY: docs validation figures mutants demo test lint bench soak shell assets schema screenshots record lock setup develop wheel

setup:
	@scripts/setup

develop:
	@scripts/setup develop

# make demo PORT=9000 DATA=/some/folder
demo: setup
	.venv/bin/curve-rank demo $(if $(PORT),--port $(PORT)) $(if $(DATA),--data "$(DATA)")

# The wheel and the source archive, in dist/.
wheel: setup
	@rm -rf build dist
	.venv/bin/python -m pip wheel -q --disable-pip-version-check --no-deps --no-build-isolation -w dist .
	.venv/bin/python -c "from setuptools.build_meta import build_sdist; build_sdist('dist')" >/dev/null
	@rm -rf build; ls dist

# A shell in which curve-rank is a command.
shell: setup
	@echo "curve-rank is a command here; leave with exit."
	@PATH="$(CURDIR)/.venv/bin:$$PATH" $${SHELL:-sh}

test:
	@scripts/setup test
	.venv/bin/python -m pytest

lint: develop
	.venv/bin/ruff check src tests benchmarks scripts
	.venv/bin/ruff format --check src tests benchmarks scripts
	.venv/bin/mypy
	.venv/bin/lint-imports
	.venv/bin/python -m scripts.check_sizes

# Load, kills and hostile input against servers of its own on 127.0.0.1; ARGS="--quick" for a few of each.
soak: develop
	.venv/bin/python -m benchmarks.soak $(ARGS)

bench: develop
	.venv/bin/python -m benchmarks

# Small random faults, and whether the tests of their room notice them; ARGS="practice store --number 20" for some.
mutants: develop
	.venv/bin/python -m scripts.mutants $(ARGS)

# Refresh the vendored front-end files: change a version in scripts/package.json first.
assets: develop
	cd scripts && npm install --no-audit --no-fund
	.venv/bin/python -m scripts.vendor_assets

# Write the variant document's JSON Schema to docs/.
schema: develop
	.venv/bin/python -m scripts.write_schema
	.venv/bin/python -m scripts.write_parameters
	.venv/bin/python -m scripts.write_even_draws

# Write anew what pages and commands answer, after a change that is meant to change numbers.
record: develop
	.venv/bin/python -m tests.answers.record

# Take the pictures in docs/screenshots/ anew, from the demo data.
screenshots:
	@scripts/setup test
	.venv/bin/python -m scripts.take_screenshots

# Lock dependencies anew after a change in pyproject.toml: what it runs with, and what it is developed with.
LOCKED = .venv/bin/pip-compile -q --generate-hashes --allow-unsafe --strip-extras --no-emit-index-url --no-emit-find-links --no-emit-trusted-host --no-header --extra build
lock: develop
	.venv/bin/python -m pip install -q pip-tools
	$(LOCKED) -o requirements.lock pyproject.toml
	$(LOCKED) --extra dev -c requirements.lock -o requirements-dev.lock pyproject.toml
	$(LOCKED) --extra docs -c requirements.lock -c requirements-dev.lock -o requirements-docs.lock pyproject.toml
	.venv/bin/python -m scripts.cut_locks

# All that is written of it, and the reference of its code, as pages in build/docs that need no network; packed,
# they are served under /api/docs and go into the next wheel.
docs: develop
	.venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --require-hashes -r requirements-docs.lock
	.venv/bin/python -m sphinx -q -W --keep-going -b html docs build/docs
	.venv/bin/python -m scripts.pack_docs build/docs src/curve_rank/web/documentation.zip
	@echo "Written: build/docs/index.html, served under /api/docs/index.html"

# What the model is held against, and how it stands: a page of the guide.
validation: develop
	.venv/bin/python -m scripts.write_validation

# Contact sheets of all figures, in build/figures; ARGS="--view top --width 450 --only chin-up" for some.
figures: develop
	.venv/bin/python -m scripts.make_figures $(ARGS)
