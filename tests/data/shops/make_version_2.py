"""Writes version-2.pecorra beside it: the shop of version 1 as Pecorra's second version of the database kept it."""
import os
import shutil
import sqlite3

here = os.path.dirname(os.path.abspath(__file__))
target = os.path.join(here, "version-2.pecorra")
shutil.copy(os.path.join(here, "version-1.pecorra"), target)
os.chmod(target, 0o644)
database = sqlite3.connect(target)
database.executescript("""
ALTER TABLE object ADD COLUMN seq INTEGER NOT NULL DEFAULT 0;
UPDATE object SET seq = coalesce((SELECT max(seq) FROM edit WHERE edit.object = object.id), 0);
CREATE INDEX object_seq ON object(seq);
CREATE INDEX edit_seq ON edit(seq);
PRAGMA user_version = 2;
""")
database.commit()
database.execute("VACUUM")
database.close()
