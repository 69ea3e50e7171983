#!/usr/bin/env bash
# Speed and feed of one cutter, from a running `pecorra-cli serve --token-file ~/.pecorra-token`.
set -euo pipefail
url="${1:-http://127.0.0.1:7480}"
token="$(cat "${2:-$HOME/.pecorra-token}")"
curl --silent --show-error --fail-with-body --get "$url/resolve" \
  --header "Authorization: Bearer $token" \
  --data-urlencode "library=Iron and steels" --data-urlencode "number=219" \
  --data-urlencode "material=42CrMo4 +QT" --data-urlencode "machine=Fettler 6" \
  --data-urlencode "operation=side_rough" --data-urlencode "ap=8"
