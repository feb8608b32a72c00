#!/bin/sh
# Installs everything the project needs, and only what is missing. Run by make.
# Works as root or as a user who can sudo; says plainly what it needs when it cannot.
set -eu
cd "$(dirname "$0")/.."
MARK=.venv/.setup-done

say() { printf '%s\n' "$*"; }
fail() { printf '\nsetup: %s\n' "$*" >&2; exit 1; }

# A tree that was set up and has not changed since needs nothing.
STATE=$(cat requirements.lock tools/bootstrap.lock web/package-lock.json pyproject.toml tools/setup.sh \
  | sha256sum | cut -d' ' -f1)
WEB_STATE=$(find web -type f -not -path 'web/node_modules/*' -not -path 'web/dist/*' -print0 \
  | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null 2>&1; then sudo "$@"
  else return 1
  fi
}

debian_packages() {
  missing=""
  ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || missing="$missing postgresql"
  command -v chromium >/dev/null 2>&1 || missing="$missing chromium"
  # The browser tests' driver is linked against it, and a bare Debian lacks it.
  /sbin/ldconfig -p | grep -q libatomic.so.1 || missing="$missing libatomic1"
  # Reports are set as PDF through these.
  for library in libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0; do
    # libpango-1.0-0 holds libpango-1.0.so.0, libharfbuzz-subset0 libharfbuzz-subset.so.0.
    /sbin/ldconfig -p | grep -q "$(echo "$library" | sed 's/-\{0,1\}0$//').so.0" || missing="$missing $library"
  done
  find_python || missing="$missing python3 python3-venv"
  # A Python without ensurepip cannot make a virtual environment.
  if find_python && ! "$PYTHON" -c 'import ensurepip' >/dev/null 2>&1; then missing="$missing python3-venv"; fi
  [ -z "$missing" ] && return 0
  say "Installing Debian packages:$missing"
  command -v apt-get >/dev/null 2>&1 ||
    fail "these programs are missing:$missing. This is not a Debian machine; install them and run make setup again."
  # A new cluster of Debian's own is not wanted: the project makes its private one.
  if ! ls /etc/postgresql-common/createcluster.conf >/dev/null 2>&1; then
    as_root mkdir -p /etc/postgresql-common 2>/dev/null &&
      printf 'create_main_cluster = false\n' | as_root tee /etc/postgresql-common/createcluster.conf >/dev/null || true
  fi
  # shellcheck disable=SC2086
  { as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends $missing >.setup.log 2>&1 ||
    { as_root apt-get update -q >>.setup.log 2>&1 &&
      as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends $missing >>.setup.log 2>&1; }; } ||
    { [ -f .setup.log ] && tail -n 5 .setup.log >&2
      fail "could not install:$missing. Run this as root, or as a user who can sudo: apt-get install$missing"; }
  rm -f .setup.log
}

find_python() {
  for PYTHON in python3.11 python3.12 python3.13 python3; do
    command -v "$PYTHON" >/dev/null 2>&1 &&
      "$PYTHON" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null && return 0
  done
  return 1
}

python_packages() {
  find_python || fail "Python 3.11 or newer is needed and was not found."
  if [ -d .venv ] && ! .venv/bin/python -c '' >/dev/null 2>&1; then
    say "The virtual environment is broken; making it again."
    rm -rf .venv
  fi
  [ -d .venv ] || "$PYTHON" -m venv .venv || fail "the virtual environment could not be made in .venv"
  if ! [ -x .venv/bin/uv ]; then
    .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r tools/bootstrap.lock ||
      fail "the installer could not be installed; is the package index reachable?"
  fi
  say "Installing Python packages"
  .venv/bin/uv pip install -q --python .venv/bin/python --require-hashes -r requirements.lock ||
    fail "the Python packages could not be installed; the lines above say why."
  .venv/bin/uv pip install -q --python .venv/bin/python --no-deps --no-build-isolation -e . ||
    fail "the project could not be installed into .venv."
}

# Vite needs Node 20.19 or newer; where the machine has none, a wheel brings it into .venv.
node_tools() {
  if command -v npm >/dev/null 2>&1 && node -e '
    const [a, b] = process.versions.node.split(".").map(Number)
    process.exit(a > 22 || (a === 22 && b >= 12) || (a === 20 && b >= 19) ? 0 : 1)' 2>/dev/null
  then return 0; fi
  if ! [ -x .venv/bin/node ]; then
    say "No Node.js of 20.19 or newer here; installing one into .venv"
    .venv/bin/uv pip install -q --python .venv/bin/python --require-hashes -r tools/node.lock ||
      fail "Node.js 20.19 or newer is needed and could not be installed."
  fi
  PATH="$PWD/.venv/bin:$PATH"
  export PATH
}

web_pages() {
  say "Installing web packages"
  (cd web && npm ci --no-audit --no-fund --loglevel=error) ||
    fail "the web packages could not be installed; the lines above say why."
}

if [ "$(cat "$MARK" 2>/dev/null)" != "$STATE" ] || ! [ -d web/node_modules ]; then
  debian_packages
  python_packages
  node_tools
  web_pages
  printf '%s' "$STATE" >"$MARK"
fi
if [ "$(cat web/dist/.built-from 2>/dev/null)" != "$WEB_STATE" ]; then
  node_tools
  say "Building the pages"
  (cd web && npm run --silent build) || fail "the pages could not be built; the lines above say why."
  printf '%s' "$WEB_STATE" >web/dist/.built-from
fi
