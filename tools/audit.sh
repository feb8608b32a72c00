#!/bin/sh
# Asks the registries for known weaknesses of what is installed. Fails where one is known,
# and where a registry does not answer: what could not be asked is not known to be well.
set -u
cd "$(dirname "$0")/.."
PATH="$PWD/.venv/bin:$PATH"
failed=0
echo "Python packages:"
uv tool run pip-audit==2.10.1 -r requirements.lock --require-hashes --disable-pip \
  --progress-spinner off --strict || failed=1
echo "Packages of the pages:"
(cd web && npm audit --omit=dev) || failed=1
[ "$failed" = 0 ] && echo "Nothing is known against any of them."
exit "$failed"
