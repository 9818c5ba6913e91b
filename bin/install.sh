# Installs what is missing; sourced by the commands in this folder. Sets $root and $python.
set -euo pipefail
root="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
python="$root/.venv/bin/python"
cd "$root"

# need_packages NAME=PROOF...: Debian packages, each with a file or command that proves it is there.
need_packages() {
  local missing=() pair
  for pair in "$@"; do
    local name="${pair%%=*}" proof="${pair#*=}"
    compgen -G "$proof" >/dev/null || command -v "$proof" >/dev/null || missing+=("$name")
  done
  [ ${#missing[@]} -eq 0 ] && return
  if [ "$(id -u)" -ne 0 ]; then
    echo "Missing: ${missing[*]}. As root, run: apt-get install ${missing[*]}" >&2
    exit 2
  fi
  echo "Installing ${missing[*]} ..."
  # What a package would start, of its own accord and for all to reach, is not wanted: tests start their own.
  local quiet=/usr/sbin/policy-rc.d
  if [ ! -e "$quiet" ]; then
    printf '#!/bin/sh\nexit 101\n' >"$quiet" && chmod 755 "$quiet"
    trap 'rm -f /usr/sbin/policy-rc.d' EXIT
  fi
  { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${missing[@]}"; } >/tmp/palinode-apt.log 2>&1 ||
    { tail -n 20 /tmp/palinode-apt.log >&2; exit 2; }
  if [ "$(trap -p EXIT)" ]; then
    rm -f "$quiet"
    trap - EXIT
  fi
}

# need_python FILE...: the virtual environment, with the pinned packages of the given files.
need_python() {
  local base
  base="$(command -v python3.11 || command -v python3 || true)"
  [ -n "$base" ] || { echo "Python 3.11 is needed." >&2; exit 2; }
  if [ ! -x "$python" ]; then
    "$base" -c 'import ensurepip' 2>/dev/null || need_packages python3.11-venv=/nowhere
    "$base" -m venv "$root/.venv"
  fi
  local file mark
  for file in "$@"; do
    mark="$root/.venv/installed-$(basename "$file")"
    cmp -s "$file" "$mark" && continue
    echo "Installing Python packages of $(basename "$file") ..."
    "$python" -m pip install --quiet --disable-pip-version-check -r "$file"
    cp "$file" "$mark"
  done
}

# need_front_end: node_modules as in the lock file, and web/dist built from the present sources.
need_front_end() {
  command -v npm >/dev/null || { echo "Node.js 20 with npm is needed." >&2; exit 2; }
  local mark="$root/web/node_modules/.installed" built="$root/web/dist/.built" now
  if ! cmp -s "$root/web/package-lock.json" "$mark"; then
    echo "Installing front-end packages ..."
    npm --prefix "$root/web" ci --no-audit --no-fund --loglevel=error
    cp "$root/web/package-lock.json" "$mark"
  fi
  now="$(cd "$root/web" && find src index.html *.json *.ts -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)"
  if [ ! -f "$built" ] || [ "$(cat "$built")" != "$now" ]; then
    echo "Building the front end ..."
    npm --prefix "$root/web" run --silent build
    echo "$now" >"$built"
  fi
}
