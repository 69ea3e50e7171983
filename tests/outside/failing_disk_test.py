"""Every call that writes fails once, in each of the ways that disks fail, in every command that writes: what stands
afterwards is the old or the new, whole, and the exit code tells which.

usage: failing_disk_test.py PECORRA_CLI REPOSITORY"""
import errno
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor

CLI, ROOT = os.path.abspath(sys.argv[1]), os.path.abspath(sys.argv[2])
work = tempfile.mkdtemp()
shim = os.path.join(work, "failing_disk.so")
subprocess.run(["cc", "-shared", "-fPIC", "-O1", "-o", shim, os.path.join(ROOT, "tests/outside/failing_disk.c"),
                "-ldl"], check=True)
demo = os.path.join(work, "demo.pecorra")
subprocess.run([CLI, "demo", demo], check=True)
rows = os.path.join(work, "rows.csv")
subprocess.run([CLI, "export-rows", "--shop", demo, "--table", "Heddlemoor Swift", rows], check=True)
with open(rows, encoding="utf-8") as file:
    lines = file.read().splitlines()
diameter = next(i for i, h in enumerate(lines[0].split(",")) if h.lower().startswith("diameter"))
fresh = lines[1].split(",")
fresh[diameter] = "11.7"
with open(rows, "w", encoding="utf-8") as file:
    file.write(lines[0] + "\n" + ",".join(fresh) + "\n")
cutters = os.path.join(work, "cutters.csv")
with open(cutters, "w", encoding="utf-8") as file:
    file.write("Number,Type,Name,Diameter,Flutes\n991,End mill,Incoming,11.7,4\n")
own_dialect = os.path.join(work, "own.json")
with open(own_dialect, "w", encoding="utf-8") as file:
    json.dump({"format_version": 1, "key": "own", "name": "Our own control", "tool_change": "T{t} M6\n",
               "coolant_off": "M9"}, file)


def objects(path):
    """What a shop says, or nothing where it is none."""
    if not os.path.exists(path) or os.path.getsize(path) == 0:
        return None
    with sqlite3.connect(path) as c:
        assert c.execute("PRAGMA integrity_check").fetchone() == ("ok",), path
        found = dict(c.execute("SELECT id, body FROM object"))
    c.close()
    return found


def whole(path):
    if not os.path.exists(path):
        return None
    with open(path, "rb") as file:
        return file.read()


class Command:
    """`arguments` in a folder with a shop and, where `over` says so, an older file at the target."""
    def __init__(self, name, arguments, target, state, over=False, shop=demo, program=CLI):
        self.program = program
        self.name, self.arguments, self.target, self.state = name, arguments, target, state
        self.over, self.shop = over, shop

    def folder(self):
        folder = tempfile.mkdtemp(dir=work)
        shutil.copy(self.shop, os.path.join(folder, "shop.pecorra"))
        if self.over:
            with open(os.path.join(folder, self.target), "w") as file:
                file.write("older\n" * 2000)
        return folder

    def run(self, folder, **environment):
        count = os.path.join(folder, "count")
        env = {**os.environ, "LD_PRELOAD": shim, "FAIL_COUNT": count, **environment}
        done = subprocess.run([self.program, *self.arguments], cwd=folder, env=env, capture_output=True, text=True,
                              timeout=120)
        calls = int(whole(count) or 0)
        if os.path.exists(count):
            os.remove(count)
        return done, calls

    def look(self, folder):
        return self.state(os.path.join(folder, self.target))


old_shop = os.path.join(ROOT, "tests/data/shops/version-1.pecorra")
COMMANDS = [
    Command("program", ["program", "--shop", "shop.pecorra", "--job", "Spindle rail", "-o", "out.nc"], "out.nc", whole,
            over=True),
    Command("setup sheet", ["sheet", "--shop", "shop.pecorra", "--job", "Spindle rail", "-o", "out.html"], "out.html",
            whole, over=True),
    Command("dialect in", ["dialect", "--shop", "shop.pecorra", "--read", own_dialect], "shop.pecorra",
            lambda p: sum('"Our own control"' in b for b in objects(p).values())),
    Command("export", ["export", "--shop", "shop.pecorra", "--library", "Iron and steels", "--format", "csv",
                       "out.csv"],
            "out.csv", whole, over=True),
    Command("workbook", ["export", "--shop", "shop.pecorra", "--library", "Iron and steels", "--format", "xlsx",
                         "out.xlsx"], "out.xlsx", lambda p: None if not os.path.exists(p) else
            whole(p) if whole(p)[:5] == b"older" else len(whole(p)) > 5000 and whole(p)[:2] == b"PK", over=True),
    Command("rows", ["export-rows", "--shop", "shop.pecorra", "--table", "Heddlemoor Swift", "out.csv"], "out.csv",
            whole),
    Command("demo", ["demo", "new.pecorra"], "new.pecorra", lambda p: (objects(p) or {}).keys()),
    Command("row in", ["import-rows", "--shop", "shop.pecorra", "--table", "Heddlemoor Swift", rows], "shop.pecorra",
            lambda p: sum("11.7" in b for b in objects(p).values())),
    Command("cutter in", ["import", "--shop", "shop.pecorra", "--library", "Incoming", cutters], "shop.pecorra",
            lambda p: sum('"Incoming"' in b for b in objects(p).values())),
    Command("shared library", ["shop.pecorra", "shared.json"], "shared.json", whole,
            program=os.path.join(os.path.dirname(CLI), "../tests/shared_write")),
    Command("migration", ["check", "shop.pecorra"], "shop.pecorra", lambda p: objects(p), shop=old_shop),
]
# How a call fails, and whether all after it do; two that are alike take the places in turn.
FAILURES = [((errno.ENOSPC,), False), ((errno.ENOSPC,), True), ((errno.EIO, errno.EROFS), False), ((0,), False)]
faults, runs = [], 0


