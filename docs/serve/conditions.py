#!/usr/bin/env python3
"""Conditions and a shortlist, from a running `pecorra-cli serve --token-file ~/.pecorra-token`.

Usage: conditions.py [URL [TOKEN_FILE]]
"""
import json
import pathlib
import sys
import urllib.error
import urllib.parse
import urllib.request

url = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:7480"
token_file = pathlib.Path(sys.argv[2]) if len(sys.argv) > 2 else pathlib.Path.home() / ".pecorra-token"
token = token_file.read_text().strip()


def ask(path, query, body=None):
    """The answer as Python objects; a wrong question ends with what the service says about it."""
    request = urllib.request.Request(
        f"{url}{path}?{urllib.parse.urlencode(query)}",
        data=None if body is None else json.dumps(body).encode(),
        headers={"Authorization": f"Bearer {token}"},
    )
    try:
        with urllib.request.urlopen(request, timeout=60) as reply:
            return json.load(reply)
    except urllib.error.HTTPError as error:
        sys.exit(json.dumps(json.load(error), indent=1))


here = {"material": "42CrMo4 +QT", "machine": "Fettler 6"}
found = ask("/resolve", {"library": "Iron and steels", "number": 219, "operation": "side_rough", "ap": 8, **here})
conditions = found["conditions"]
print(f"S{conditions['n_rpm']:.0f} F{conditions['vf_mm_min']:.0f}, from {found['source']}")
for step in found["trail"]:
    print("  ", step["text"])

# Along a path the width of cut changes: many questions at once, what they have in common in the query.
widths = [1.0, 2.0, 3.0, 4.0]
cutter = {"library": "Iron and steels", "number": 219, "operation": "side_rough", **here}
for width, cut in zip(widths, ask("/resolve/many", cutter, [{"ap": 8, "ae": width} for width in widths])):
    print(f"ae {width}: F{cut['conditions']['vf_mm_min']:.0f}")

pocket = {"kind": "rectangle", "length_mm": 60, "width_mm": 40, "corner_radius_mm": 6, "depth_mm": 10,
          "operation": "pocket"}
for entry in ask("/shortlist", {"by": "time", **here}, pocket)["ranked"][:5]:
    print(f"{entry['minutes']:6.1f} min  {entry['name']}")
