#!/usr/bin/env bash
# Sets up what is missing, then checks and tests everything. Arguments go to pytest.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")"
. scripts/setup.sh
ensure_environment
install_browser
install_page_checks
keep_compiled
export QT_QPA_PLATFORM="${QT_QPA_PLATFORM:-offscreen}"
.venv/bin/ruff check .
.venv/bin/ruff format --check .
.venv/bin/mypy
.venv/bin/lint-imports
exec .venv/bin/python -m pytest -n 2 -m "not soak" --durations=20 --durations-min=2 "$@"
