#!/usr/bin/env bash
# Timings as ratios against plain tools in the same run.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh
mkdir -p dist/bench
npx --no-install esbuild bench/bench.ts --bundle --platform=node --format=esm --target=node20 --packages=external --outfile=dist/bench.mjs --log-level=warning
node dist/bench.mjs "$@"
