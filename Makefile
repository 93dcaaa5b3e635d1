# Each target works as the first command on a bare Debian 12 with git, make, python3 and python3-venv.
PY := .venv/bin/python
export QT_LOGGING_RULES = qt.qpa.*=false
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo test test-real test-lab test-kill fuzz bench pictures words schemas clean

demo: .venv/ready
	$(PY) -I -m swept_shelf demo

test: .venv/ready-test
	$(PY) -m ruff check src tests tools
	$(PY) -m ruff format --check -q src tests tools
	$(PY) -m mypy
	QT_QPA_PLATFORM=offscreen $(PY) -m pytest -n 4 --dist loadfile --no-loadscope-reorder

test-real: .venv/ready-test
	$(PY) -m pytest -m real tests/real

test-lab: .venv/ready-test
	$(PY) -m pytest -m real -s tests/real/test_use_lab.py tests/real/test_belongings_lab.py tests/real/test_prefix_lab.py

test-kill: .venv/ready-test
	$(PY) -m pytest -m sweep -rA -n 2

fuzz: .venv/ready-test
	$(PY) tools/fuzz.py

bench: .venv/ready
	$(PY) tools/bench.py

pictures: .venv/ready
	$(PY) tools/pictures.py docs/screenshots

words: .venv/ready
	$(PY) tools/words.py make
	$(PY) tools/words.py missing

schemas: .venv/ready
	$(PY) tools/schemas.py docs/schemas

.venv/ready: requirements.txt pyproject.toml tools/setup.sh
	sh tools/setup.sh run

.venv/ready-test: requirements-dev.txt requirements.txt pyproject.toml tools/setup.sh
	sh tools/setup.sh test

clean:
	rm -rf .venv
