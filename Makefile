# Everything that is done with this project, from a fresh machine with Python 3.11 and Node 20 onwards.
SHELL := /bin/bash
.DEFAULT_GOAL := help
BIN := .venv/bin
STAMPS := .stamps
FRONTEND := $(shell find frontend/src frontend/public -type f 2>/dev/null) frontend/index.html frontend/vite.config.ts

.PHONY: help setup demo check quick test long proof soak bench screenshots words types format clean

help: ## What can be made
	@grep -hE '^[a-z]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

setup: $(STAMPS)/python $(STAMPS)/web ## Install and build what the product needs

demo: setup ## Serve the made-up desk on this machine (ARGS="--port 8500 --cases 6000")
	@$(BIN)/mild-ladder demo $(ARGS)

check: $(STAMPS)/tools $(STAMPS)/node ## Style, types, layers, fresh generated types
	$(BIN)/ruff check . && $(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	cd frontend && npm run --silent check
	tools/types-are-fresh

quick: check ## Style, types, and the tests of core, store, desk and page units that take little time
	cd frontend && npm run --silent test
	$(BIN)/pytest -q -n auto -m "not long and not slow" tests/core tests/store tests/desk

test: check $(STAMPS)/web $(STAMPS)/chromium ## Every check and test
	cd frontend && npm run --silent test
	$(BIN)/pytest -n auto --dist loadfile

long: $(STAMPS)/tools $(STAMPS)/web $(STAMPS)/chromium ## Tests that take long, left out of `make test`
	$(BIN)/pytest -n auto --dist loadfile -m long
	EXAMPLES=all $(BIN)/pytest -n auto tests/core/draft tests/api/test_openapi.py

proof: $(STAMPS)/tools ## Best orders against every order there is, at length
	@$(BIN)/python -m soak orders

soak: $(STAMPS)/tools ## The long form of every proof, kept in docs/measured (ARGS="forecasts guides")
	@$(BIN)/python -m soak $(ARGS)

bench: $(STAMPS)/tools $(STAMPS)/web $(STAMPS)/chromium ## Speed, as JSON (ARGS="--cases 1000000")
	@$(BIN)/python -m bench $(ARGS)

screenshots: $(STAMPS)/tools $(STAMPS)/web $(STAMPS)/chromium ## The pictures in docs/screenshots, from the demo data
	$(BIN)/python -m tools.screenshots

words: $(STAMPS)/tools ## Every text of page and server with its file, to be read in one go
	@$(BIN)/python -m tools.words

types: $(STAMPS)/python $(STAMPS)/node ## The OpenAPI document, and from it the front end's types
	$(BIN)/mild-ladder schema api > frontend/openapi.json
	cd frontend && npm run --silent types

format: $(STAMPS)/tools $(STAMPS)/node ## Put every file into the house style
	$(BIN)/ruff format . && $(BIN)/ruff check --fix .
	cd frontend && npx biome check --write .

clean: ## Take away what was installed and built
	rm -rf .venv $(STAMPS) frontend/node_modules src/mildladder/web

$(STAMPS)/python: requirements.lock pyproject.toml
	@test -x $(BIN)/python || python3 -m venv .venv
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/tools: requirements-dev.lock $(STAMPS)/python
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements-dev.lock
	@touch $@

$(STAMPS)/node: frontend/package-lock.json frontend/package.json
	cd frontend && npm ci --silent --no-audit --no-fund
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/web: $(STAMPS)/node $(FRONTEND)
	cd frontend && npx vite build --logLevel warn
	@touch $@

$(STAMPS)/chromium:
	@command -v chromium >/dev/null || { \
	  as_root=$$([ $$(id -u) = 0 ] || echo sudo); \
	  $$as_root apt-get update -qq && $$as_root apt-get install -y -qq chromium >/dev/null; }
	@mkdir -p $(STAMPS) && touch $@
