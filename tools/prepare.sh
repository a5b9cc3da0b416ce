#!/usr/bin/env bash
# Gets what the outside witnesses need: Node.js and the packages named in tools/reference/package-lock.json.
set -euo pipefail
cd "$(dirname "$0")/reference"
if ! command -v node >/dev/null || ! command -v npm >/dev/null; then
  if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends nodejs npm; } >&2 \
      || { echo "marrow: Node.js is missing and could not be installed" >&2; exit 2; }
  else
    echo "marrow: Node.js is missing, the outside validators need it: apt-get install nodejs npm" >&2
    exit 2
  fi
fi
if [ ! -f node_modules/.package-lock.json ] || [ package-lock.json -nt node_modules/.package-lock.json ]; then
  npm ci --no-audit --no-fund --loglevel=error >&2 || { echo "marrow: npm ci failed in tools/reference" >&2; exit 2; }
  touch node_modules/.package-lock.json
fi
