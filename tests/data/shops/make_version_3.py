"""Makes version-3.pecorra smaller: the demo shop as Pecorra's third version of the database kept it, with its jobs and
what they name. Give the demo shop that such a version wrote."""
import json
import os
import shutil
import sqlite3
import sys

here = os.path.dirname(os.path.abspath(__file__))
target = os.path.join(here, "version-3.pecorra")
shutil.copy(sys.argv[1], target)
database = sqlite3.connect(target)
keep, names = set(), ("Spindle rail", "Roller end cap")
for id, body in database.execute("SELECT id, body FROM object WHERE kind = 'job'").fetchall():
    job = json.loads(body)
    keep |= {id, job["machine"], job["material"]}
    for operation in job["operations"]:
        keep |= {operation["cutter"]["id"], operation["cutter"]["library"]}
for id, kind in database.execute("SELECT id, kind FROM object").fetchall():
    if id not in keep and kind != "settings":
        database.execute("DELETE FROM object WHERE id = ?", (id,))
database.execute("DELETE FROM edit")
database.execute("DELETE FROM change WHERE seq NOT IN (SELECT seq FROM object)")
database.commit()
database.execute("VACUUM")
database.close()
