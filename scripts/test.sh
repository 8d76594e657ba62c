#!/usr/bin/env bash
# Every check. Goes on after a failure, ends with the counts of the runners' own results.
set -uo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh tests || exit 1
rm -rf .setup/results && mkdir -p .setup/results
passed=0
failed=0
# What only reads the code goes on side by side; each tells what it found when all are through.
names=()
pids=()
check() {
  names+=("$1")
  "${@:2}" >".setup/results/$1.log" 2>&1 &
  pids+=($!)
}
check "ESLint" npx --no-install eslint .
# Types of all files, TypeScript and Astro alike.
check "Types" npx --no-install astro check --minimumFailingSeverity error
check "Prettier" npx --no-install prettier --check --log-level warn .
check "Boundaries" npx --no-install depcruise --config .dependency-cruiser.cjs src demo bench
for index in "${!names[@]}"; do
  name=${names[$index]}
  echo "== $name"
  if wait "${pids[$index]}"; then passed=$((passed + 1)); else failed=$((failed + 1)) && echo "== $name FAILED"; fi
  cat ".setup/results/$name.log"
done
echo "== Vitest"
npx --no-install vitest run --reporter=default --reporter=json --outputFile.json=.setup/results/vitest.json
vitest=$?
# What has the machine for itself comes last, and whatever happened before it.
browser() {
  echo "== Playwright, $1"
  PLAYWRIGHT_JSON_OUTPUT_NAME=.setup/results/$1.json npx --no-install playwright test --project="$1" --no-deps --reporter=line,json
}
browser beside
beside=$?
KEEP_DEMO=1 browser alone
alone=$?
node scripts/count-results.mjs "$passed" "$failed" "$vitest" "$beside" "$alone"
