#!/usr/bin/env bash
# Timings as ratios against plain tools in the same run, and how input that once blew up grows.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh
mkdir -p dist/bench
for name in growth bench load; do
  npx --no-install esbuild "bench/$name.ts" --bundle --platform=node --format=esm --target=node20 --packages=external --outfile="dist/$name.mjs" --log-level=warning
  node "dist/$name.mjs" "$@"
done
