#!/usr/bin/env bash
# The quick part of the checks, in under two minutes: types, boundaries, format, and the tests that stand beside the sources.
set -euo pipefail
cd "$(dirname "$0")/.."
[ -d node_modules ] || bash scripts/setup.sh tests
echo "Types …" && npx --no-install tsc --noEmit
echo "Boundaries …" && npx --no-install depcruise --config .dependency-cruiser.cjs --output-type err src demo bench
echo "Format …" && npx --no-install prettier --check --log-level warn .
echo "Tests beside the sources …" && npx --no-install vitest run --reporter=dot src
