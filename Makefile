# The two commands that matter: `make demo` and `make test`. Each sets up what is missing by itself.
.PHONY: help demo demo-reset example test check bench fuzz screenshots generate release locks
python := .venv/bin/python
# The tests that otherwise try a part of what they have.
long := $(shell grep -lE "from tests.some import" tests/core/*.py tests/service/*.py)

help: ## Say what there is
	@grep -E '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

demo: ## Start everything with the demo world, and stay up until Ctrl-C
	@tools/setup
	@exec $(python) -m sealpacket.demo.up up var/demo console/dist

demo-reset: ## Forget the demo's data
	@tools/setup
	@$(python) -m sealpacket.demo.up reset var/demo

example: ## Play the stories of the demo world unattended against a fresh house
	@tools/setup
	@$(python) -m sealpacket.demo.example var/example

test: ## Set up, check and test everything
	@tools/setup test
	@tools/test

check: ## Only the linters and type checks
	@tools/setup test
	@tools/check

bench: ## Measure; prints a table and writes bench/latest.json
	@tools/setup test
	@$(python) bench/run.py

fuzz: ## Try every long list whole, the native parts under sanitizers, the API by its document, then every reader with atheris for a minute each
	@tools/setup test
	@$(python) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/fuzz.txt
	@SEALPACKET_SAMPLES=200 $(python) -m pytest -s -n 2 --dist loadfile --timeout 1800 $(long)
	@SEALPACKET_TRIES=20000 tools/native sanitize
	@tools/sanitized
	@$(python) tools/contract.py
	@$(python) tools/fuzz.py

screenshots: ## Take the pictures in docs/screenshots again
	@tools/setup test
	@$(python) tools/screenshots.py

generate: ## Write the OpenAPI reference, the sheet schema, the client's models and the picture of the parts
	@tools/setup test
	@$(python) tools/generate.py
	@npm --prefix console run --silent draw

release: ## Build what is installed from, into var/release: sdist, wheel, bills of materials, hashes
	@tools/setup test
	@tools/release

locks: ## Resolve the requirements anew (needs uv)
	uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header \
	  requirements/client.in requirements/redact.in requirements/service.in requirements/demo.in requirements/build.in -o requirements/service.txt
	uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header \
	  requirements/dev.in -o requirements/dev.txt
	uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header \
	  -c requirements/service.txt requirements/build.in -o requirements/build.txt
	uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header \
	  -c requirements/service.txt requirements/client.in requirements/redact.in requirements/service.in -o requirements/installed.txt
	uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header \
	  requirements/release.in -o requirements/release.txt
	uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header \
	  requirements/generator.in -o requirements/generator.txt
	uv pip compile -q --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-header \
	  requirements/fuzz.in -o requirements/fuzz.txt
