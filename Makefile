SHELL := bash
.SHELLFLAGS := -eu -o pipefail -c
.DELETE_ON_ERROR:
PYTHON   ?= python3
VENV     := .venv
BIN      := $(VENV)/bin
PORT     ?= 8000
DATA     ?= data
CHROMIUM ?= $(firstword $(wildcard /usr/bin/chromium-headless-shell /usr/bin/chromium) /usr/bin/chromium-headless-shell)
export CHROMIUM
STATIC   := src/euhydra/web/static

# Runs a command as root where that is needed and possible; says what is missing where it is not.
define as_root
run=; if [ "$$(id -u)" != 0 ]; then if sudo -n true 2>/dev/null; then run=sudo; else \
echo "$(1) is missing: ask an administrator to run 'apt-get install $(1)'" >&2; exit 1; fi; fi; \
$$run apt-get update -qq; \
$$run env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $(1) >/dev/null
endef

.PHONY: help demo demo-reset test sweep lint bench browser assets assets-check map wheel-check lock clean
help: ## list the targets
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 16

$(VENV)/bin/uv: requirements-uv.txt
	@$(PYTHON) -c 'import sys; sys.exit("Python 3.11 or newer is needed" if sys.version_info < (3, 11) else 0)'
	@$(PYTHON) -c 'import ensurepip' 2>/dev/null || { $(call as_root,python3-venv); }
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements-uv.txt
	@touch $@

$(VENV)/.run: $(VENV)/bin/uv requirements.txt pyproject.toml
	$(BIN)/uv pip install -q --python $(BIN)/python --compile-bytecode --require-hashes -r requirements.txt
	$(BIN)/uv pip install -q --python $(BIN)/python --no-deps --no-build-isolation -e .
	@touch $@

$(VENV)/.dev: $(VENV)/.run requirements-dev.txt
	$(BIN)/uv pip install -q --python $(BIN)/python --compile-bytecode --require-hashes -r requirements-dev.txt
	@touch $@

demo-reset: $(VENV)/.run ## lay the demo garden out anew and serve it
	$(BIN)/euhydra demo --reset --port $(PORT) --data $(DATA)

demo: $(VENV)/.run ## serve the demo garden at http://127.0.0.1:8000 (PORT= and DATA= change port and data folder)
	$(BIN)/euhydra demo --port $(PORT) --data $(DATA)

test: $(VENV)/.dev browser ## ask every property, those in the browser included
	$(BIN)/python -m pytest -q -n auto --dist worksteal -m "not sweep"

sweep: $(VENV)/.dev browser ## ask them of all other gardens, places, pages and requests
	$(BIN)/python -m pytest -q -n auto --dist worksteal -m sweep

lint: $(VENV)/.dev ## linters, type checker, import arrows
	$(BIN)/ruff check . && $(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports

bench: $(VENV)/.dev ## measure speed and memory, beside a reference where there is one
	$(BIN)/python -m pytest -q -c benchmarks/pytest.ini benchmarks

browser: # install Chromium when it is missing
	@[ -x "$(CHROMIUM)" ] || { $(call as_root,chromium-headless-shell); }

node_modules/.ok: package-lock.json
	npm ci --ignore-scripts --no-audit --no-fund
	@touch $@

assets: node_modules/.ok ## rebuild styles, scripts, fonts and icons
	bash styles/build.sh $(STATIC) tests/browser/vendor

assets-check: node_modules/.ok ## the committed assets are the built ones, byte for byte
	@rm -rf out/assets && mkdir -p out/assets/static out/assets/test
	bash styles/build.sh out/assets/static out/assets/test
	@cd out/assets/static && find . -type f | while read -r f; do cmp "$$f" "$(CURDIR)/$(STATIC)/$$f"; done
	@cd out/assets/test && find . -type f | while read -r f; do cmp "$$f" "$(CURDIR)/tests/browser/vendor/$$f"; done
	@echo "assets are current"

map: $(VENV)/.run ## write the map of the sources in CONTRIBUTING.md
	$(BIN)/python tests/source_map.py

wheel-check: $(VENV)/.run ## build the wheel, install it by itself, ask its demo for pages
	@rm -rf out/wheel
	$(BIN)/uv build -q --wheel --no-build-isolation --python $(BIN)/python --out-dir out/wheel
	$(BIN)/uv venv -q --python $(BIN)/python out/wheel/env
	$(BIN)/uv pip install -q --python out/wheel/env/bin/python -c requirements.txt out/wheel/*.whl
	out/wheel/env/bin/python .ci/ask_demo.py out/wheel/env/bin/euhydra

COMPILE = $(BIN)/uv pip compile -q --generate-hashes --python-version 3.11 --custom-compile-command "make lock"
lock: $(VENV)/bin/uv ## pin what pyproject.toml asks for again
	$(COMPILE) pyproject.toml --group build -o requirements.txt
	$(COMPILE) pyproject.toml --group build --group dev -c requirements.txt -o requirements-dev.txt
	$(COMPILE) requirements-uv.in -o requirements-uv.txt
	! grep -nE '://|^--(extra-)?index-url|^--find-links' requirements*.txt

clean: ## remove what was built here (never the data folder)
	rm -rf $(VENV) node_modules out .mypy_cache .ruff_cache .pytest_cache .import_linter_cache .benchmarks
