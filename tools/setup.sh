# Sourced by ./start, ./test and ./bench: installs what is missing, each thing once.
# Usage: setup app|dev
root="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
venv="${MADIDUS_VENV:-$root/.venv}"

say() { printf '%s\n' "$*" >&2; }
fail() { say "Cannot go on: $*"; exit 1; }

stamp_is() { [ -f "$1" ] && [ "$(cat "$1")" = "$2" ]; }
digest_of() { cat "$@" | sha256sum | cut -c1-16; }

need_packages() {
    local missing=() package
    for package in "$@"; do
        dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
    done
    [ ${#missing[@]} -eq 0 ] && return
    say "Installing ${missing[*]}"
    local as_root=()
    if [ "$(id -u)" -ne 0 ]; then
        command -v sudo >/dev/null || fail "root or sudo is needed to install: ${missing[*]}"
        as_root=(sudo)
    fi
    local log; log="$(mktemp)"
    # no cluster of Debian's own: Madidus keeps its database in its data directory
    "${as_root[@]}" mkdir -p /etc/postgresql-common
    [ -f /etc/postgresql-common/createcluster.conf ] ||
        echo 'create_main_cluster = false' | "${as_root[@]}" tee /etc/postgresql-common/createcluster.conf >/dev/null
    { "${as_root[@]}" apt-get update &&
        "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends \
            -o Dpkg::Options::=--force-confold "${missing[@]}"; } >"$log" 2>&1 ||
        fail "apt-get could not install ${missing[*]}: $(tail -3 "$log")"
}

interface() {
    local wanted
    wanted="$(digest_of "$root/ui/package-lock.json")"
    if ! stamp_is "$root/ui/node_modules/.stamp" "$wanted"; then
        say "Setting up the interface"
        (cd "$root/ui" && npm ci --silent --no-audit --no-fund) || fail "npm ci failed"
        echo "$wanted" >"$root/ui/node_modules/.stamp"
    fi
    wanted="$(cd "$root/ui" && find src index.html vite.config.ts package-lock.json -type f -print0 | sort -z |
        xargs -0 cat | sha256sum | cut -c1-16)"
    if ! stamp_is "$root/ui/dist/.stamp" "$wanted"; then
        say "Building the interface"
        (cd "$root/ui" && npx vite build --logLevel warn) || fail "the interface could not be built"
        echo "$wanted" >"$root/ui/dist/.stamp"
    fi
}

setup() {
    local kind="$1"
    local packages=(postgresql fonts-dejavu-core)
    [ "$kind" = dev ] && packages+=(chromium-headless-shell poppler-utils)
    need_packages "${packages[@]}"

    command -v python3 >/dev/null || fail "Python 3.11 or newer is needed"
    command -v npm >/dev/null || fail "Node 20 with npm is needed"
    local lock="$root/requirements/$kind.lock" wanted
    wanted="$(digest_of "$lock" "$root/requirements/bootstrap.lock" "$root/pyproject.toml")"
    if ! stamp_is "$venv/.stamp-app" "$wanted" && ! stamp_is "$venv/.stamp-dev" "$wanted"; then
        say "Setting up Python"
        [ -x "$venv/bin/python" ] || python3 -m venv "$venv" || fail "python3 -m venv failed; install python3-venv"
        "$venv/bin/python" -m pip install -q --disable-pip-version-check --require-hashes \
            -r "$root/requirements/bootstrap.lock" || fail "uv could not be installed"
        # the larger set holds the smaller one: ./start does not take the tests' packages away
        local install=(sync) file=("$lock")
        [ "$kind" = app ] && install=(install) && file=(-r "$lock")
        VIRTUAL_ENV="$venv" "$venv/bin/uv" pip "${install[@]}" -q --compile-bytecode --require-hashes "${file[@]}" ||
            fail "Python packages could not be installed"
        VIRTUAL_ENV="$venv" "$venv/bin/uv" pip install -q --no-deps --no-build-isolation -e "$root" ||
            fail "Madidus itself could not be installed"
        echo "$wanted" >"$venv/.stamp-$kind"
    fi

    # the server compiles the solver itself, behind its page
    if [ "$kind" = app ]; then
        interface
        return
    fi
    # beside each other: the interface by npm, the solver by Python
    interface & local building=$!
    # compiled code is kept by its sources: a changed source never meets an old kernel
    "$venv/bin/python" -c 'import sys; from madidus.kernels import ready; ready(lambda what: print(what, file=sys.stderr))' ||
        fail "the solver could not be compiled"
    wait "$building" || exit 1
}
