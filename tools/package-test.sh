#!/usr/bin/env bash
# Packages the application, moves it, and uses it where nothing of this tree or its Java is on any path.
set -euo pipefail
root=$(cd "$(dirname "$0")/.." && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
wrong() { echo "marrow: packaged application: $1" >&2; exit 1; }
alone() { env -i HOME="$work" PATH=/usr/bin:/bin LANG=C.UTF-8 "$@"; }

image=$("$root/marrow" package "$work/first" --small)
[ "$image" = "$work/first/clean-marrow" ] || wrong "its place is not said: $image"
! "$root/marrow" package "$work/first" --small 2>"$work/said" || wrong "an earlier one was written over"
grep -q "is there already" "$work/said" || wrong "that an earlier one is there is not said"
mkdir "$work/Größe 2"
mv "$image" "$work/Größe 2"
image="$work/Größe 2/clean-marrow"
! grep -rlF -e "$root" -e "$work" "$image"/lib/app/*.cfg "$image/share" || wrong "it names folders of the machine it was made on"

sample=$root/formats/src/test/resources/samples/simple_skin.gltf
alone "$image/bin/marrow" inspect "$sample" --json >"$work/packaged.json"
"$root/marrow" inspect "$sample" --json | cmp - "$work/packaged.json" || wrong "it inspects otherwise"
code=0
alone "$image/bin/marrow" inspect "$work/missing.glb" --json >/dev/null 2>&1 || code=$?
[ $code = 2 ] || wrong "a file that is not there ends with $code, not with 2"

alone "$image/bin/clean-marrow" shots "$work/shots" 02-intake 2>"$work/said" || { cat "$work/said" >&2; wrong "it takes no picture of the demo"; }
# Read by another reader of PNG than ours.
node - "$work/shots/02-intake.png" "$root/tools/reference/node_modules" <<'JS' || wrong "its picture of the demo is not one"
const { PNG } = require(process.argv[3] + "/pngjs");
const png = PNG.sync.read(require("fs").readFileSync(process.argv[2]));
const colours = new Set(new Uint32Array(png.data.buffer, png.data.byteOffset, png.width * png.height));
if (png.width !== 1280 || png.height !== 800 || colours.size < 500) {
  console.error(png.width, png.height, colours.size);
  process.exit(1);
}
JS
desktop-file-validate "$image/share/applications/clean-marrow.desktop" || wrong "its desktop file is not valid"
for notice in LICENSE THIRD-PARTY.md Lato-LICENSE.txt; do
  [ -s "$image/share/doc/clean-marrow/$notice" ] || wrong "$notice is missing"
done
echo "marrow: the packaged application starts, inspects and takes its picture: $(du -sm "$image" | cut -f1) MB" >&2
