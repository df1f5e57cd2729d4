#!/usr/bin/env bash
# Sets up what is missing, then checks and tests everything. Arguments go to pytest.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")"
. scripts/setup.sh
ensure_environment
install_browser
install_page_checks
keep_compiled

# What tests write lies in memory where there is plenty: they write and throw away some 100,000 small files.
write_in_memory() {
    [ -z "${TMPDIR:-}" ] && [ -w /dev/shm ] && ! grep -q '^[^ ]* /dev/shm .*noexec' /proc/mounts || return 0
    [ "$(df -k --output=avail /dev/shm | tail -n 1)" -gt 6000000 ] || return 0
    [ "$(awk '/^MemAvailable/ {print $2}' /proc/meminfo)" -gt 12000000 ] || return 0
    TMPDIR="$(mktemp -d /dev/shm/avlet-tests-XXXXXX)"
    export TMPDIR
    trap 'rm -rf "$TMPDIR"' EXIT
}

export QT_QPA_PLATFORM="${QT_QPA_PLATFORM:-offscreen}"
.venv/bin/ruff check .
.venv/bin/ruff format --check .
.venv/bin/mypy
.venv/bin/lint-imports
write_in_memory
.venv/bin/python -m pytest -n 2 -m "not soak" --durations=20 --durations-min=2 "$@"