def try_one(command, old, new, at, failure, on):
    global runs
    folder = command.folder()
    done, _ = command.run(folder, FAIL_AT=str(at), FAIL_ERRNO=str(failure), **({"FAIL_ON": "1"} if on else {}))
    runs += 1
    name = f"{command.name}, call {at}, {errno.errorcode.get(failure, 'short write')}{' from there on' if on else ''}"
    try:
        now = command.look(folder)
        if now not in (old, new):
            faults.append(f"{name}: neither the old nor the new stands")
        elif command.name != "migration" and old != new and (done.returncode == 0) != (now == new):
            faults.append(f"{name}: ended with {done.returncode}, and the {'new' if now == new else 'old'} stands: "
                          f"{done.stderr.strip()[:160]}")
        if done.returncode not in (0, 1):
            faults.append(f"{name}: ended with {done.returncode}: {done.stderr.strip()[:160]}")
        if done.returncode == 1 and not done.stderr.strip():
            faults.append(f"{name}: failed and said nothing")
        left = [f for f in os.listdir(folder) if f.endswith(".part")]
        if left and not on:
            faults.append(f"{name}: left {left}")
    except (AssertionError, sqlite3.Error) as error:
        faults.append(f"{name}: {error}")
    shutil.rmtree(folder)


with ThreadPoolExecutor(2) as pool:
    for command in COMMANDS:
        folder = command.folder()
        old = command.look(folder)
        done, calls = command.run(folder)
        assert done.returncode == 0, (command.name, done.stderr)
        new = command.look(folder)
        shutil.rmtree(folder)
        assert calls > 3, (command.name, calls)
        step = max(1, calls // 25)
        # The first and the last calls each, of the many between every so many-th.
        places = sorted({*range(0, min(calls, 12)), *range(max(0, calls - 25), calls), *range(0, calls, step)})
        for kinds, on in FAILURES:
            list(pool.map(lambda i: try_one(command, old, new, places[i], kinds[i % len(kinds)], on),
                          range(len(places))))

# A disk that takes nothing more: what is there can be read.
for left_log in (False, True):
    folder = COMMANDS[0].folder()
    if left_log:
        c = sqlite3.connect(os.path.join(folder, "shop.pecorra"), isolation_level=None)
        c.execute("PRAGMA wal_autocheckpoint = 0")
        c.execute("UPDATE object SET body = replace(body, 'Fettler 6', 'In the log') WHERE kind = 'machine'")
        for tail in ("", "-wal"):
            shutil.copy(os.path.join(folder, "shop.pecorra" + tail), os.path.join(folder, "full.pecorra" + tail))
        c.close()
    else:
        shutil.copy(os.path.join(folder, "shop.pecorra"), os.path.join(folder, "full.pecorra"))
    machine = "In the log" if left_log else "Fettler 6"
    for arguments in (["check", "full.pecorra"],
                      ["chart", "--shop", "full.pecorra", "--machine", machine, "--operation", "drill"]):
        done, _ = Command("read", arguments, "full.pecorra", whole).run(
            folder, FAIL_AT="0", FAIL_ERRNO=str(errno.ENOSPC), FAIL_ON="1")
        runs += 1
        if done.returncode != 0:
            faults.append(f"{arguments[0]} on a full disk{' with a log' if left_log else ''}: {done.stderr.strip()}")

shutil.rmtree(work)
print("\n".join(faults[:40]))
print(f"{runs} runs with a failing call: {len(faults)} faults")
sys.exit(1 if faults else 0)
