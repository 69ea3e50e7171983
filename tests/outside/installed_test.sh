#!/usr/bin/env bash
# Installs the programs of a build tree into a folder, moves that folder, and works from there as a user would.
set -euo pipefail
tree="$1"
work="$(mktemp -d)"
trap 'rm -rf "$work"' EXIT
trap 'echo "line $LINENO failed: $BASH_COMMAND"; tail -n 20 "$work/log"' ERR
cmake --install "$tree" --prefix "$work/first" >"$work/log"
mv "$work/first" "$work/moved"
bin="$work/moved/bin" share="$work/moved/share"
for file in pecorra/schemas/library.schema.json pecorra/dialects/plain.json pecorra/demo/spindle_rail.dxf \
  applications/pecorra.desktop icons/hicolor/scalable/apps/pecorra.svg doc/Pecorra/LICENSE; do
  [ -f "$share/$file" ] || { echo "missing: $file"; exit 1; }
done
cmp "$share/pecorra/schemas/library.schema.json" <("$bin/pecorra-cli" schema) || { echo "another schema"; exit 1; }
"$bin/pecorra-cli" demo "$work/demo.pecorra"
# Into a file: grep -q leaves a pipe before all is written.
"$bin/pecorra-cli" resolve --shop "$work/demo.pecorra" --library "Iron and steels" --number 219 \
  --material "42CrMo4 +QT" --machine "Fettler 6" --operation side_rough >"$work/answer"
grep -q '"n_rpm"' "$work/answer"
# The module of sheets, from its own place.
"$bin/pecorra-cli" export --shop "$work/demo.pecorra" --library "Iron and steels" --format xlsx "$work/cutters.xlsx"
[ -s "$work/cutters.xlsx" ] || { echo "no workbook written"; exit 1; }
# The window from there: its own materials, tables, fonts and demo.
env -u DISPLAY -u WAYLAND_DISPLAY HOME="$work" "$bin/pecorra" --shot "$work/shots" >>"$work/log" 2>&1
[ "$(ls "$work"/shots/*.png | wc -l)" -ge 15 ] || { cat "$work/log"; echo "views are missing"; exit 1; }
echo "installed, moved, $(ls "$work"/shots/*.png | wc -l) views drawn from there"
