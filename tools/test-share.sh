#!/usr/bin/env bash
# Prints the share of tests in all Java lines that are not blank; a quarter to a third is wanted.
set -euo pipefail
cd "$(dirname "$0")/.."
count() { find . -path "*/src/$1/*" -name '*.java' -print0 | xargs -0 cat | grep -cv '^[[:space:]]*$'; }
main=$(count main)
test=$(count test)
echo "Java lines: $main product, $test test; tests are $((100 * test / (main + test))) % of all"
