#!/usr/bin/env bash
# Timings as ratios against plain tools in the same run, how input that once blew up grows, long lists in the browser, a house at work, half a million files.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh
mkdir -p dist/bench
for name in growth bench match copies sort proxies exchange rows pages load weight; do
  npx --no-install esbuild "bench/$name.ts" --bundle --platform=node --format=esm --target=node20 --packages=external --minify-syntax --outfile="dist/$name.mjs" --log-level=warning
  node "dist/$name.mjs" "$@"
done
