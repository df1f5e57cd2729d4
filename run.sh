#!/usr/bin/env bash
# Sets up what is missing, then opens Avlet with its demo. With arguments it is the avlet command line.
set -euo pipefail
from="$PWD"
cd "$(dirname "$(readlink -f "$0")")"
root="$PWD"
. scripts/setup.sh
ensure_environment
keep_compiled
cd "$from"
if [ "$#" = 0 ]; then
    exec "$root/.venv/bin/python" -m avlet demo
fi
exec "$root/.venv/bin/python" -m avlet "$@"
