#!/usr/bin/env bash
# Every check. Goes on after a failure, ends with the counts of the runners' own results.
set -uo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh tests || exit 1
rm -rf .setup/results && mkdir -p .setup/results
passed=0
failed=0
# What only reads the code, and the demo that the browser tests copy, are done beside the tests and give way to them.
names=()
pids=()
check() {
  names+=("$1")
  nice -n 15 "${@:2}" >".setup/results/$1.log" 2>&1 &
  pids+=($!)
}
# Types of all files, TypeScript and Astro alike.
check "Types" npx --no-install astro check --minimumFailingSeverity error
check "ESLint" npx --no-install eslint .
check "Prettier" npx --no-install prettier --check --log-level warn .
check "Boundaries" npx --no-install depcruise --config .dependency-cruiser.cjs src demo bench
check "Demo" node dist/make-demo.mjs .setup/e2e-demo --fresh
echo "== Vitest"
npx --no-install vitest run --reporter=default --reporter=json --outputFile.json=.setup/results/vitest.json
vitest=$?
for index in "${!names[@]}"; do
  name=${names[$index]}
  echo "== $name"
  if wait "${pids[$index]}"; then passed=$((passed + 1)); else failed=$((failed + 1)) && echo "== $name FAILED"; fi
  cat ".setup/results/$name.log"
done
# What has the machine for itself comes last, and whatever happened before it.
browser() {
  echo "== Playwright, $1"
  PLAYWRIGHT_JSON_OUTPUT_NAME=.setup/results/$1.json npx --no-install playwright test --project="$1" --no-deps --reporter=line,json
}
export KEEP_DEMO=1
browser beside
beside=$?
browser alone
alone=$?
node scripts/count-results.mjs "$passed" "$failed" "$vitest" "$beside" "$alone"
