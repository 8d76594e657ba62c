#!/usr/bin/env bash
# Every check. Goes on after a failure, ends with the counts of the runners' own results.
set -uo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh tests || exit 1
rm -rf .setup/results && mkdir -p .setup/results
passed=0
failed=0
check() {
  local name=$1
  shift
  echo "== $name"
  if "$@"; then passed=$((passed + 1)); else failed=$((failed + 1)) && echo "== $name FAILED"; fi
}
check "Types" npx --no-install tsc --noEmit
check "Astro" npx --no-install astro check --minimumFailingSeverity error
check "ESLint" npx --no-install eslint .
check "Prettier" npx --no-install prettier --check --log-level warn .
check "Boundaries" npx --no-install depcruise --config .dependency-cruiser.cjs src demo bench
echo "== Vitest"
npx --no-install vitest run --reporter=default --reporter=json --outputFile.json=.setup/results/vitest.json
vitest=$?
echo "== Playwright"
PLAYWRIGHT_JSON_OUTPUT_NAME=.setup/results/playwright.json npx --no-install playwright test --reporter=line,json
playwright=$?
node scripts/count-results.mjs "$passed" "$failed" "$vitest" "$playwright"
