#!/usr/bin/env bash
# Installs, builds, makes the demo production and starts the application with it.
#   npm run demo            npm run demo -- --fresh   makes the data anew
#   npm run demo -- --port 5000 --host 127.0.0.1
set -euo pipefail
cd "$(dirname "$0")/.."
fresh=()
rest=()
for argument in "$@"; do
  if [ "$argument" = --fresh ]; then fresh=(--fresh); else rest+=("$argument"); fi
done
bash scripts/setup.sh
folder=${MILL_SHELF_DEMO:-demo-data}
start=(dist/main.mjs --data "$folder/data" --bay "$folder/bay" --roots "$folder/bay/plugged" --roots "$folder/elsewhere" "${rest[@]}")
# Whether it could start at all is known before anything is made or removed.
node "${start[@]}" --check
node dist/make-demo.mjs "$folder" "${fresh[@]}"
exec node "${start[@]}"
