#!/usr/bin/env python3
# Writes a shop as version 1 of the database had it, with the plain SQLite of another language. Committed and kept for ever.
import json
import sqlite3
from pathlib import Path

file = Path(__file__).parent / "version-1.pecorra"
file.unlink(missing_ok=True)
db = sqlite3.connect(file)
db.executescript("""
PRAGMA application_id = 0x50454352;
PRAGMA user_version = 1;
CREATE TABLE object (id TEXT PRIMARY KEY, kind TEXT NOT NULL, revision INTEGER NOT NULL, body TEXT NOT NULL) STRICT;
CREATE TABLE change (seq INTEGER PRIMARY KEY, at TEXT NOT NULL, who TEXT NOT NULL, label TEXT NOT NULL) STRICT;
CREATE TABLE edit (seq INTEGER NOT NULL REFERENCES change(seq), object TEXT NOT NULL, kind TEXT NOT NULL, before TEXT, after TEXT) STRICT;
CREATE INDEX edit_object ON edit(object);
""")
library = "00000000-0000-8000-8000-000000000001"
cutter = "00000000-0000-8000-8000-000000000002"
bodies = {
    library: ("library", 1, {"id": library, "name": "Old cabinet"}),
    cutter: ("cutter", 3, {"id": cutter, "kind": "end_mill", "diameter_mm": 12.7, "flutes": 4, "flute_length_mm": 26, "shank_diameter_mm": 12.7,
                           "overall_length_mm": 83, "tool_material": "carbide", "number": 5, "name": "Old half inch", "library": library, "unit": "inch",
                           "typed": {"diameter_mm": '1/2"'}}),
}
for seq, label in enumerate(["Library made", "New end mill", "Diameter 12 → 12.7 mm", "Number 4 → 5"], start=1):
    db.execute("INSERT INTO change VALUES (?, ?, ?, ?)", (seq, f"2026-01-0{seq}T08:00:00.000Z", "maud", label))
db.execute("INSERT INTO edit VALUES (1, ?, 'library', NULL, ?)", (library, json.dumps(bodies[library][2])))
db.execute("INSERT INTO edit VALUES (2, ?, 'cutter', NULL, '{}')", (cutter,))
db.execute("INSERT INTO edit VALUES (3, ?, 'cutter', ?, ?)", (cutter, '{"diameter_mm":12}', '{"diameter_mm":12.7}'))
db.execute("INSERT INTO edit VALUES (4, ?, 'cutter', ?, ?)", (cutter, '{"number":4}', '{"number":5}'))
for id, (kind, revision, body) in bodies.items():
    db.execute("INSERT INTO object VALUES (?, ?, ?, ?)", (id, kind, revision, json.dumps(body, ensure_ascii=False)))
db.commit()
db.close()
