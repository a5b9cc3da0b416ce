#!/usr/bin/env bash
# Makes an application image with a runtime of its own: package.sh JDK_BIN DIR small|quick JVM_OPTION…
# Called by ./marrow package, which has built everything before. The quick one starts in two thirds of the time from what a
# first use left behind, and is almost twice as large.
set -euo pipefail
root=$(cd "$(dirname "$0")/.." && pwd)
bin=$1 folder=$2 kind=$3
shift 3
name=clean-marrow
image=$folder/$name
icons=$root/desktop/src/main/resources/org/cleanmarrow/desktop/icon
fail() { echo "marrow: $1" >&2; exit 2; }

[ -x "$bin/jpackage" ] || fail "jpackage is missing beside $bin/java: install a whole JDK 25"
[ ! -e "$image" ] || fail "$image is there already; name another folder, or move it away"
mkdir -p "$folder"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
mkdir "$work/jars"
cp "$root"/target/jars/*.jar "$root"/target/lib/*.jar "$work/jars"
version=$(sed -n 's:.*<version>\(.*\)</version>.*:\1:p' "$root/pom.xml" | head -1)

options=()
for option in "$@"; do
  options+=(--java-options "$option")
done
printf '%s\n' main-jar=batch.jar main-class=org.cleanmarrow.batch.Main java-options="$*" > "$work/marrow.properties"
if [ "$(uname)" = Linux ]; then
  while read -r option; do
    options+=(--java-options "$option")
  done < <(grep -v '^#' "$root/tools/window.jvm")
fi
"$bin/jpackage" --type app-image --name "$name" --app-version "$version" --vendor "Clean Marrow" \
  --input "$work/jars" --main-jar desktop.jar --main-class org.cleanmarrow.desktop.Launcher \
  --add-launcher "marrow=$work/marrow.properties" --icon "$icons/icon-256.png" --dest "$work" \
  --add-modules java.base,java.desktop,java.logging,java.management,java.naming,java.xml,jdk.unsupported,jdk.zipfs \
  --jlink-options "--strip-debug --no-man-pages --no-header-files" "${options[@]}" >&2 || fail "jpackage failed"

# What others made, in their own words.
notices=$work/$name/share/doc/$name
mkdir -p "$notices"
cp "$root/LICENSE" "$root/THIRD-PARTY.md" "$root/README.md" "$root/CHANGELOG.md" "$notices"
cp "$root"/desktop/src/main/resources/org/cleanmarrow/desktop/fonts/*LICENSE.txt "$notices"
for jar in "$root"/target/lib/*.jar; do
  # Names stand in the archive as they are.
  mapfile -t texts < <(LC_ALL=C grep -aoE '(META-INF/)?(LICENSE|NOTICE|COPYING)(\.txt|\.md)?PK' "$jar" | sed 's/PK$//' | sort -u)
  [ ${#texts[@]} -gt 0 ] || continue
  into=$notices/$(basename "$jar" .jar)
  mkdir -p "$into"
  (cd "$into" && "$bin/jar" --extract --file "$jar" "${texts[@]}")
done

if [ "$(uname)" = Linux ]; then
  share=$work/$name/share
  mkdir -p "$share/applications" "$share/icons/hicolor/scalable/apps" "$share/icons/hicolor/256x256/apps"
  cp "$icons/icon.svg" "$share/icons/hicolor/scalable/apps/$name.svg"
  cp "$icons/icon-256.png" "$share/icons/hicolor/256x256/apps/$name.png"
  cp "$root/tools/$name.desktop" "$share/applications"
fi
if [ "$kind" = quick ]; then
  app=$work/$name/lib/app
  # Uses a launcher once and keeps what it loaded and linked; later starts begin from that, wherever it lies then.
  keep() { # launcher, arguments
    local launcher=$1 config=$work/$1.config said=$work/$1.log
    shift
    JAVA_TOOL_OPTIONS="-XX:AOTMode=record -XX:AOTConfiguration=$config" "$work/$name/bin/$launcher" "$@" >"$said" 2>&1 \
      || { cat "$said" >&2; fail "the packaged application does not start"; }
    JAVA_TOOL_OPTIONS="-XX:AOTMode=create -XX:AOTConfiguration=$config -XX:AOTCache=$app/$launcher.aot" \
      "$work/$name/bin/$launcher" >>"$said" 2>&1 || { cat "$said" >&2; fail "the cache of $launcher cannot be made"; }
    # Where something keeps it from being used, it starts without.
    printf '%s\n' "java-options=-XX:AOTCache=\$APPDIR/$launcher.aot" java-options=-Xlog:disable >> "$app/$launcher.cfg"
  }
  keep "$name" shots "$work/shots" 02-intake
  keep marrow inspect "$root/formats/src/test/resources/samples/simple_skin.gltf" --json
fi
mv "$work/$name" "$folder"
echo "$image"
