# Every command does its own set-up and is safe to repeat. `make` alone lists them.
PYTHON ?= python3
export ONLY := $(only)
export EXPLORE := $(explore)
export FILE DB LOOK
# Python keeps what it compiles, also where its environment says not to: else each of a test's servers compiles it all.
HOUSE := PYTHONDONTWRITEBYTECODE= $(PYTHON) -m tools.house

.PHONY: help demo serve backup restore export import bridge wheel test check dev bench mutants chaos fuzz shots figures schema lock clean

help:
	@echo "make demo    set up, load the demo world, start on 127.0.0.1 and print the address"
	@echo "make serve   the same with your own records instead of the demo"
	@echo "make backup  one file with all records and photos; make restore FILE=that-file puts it back"
	@echo "make export FILE=darre.zip  all records as open tables; make import FILE=darre.zip into an empty workshop"
	@echo "make bridge FILE=bridge.toml  readings from an MQTT broker and from scales on serial ports (FILE=demo: stand-ins)"
	@echo "make wheel   one package with the page inside, for machines without Node"
	@echo "make test    set up, then lint, types, contracts and every test"
	@echo "             make test only=drying.air runs one package, file or test"
	@echo "make check   lint and types alone"
	@echo "make dev     the demo with hot reload of page and server"
	@echo "make bench   measure the core and the server"
	@echo "make mutants break the core in 200 small ways, one at a time: does a test notice?"
	@echo "make chaos   kill a real server 200 times among sixteen clients: is anything lost, double or half?"
	@echo "make fuzz    20,000 generated requests and hostile values in every field: does anything break?"
	@echo "make shots   take the pictures in docs/screenshots again"
	@echo "make figures draw the figures in docs/ again"
	@echo "make schema  write docs/openapi.yaml and the page's types anew after a change of the API"
	@echo "make lock    write the lock files anew after a change of requirements/*.in"

demo serve backup restore export import bridge wheel test check dev bench mutants chaos fuzz shots figures schema lock clean:
	@$(HOUSE) $@
