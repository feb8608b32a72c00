# Two commands do everything: make demo, make test.
PY := .venv/bin/python
# A warm start is twice as fast with compiled modules kept, whatever the shell says.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: setup demo stop reset-demo test faults soak check types lock audit dead bench validity screenshots

setup:  ## install everything that is missing, build the pages
	@tools/setup.sh
	@echo "Everything is installed. Start with: make demo"

demo:  ## start the app with demo data on http://127.0.0.1:8437; HOST=0.0.0.0 lets paired devices in
	@tools/setup.sh
	@exec .venv/bin/true-margin demo $(if $(HOST),--host $(HOST))

stop:  ## stop the app and its private database
	@.venv/bin/true-margin stop

reset-demo:  ## put the demo shootouts aside and load fresh ones
	@tools/setup.sh
	@.venv/bin/true-margin reset-demo

# One process more than there are cores: many tests only wait for a process or a page.
test: check  ## all checks and all tests, browser included
	@PATH="$(CURDIR)/.venv/bin:$$PATH"; cd web && npm run --silent test
	@$(PY) -m pytest -n $$(($$(nproc) + 1)) --dist loadfile --no-loadscope-reorder

check:  ## style, types, floors, fresh generated files
	@tools/setup.sh
	@.venv/bin/ruff check .
	@.venv/bin/ruff format --check -q .
	@.venv/bin/lint-imports --no-logo >.import-lint.log || { cat .import-lint.log; exit 1; }
	@$(PY) -m mypy
	@PATH="$(CURDIR)/.venv/bin:$$PATH"; cd web && npm run --silent check
	@tools/fresh.sh

types:  ## write docs/openapi.json, docs/glossary.md and the web files that are made with them
	@.venv/bin/true-margin openapi docs/openapi.json
	@$(PY) tools/choices.py web/src/api/choices.ts
	@$(PY) tools/labels.py web/src/api/labels.ts
	@$(PY) tools/glossary.py docs/glossary.md web/src/frame/words.ts
	@PATH="$(CURDIR)/.venv/bin:$$PATH"; cd web && npm run --silent types && npx --no-install biome format --write src/api/choices.ts src/api/labels.ts src/frame/words.ts >/dev/null

lock:  ## resolve the Python packages again
	@for set in "requirements.lock --extra dev pyproject.toml" "tools/node.lock tools/node.in" \
	  "tools/bench.lock -c requirements.lock tools/bench.in"; do \
	  .venv/bin/uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-header \
	    --no-annotate --no-emit-index-url --no-emit-find-links -o $$set; done

audit:  ## ask the registries for known weaknesses of what is installed; fails where they do not answer
	@tools/setup.sh
	@tools/audit.sh

faults:  ## kill the server, restart the database, cut the network, twenty times each
	@tools/setup.sh
	@TRUE_MARGIN_FAULT_ROUNDS=20 $(PY) -m pytest tests/faults

soak:  ## what takes too long for every day: faults, damaged input, random requests, load (an hour)
	@tools/setup.sh
	@TRUE_MARGIN_LOAD_ROUNDS=200 $(PY) -m pytest tests/faults/test_writing_load.py -s
	@TRUE_MARGIN_FUZZ_CASES=100000 TRUE_MARGIN_API_EXAMPLES=40 $(PY) -m pytest tests/fuzz
	@PYTHONPATH=. $(PY) -m bench.load --seconds 600 --workers 2
	@PYTHONPATH=. $(PY) -m bench.load --seconds 40 --share 0.3 --workers 1
	@PYTHONPATH=. $(PY) -m bench.load --seconds 40 --share 0.3 --workers 2
	@PYTHONPATH=. $(PY) -m bench.years
	@PYTHONPATH=. $(PY) -m bench.slow_clients

dead:  ## name code that nothing uses
	@.venv/bin/vulture
	@cd web && npm run --silent dead

bench:  ## measure the analysis against a peer, clicks, cards, the first load, two devices, a phone, a large book
	@.venv/bin/uv pip install -q --python $(PY) --require-hashes -r tools/bench.lock
	@$(PY) bench/analysis.py
	@$(PY) bench/timelines.py
	@$(PY) -m bench.clicks
	@$(PY) -m bench.cards
	@PYTHONPATH=. $(PY) bench/first_load.py
	@PYTHONPATH=. $(PY) bench/two_devices.py
	@PYTHONPATH=. $(PY) -m bench.phone_weight
	@PYTHONPATH=. $(PY) bench/book_scroll.py

validity:  ## hold intervals, calls and ranks against known truth: some ten minutes
	@$(PY) -m bench.validity

screenshots:  ## take the pictures in docs/screenshots again
	@PYTHONPATH=. $(PY) tools/screenshots.py
