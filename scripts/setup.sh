#!/usr/bin/env bash
# Installs what is missing and builds what has changed. Second calls are quick.
#   setup.sh [tests]   with "tests" also what only the tests need
set -euo pipefail
cd "$(dirname "$0")/.."

say() { echo "$*" >&2; exit 1; }

command -v node >/dev/null || say "Node.js 20.19 or newer is needed, and there is none: install it from nodejs.org or your system's packages."
node -e 'const [major, minor] = process.versions.node.split(".").map(Number); process.exit(major > 20 || (major === 20 && minor >= 19) ? 0 : 1)' ||
  say "Node.js 20.19 or newer is needed; this is $(node -v). Install a newer one, then start again."
command -v npm >/dev/null || say "npm is needed, and there is none: install it (Debian: apt-get install npm), then start again."

# What was begun in the background is not left behind.
trap wait EXIT

packages=()
debian=""
command -v ffmpeg >/dev/null && command -v ffprobe >/dev/null || packages+=(ffmpeg)
command -v g++ >/dev/null || packages+=(g++)
command -v make >/dev/null || packages+=(make)
command -v python3 >/dev/null || packages+=(python3)
[ -f /usr/share/fonts/truetype/dejavu/DejaVuSansMono.ttf ] || packages+=(fonts-dejavu-core)
if [ "${1:-}" = tests ]; then
  [ -x /usr/bin/chromium ] || packages+=(chromium)
  command -v unzip >/dev/null || packages+=(unzip)
  command -v mediainfo >/dev/null || packages+=(mediainfo)
  python3 -c 'import ensurepip, venv' 2>/dev/null || packages+=(python3-venv)
fi
if [ ${#packages[@]} -gt 0 ]; then
  command -v apt-get >/dev/null ||
    say "These are needed and there is no apt-get to install them: ${packages[*]} (named as in Debian). Install them by your system's own means, then start again."
  sudo=""
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
      sudo="sudo"
    else
      say "These Debian packages are needed; install them as root, then start again:  apt-get install ${packages[*]}"
    fi
  fi
  echo "Installing ${packages[*]} …"
  { { $sudo apt-get update -qq && DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq --no-install-recommends "${packages[@]}" >/dev/null; } ||
    say "apt-get could not install ${packages[*]}. See its message above; then start again."; } &
  debian=$!
  # The npm packages come meanwhile, unless they are compiled with what is still missing.
  case " ${packages[*]} " in *" g++ "* | *" make "* | *" python3 "* | *" python3-venv "*) wait "$debian" || exit 1; debian="" ;; esac
fi

# An instance serves its pages from the build: what it runs from is not taken away under it.
in_use() {
  local note process
  for note in dist/.in-use/*; do
    [ -e "$note" ] || continue
    process=$(basename "$note")
    kill -0 "$process" 2>/dev/null || continue
    # After a power cut another program may bear its number. An instance is named mill-shelf once it has started.
    [ ! -r "/proc/$process/cmdline" ] || tr '\0' ' ' <"/proc/$process/cmdline" | grep -qE 'main\.mjs|^mill-shelf' || continue
    return 0
  done
  return 1
}

# The validators come while the packages do; each has its own source and its own word.
validators=""
wanted="opentimelineio==0.18.1 otio-cmx3600-adapter==1.0.0 bagit==1.9.0"
if [ "${1:-}" = tests ] && [ "$(cat .venv/.wanted 2>/dev/null)" != "$wanted" ]; then
  echo "Installing the reference validators …"
  # shellcheck disable=SC2086
  { rm -rf .venv && python3 -m venv .venv && .venv/bin/pip install --quiet --disable-pip-version-check $wanted setuptools && echo "$wanted" >.venv/.wanted; } &
  validators=$!
fi

# What was compiled for another Node.js does not load in this one.
lock="$(sha256sum package-lock.json | cut -c1-64) $(node -p process.versions.modules)"
if [ ! -d node_modules ] || [ "$(cat .setup/lock 2>/dev/null)" != "$lock" ]; then
  if in_use; then say "The packages have changed, and an instance runs from here: stop it, then start again."; fi
  echo "Installing the npm packages …"
  npm ci --no-audit --no-fund || say "npm could not install the packages. See its message above; then start again."
  mkdir -p .setup
  echo "$lock" >.setup/lock
fi

[ -z "$debian" ] || wait "$debian" || exit 1
[ -z "$validators" ] || wait "$validators" || say "pip could not install the reference validators. See its message above; then start again."

sources=$(find src demo scripts/build.mjs public astro.config.mjs package-lock.json tsconfig.json -type f ! -name '*.test.ts' -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-64)
if [ "$(cat dist/.built 2>/dev/null)" != "$sources" ]; then
  if in_use; then say "The sources have changed, and an instance runs from the old build: stop it, then start again."; fi
  echo "Building …"
  rm -rf dist
  node scripts/build.mjs
  echo "$sources" >dist/.built
fi
