#!/usr/bin/env bash
# Installs what is missing and builds what has changed. Second calls are quick.
#   setup.sh [tests]   with "tests" also what only the tests need
set -euo pipefail
cd "$(dirname "$0")/.."

major=$(node -p 'process.versions.node.split(".")[0]' 2>/dev/null || echo 0)
if [ "$major" -lt 20 ]; then
  echo "Node.js 20 or newer is needed (found: $(node -v 2>/dev/null || echo none))." >&2
  exit 1
fi

packages=()
command -v ffmpeg >/dev/null && command -v ffprobe >/dev/null || packages+=(ffmpeg)
command -v g++ >/dev/null || packages+=(g++)
command -v make >/dev/null || packages+=(make)
command -v python3 >/dev/null || packages+=(python3)
[ -f /usr/share/fonts/truetype/dejavu/DejaVuSansMono.ttf ] || packages+=(fonts-dejavu-core)
if [ "${1:-}" = tests ]; then
  [ -x /usr/bin/chromium ] || packages+=(chromium)
  command -v unzip >/dev/null || packages+=(unzip)
  python3 -c 'import ensurepip, venv' 2>/dev/null || packages+=(python3-venv)
fi
if [ ${#packages[@]} -gt 0 ]; then
  sudo=""
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
      sudo="sudo"
    else
      echo "These Debian packages are needed: ${packages[*]}" >&2
      echo "Install them as root, then start again:  apt-get install ${packages[*]}" >&2
      exit 1
    fi
  fi
  echo "Installing ${packages[*]} …"
  $sudo apt-get update -qq
  DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq --no-install-recommends "${packages[@]}" >/dev/null
fi

mkdir -p .setup
lock=$(sha256sum package-lock.json | cut -c1-64)
if [ ! -d node_modules ] || [ "$(cat .setup/lock 2>/dev/null)" != "$lock" ]; then
  echo "Installing the npm packages …"
  npm ci --no-audit --no-fund
  echo "$lock" >.setup/lock
fi

if [ "${1:-}" = tests ]; then
  wanted="opentimelineio==0.18.1 otio-cmx3600-adapter==1.0.0 bagit==1.9.0"
  if [ "$(cat .venv/.wanted 2>/dev/null)" != "$wanted" ]; then
    echo "Installing the reference validators …"
    rm -rf .venv
    python3 -m venv .venv
    # shellcheck disable=SC2086
    .venv/bin/pip install --quiet --disable-pip-version-check $wanted setuptools
    echo "$wanted" >.venv/.wanted
  fi
fi

sources=$(find src demo scripts/build.mjs public astro.config.mjs package-lock.json tsconfig.json -type f ! -name '*.test.ts' -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-64)
if [ "$(cat dist/.built 2>/dev/null)" != "$sources" ]; then
  echo "Building …"
  rm -rf dist
  node scripts/build.mjs
  echo "$sources" >dist/.built
fi
