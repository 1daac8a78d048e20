# The four things to do here: make demo, make test, make lint, make bench.

PYTHON ?= python3
# What is compiled is kept, whatever the machine says: every process would compile all of it anew.
unexport PYTHONDONTWRITEBYTECODE
VENV := .venv
BIN := $(VENV)/bin
CHECKS := style templates types imports limits repeats vendored migrations scripts
PORT ?= 8000

.PHONY: demo test test-long lint $(CHECKS) bench pictures screenshots requirements vendor clean

demo: $(VENV)/.run $(VENV)/.compiler
	$(BIN)/python manage.py demo --port $(PORT)

# What is installed comes two at a time, as do the checks; tests four at a time, since some of them wait for others.
test:
	$(MAKE) --no-print-directory -j2 $(VENV)/.browser node_modules/.made
	$(MAKE) --no-print-directory lint
	$(BIN)/python -m pytest -n 4 --dist worksteal

# The property tests with fresh seeds and many more examples, and 20,000 units.
test-long: $(VENV)/.dev
	$(BIN)/python -m pytest -n 3 --dist worksteal tests/core --hypothesis-profile=long

lint: $(VENV)/.dev node_modules/.made
	$(MAKE) --no-print-directory -j2 -Otarget $(CHECKS)

style:
	$(BIN)/ruff format --check .
	$(BIN)/ruff check .

templates:
	$(BIN)/djlint --lint --quiet src

types:
	$(BIN)/mypy

imports:
	$(BIN)/lint-imports

limits:
	$(BIN)/python tools/limits.py

repeats:
	$(BIN)/python tools/repeats.py

vendored:
	$(BIN)/python tools/vendor.py --check

migrations:
	$(BIN)/python manage.py makemigrations --check --dry-run

scripts:
	npm run --silent lint
	npm run --silent types
	npm run --silent test

bench: $(VENV)/.bench
	$(BIN)/python -m bench

# The pictures that ship with the demo, traced anew.
pictures: $(VENV)/.run
	for settings in demo/heron-reach/pictures/*.json; do \
		$(BIN)/ashfell picture demo/heron-reach/site.json $$settings $${settings%.json}.png || exit 1; done

screenshots: $(VENV)/.browser
	$(BIN)/python tools/screenshots.py

COMPILE := $(BIN)/uv pip compile --quiet --generate-hashes --no-header --no-annotate --python-version 3.11 pyproject.toml

requirements: $(VENV)/.dev
	echo uv | $(BIN)/uv pip compile --quiet --generate-hashes --no-header --no-annotate --python-version 3.11 - -o requirements-uv.txt
	$(COMPILE) --extra web --extra dev -o requirements-dev.txt
	$(COMPILE) -c requirements-dev.txt --extra web -o requirements.txt
	$(COMPILE) -c requirements-dev.txt --extra web --extra bench -o requirements-bench.txt

# The kernel that the benchmark compares with: large, and for nothing else.
$(VENV)/.bench: requirements-bench.txt $(VENV)/.dev
	$(call install,--require-hashes -r requirements-bench.txt)
	touch $@

vendor: $(VENV)/.dev
	$(BIN)/python tools/vendor.py

# Packages come by uv, in a sixth of the time; by pip where uv cannot be had or does not get them.
PIP := $(BIN)/pip install --quiet --no-compile --disable-pip-version-check
install = $(BIN)/uv pip install --quiet --python $(BIN)/python $(1) || $(PIP) $(1)

$(VENV)/.made: requirements-uv.txt
	$(PYTHON) -m venv $(VENV)
	$(PIP) --require-hashes -r requirements-uv.txt || true
	touch $@

$(VENV)/.run: requirements.txt pyproject.toml | $(VENV)/.made
	$(call install,--require-hashes -r requirements.txt)
	$(call install,--no-deps -e .)
	touch $@

$(VENV)/.dev: requirements-dev.txt $(VENV)/.run
	$(call install,--require-hashes -r requirements-dev.txt)
	touch $@

# Debian's Chromium, Node.js, nginx and compiler of scenes, when one of them is missing.
APT := env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends
COMPILER := libllvm19
HAS_COMPILER = ls /usr/lib/*/libLLVM*19* >/dev/null 2>&1

# Only those are asked for: Node.js from elsewhere brings its own npm, which Debian's would contradict.
lacks = $(shell PATH=$$PATH:/usr/sbin command -v $(1) >/dev/null || echo $(2))
$(VENV)/.debian: LACKING = $(call lacks,chromium-headless-shell,chromium-headless-shell) $(call lacks,node,nodejs) $(call lacks,npm,npm) $(call lacks,nginx,nginx-light) $(shell $(HAS_COMPILER) || echo $(COMPILER))
$(VENV)/.debian: | $(VENV)/.made
	test -z "$(strip $(LACKING))" || { apt-get update -qq && $(APT) $(LACKING); }
	touch $@

# Installed where that may be; nothing but time depends on it.
$(VENV)/.compiler: | $(VENV)/.made
	@$(HAS_COMPILER) || { [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null && timeout 60 apt-get update -qq && timeout 60 $(APT) $(COMPILER); } >/dev/null 2>&1 || \
		echo "Large pictures would be traced in half the time with LLVM 19 (Debian: apt install $(COMPILER))."
	@touch $@

$(VENV)/.browser: $(VENV)/.dev $(VENV)/.debian
	touch $@

# What checks the pages' scripts.
node_modules/.made: package.json package-lock.json | $(VENV)/.debian
	npm ci --silent --no-audit --no-fund
	touch $@

clean:
	rm -rf $(VENV) node_modules build var
