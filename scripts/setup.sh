# Sourced by run.sh and test.sh: system libraries through apt, then the virtual environment in .venv.
# Nothing is done twice: .venv/.ready remembers the lock file and the Python that it was made with.

PACKAGES="libicu-dev pkg-config g++ libegl1 libpulse0 libgl1 libgl1-mesa-dri libglib2.0-0 libfontconfig1 fontconfig libdbus-1-3 libxkbcommon0 libxkbcommon-x11-0 \
libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0 libxcb-xkb1"

# Compiled modules are kept beside the environment, also where the surroundings say that none is written: a start takes half as long.
keep_compiled() {
    unset PYTHONDONTWRITEBYTECODE
    export PYTHONPYCACHEPREFIX="$PWD/.venv/compiled"
}

say() { printf '%s\n' "$*" >&2; }

find_python() {
    for candidate in python3 python3.13 python3.12 python3.11; do
        if "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            command -v "$candidate"
            return
        fi
    done
    say "Avlet needs Python 3.11 or newer. On Debian: apt-get install python3 python3-venv python3-dev"
    exit 1
}

# What of some packages is not installed.
lacking() {
    for package in "$@"; do
        # shellcheck disable=SC2016
        [ "$(dpkg-query -W -f '${Status}' "$package" 2>/dev/null)" = "install ok installed" ] || printf ' %s' "$package"
    done
}

# Whether packages may be installed here: by root, or by sudo without being asked.
may_install() {
    as_root=""
    [ "$(id -u)" = 0 ] && return
    as_root="sudo"
    command -v sudo >/dev/null && sudo -n true 2>/dev/null
}
install_packages() {
    $as_root apt-get update -qq >&2 && DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends "$@" >&2
}

# A browser for the tests of pages; without it those tests are left out, and say so.
install_browser() {
    command -v dpkg-query >/dev/null || return 0
    missing="$(lacking chromium chromium-driver)"
    [ -n "$missing" ] || return 0
    if ! may_install; then
        say "The tests of pages need a browser. To have them run: sudo apt-get install$missing"
        return 0
    fi
    say "Installing a browser for tests:$missing"
    # shellcheck disable=SC2086
    install_packages $missing || say "No browser could be installed; the tests of pages are left out."
}

# What checks the pages: TypeScript, the EBU's definitions of OGraf, axe. Without npm those checks are left out, and say so.
install_page_checks() {
    command -v npm >/dev/null || return 0
    [ tests/javascript/node_modules/.package-lock.json -nt tests/javascript/package-lock.json ] && return 0
    (cd tests/javascript && npm ci --no-fund --no-audit --loglevel=error >&2) || say "What checks the pages could not be installed; those checks are left out."
}

install_system_libraries() {
    command -v dpkg-query >/dev/null || return 0
    # shellcheck disable=SC2086
    missing="$(lacking $PACKAGES)"
    if [ "$1" = /usr/bin/python3 ] || [ "$1" = /bin/python3 ]; then
        missing="$missing$(lacking python3-venv python3-dev)"
    fi
    [ -n "$missing" ] || return 0
    if ! may_install; then
        say "These system libraries are missing. Install them, then start again: sudo apt-get install$missing"
        exit 1
    fi
    say "Installing system libraries:$missing"
    # shellcheck disable=SC2086
    install_packages $missing
}

# PyICU is compiled: in the background, without optimising, as many files at a time as there are processors.
compile_pyicu() {
    {
        mkdir -p .venv/build .venv/wheels .venv/source
        .venv/bin/python -m pip install --quiet --disable-pip-version-check --target .venv/build "$SETUPTOOLS" wheel==0.46.1 &&
            .venv/bin/python -m pip download --quiet --disable-pip-version-check --no-deps --no-binary :all: --dest .venv/source "$1" &&
            tar -xzf .venv/source/*.tar.gz -C .venv/source &&
            CFLAGS="-O0 -g0 ${CFLAGS:-}" PYTHONPATH=.venv/build .venv/bin/python scripts/compile_side_by_side.py .venv/source/*/ .venv/wheels
    } >.venv/pyicu.log 2>&1
}
SETUPTOOLS="setuptools==80.9.0"

pip_install() { .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps "$@" >&2; }

# uv fetches and unpacks many packages at a time; pip does it where uv cannot be had, or finds no package.
install_all() {
    if .venv/bin/python -m pip install --quiet --disable-pip-version-check --target .venv/uv uv==0.13.9 >.venv/uv.log 2>&1; then
        if uv_install -r "$1"; then
            return
        fi
    fi
    say "uv could not install them; pip does it, which takes longer …"
    pip_install -r "$1"
}
uv_install() (
    index="${UV_DEFAULT_INDEX:-${PIP_INDEX_URL:-$(.venv/bin/python -m pip config get global.index-url 2>/dev/null || true)}}"
    # What is empty counts as set: it must not be there at all.
    [ -z "$index" ] || export UV_DEFAULT_INDEX="$index"
    [ -z "${SSL_CERT_FILE:-${PIP_CERT:-}}" ] || export SSL_CERT_FILE="${SSL_CERT_FILE:-${PIP_CERT:-}}"
    export UV_HTTP_TIMEOUT="${UV_HTTP_TIMEOUT:-60}"
    .venv/uv/bin/uv pip install --quiet --no-deps --python .venv/bin/python "$@" >>.venv/uv.log 2>&1
)

ensure_environment() {
    wanted="$(cksum <requirements.lock) $(cksum <pyproject.toml) $PWD"
    if [ -x .venv/bin/python ] && [ "$(cat .venv/.ready 2>/dev/null)" = "$wanted" ]; then
        return
    fi
    python="$(find_python)" || exit 1
    install_system_libraries "$python"
    say "Making the Python environment in .venv …"
    began=$SECONDS
    [ -x .venv/bin/python ] || "$python" -m venv .venv
    pyicu="$(grep -i '^pyicu==' requirements.lock)"
    compiling=""
    if ! .venv/bin/python -m pip freeze --disable-pip-version-check 2>/dev/null | grep -qix "$pyicu"; then
        say "Compiling PyICU in the background (a minute or two) …"
        compile_pyicu "$pyicu" &
        compiling=$!
    fi
    say "Installing $(grep -c '==' requirements.lock) packages …"
    grep -iv '^pyicu==' requirements.lock >.venv/others.lock
    install_all .venv/others.lock
    if [ -n "$compiling" ]; then
        say "Waiting for PyICU …"
        wait "$compiling" || { cat .venv/pyicu.log >&2; exit 1; }
        pip_install --no-index --find-links .venv/wheels "$pyicu"
        rm -rf .venv/build .venv/source
    fi
    say "Installing Avlet …"
    { [ -x .venv/uv/bin/uv ] && uv_install --editable .; } || pip_install --editable .
    printf '%s' "$wanted" >.venv/.ready
    say "Ready, after $((SECONDS - began)) s."
}
