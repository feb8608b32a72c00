#!/bin/sh
# Fails where a generated file does not match what it is made from.
set -eu
cd "$(dirname "$0")/.."
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
.venv/bin/true-margin openapi "$work/openapi.json"
cmp -s "$work/openapi.json" docs/openapi.json ||
  { echo "docs/openapi.json is not fresh: run make types" >&2; exit 1; }
.venv/bin/python tools/glossary.py "$work/glossary.md" "$work/words.ts"
cmp -s "$work/glossary.md" docs/glossary.md ||
  { echo "docs/glossary.md is not fresh: run make types" >&2; exit 1; }
(cd web && PATH="$PWD/../.venv/bin:$PATH" npx --no-install biome format --stdin-file-path=src/frame/words.ts \
  <"$work/words.ts" >"$work/words-set.ts")
cmp -s "$work/words-set.ts" web/src/frame/words.ts ||
  { echo "web/src/frame/words.ts is not fresh: run make types" >&2; exit 1; }
.venv/bin/python tools/choices.py "$work/choices.ts"
(cd web && PATH="$PWD/../.venv/bin:$PATH" npx --no-install biome format --stdin-file-path=src/api/choices.ts \
  <"$work/choices.ts" >"$work/choices-set.ts")
cmp -s "$work/choices-set.ts" web/src/api/choices.ts ||
  { echo "web/src/api/choices.ts is not fresh: run make types" >\&2; exit 1; }
.venv/bin/python tools/labels.py "$work/labels.ts"
(cd web && PATH="$PWD/../.venv/bin:$PATH" npx --no-install biome format --stdin-file-path=src/api/labels.ts \
  <"$work/labels.ts" >"$work/labels-set.ts")
cmp -s "$work/labels-set.ts" web/src/api/labels.ts ||
  { echo "web/src/api/labels.ts is not fresh: run make types" >\&2; exit 1; }
(cd web && PATH="$PWD/../.venv/bin:$PATH" npx --no-install openapi-typescript ../docs/openapi.json \
  -o "$work/schema.d.ts" --default-non-nullable=false >/dev/null)
cmp -s "$work/schema.d.ts" web/src/api/schema.d.ts ||
  { echo "web/src/api/schema.d.ts is not fresh: run make types" >&2; exit 1; }
