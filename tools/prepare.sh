#!/usr/bin/env bash
# Gets what the outside witnesses need: Node.js and the packages named in tools/reference/package-lock.json, the schema
# of COLLADA 1.4.1, NumPy, SciPy, a browser for the pages we write, a validator of desktop files, and another reader of
# OBJ to be timed against.
set -euo pipefail
cd "$(dirname "$0")/reference"
missing=()
command -v node >/dev/null || missing+=(nodejs)
command -v npm >/dev/null || missing+=(npm)
/usr/bin/python3 -c 'import numpy' 2>/dev/null || missing+=(python3-numpy)
/usr/bin/python3 -c 'import scipy' 2>/dev/null || missing+=(python3-scipy)
command -v assimp >/dev/null || missing+=(assimp-utils)
command -v desktop-file-validate >/dev/null || missing+=(desktop-file-utils)
command -v chromium >/dev/null || missing+=(chromium)
[ -f /usr/lib/opencollada/collada_schema_1_4_1.xsd ] || missing+=(opencollada-tools)
if [ ${#missing[@]} -gt 0 ]; then
  if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >&2 \
      || { echo "marrow: could not install: ${missing[*]}" >&2; exit 2; }
  else
    echo "marrow: the outside validators need: apt-get install ${missing[*]}" >&2
    exit 2
  fi
fi
if [ ! -f node_modules/.package-lock.json ] || [ package-lock.json -nt node_modules/.package-lock.json ]; then
  npm ci --no-audit --no-fund --loglevel=error >&2 || { echo "marrow: npm ci failed in tools/reference" >&2; exit 2; }
  touch node_modules/.package-lock.json
fi
