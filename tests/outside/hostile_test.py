"""Every file of tests/data/hostile/make.py, read by the command line as a user would: an answer or a refusal in words,
within a gigabyte, never a crash and never a hang.

usage: hostile_test.py PECORRA_CLI REPOSITORY"""
import os
import resource
import shutil
import subprocess
import sys
import tempfile
import time

CLI, ROOT = os.path.abspath(sys.argv[1]), os.path.abspath(sys.argv[2])
MOST_BYTES = 1 << 30
HANGS_AFTER = 120  # a stop for what never ends, not a measure of speed
LOUD = ["exception", "bad_alloc", "terminate", "Assertion", "should not happen", "std::", "nan", "inf\n"]

work = tempfile.mkdtemp()
faults, slowest, largest, count = [], (0, ""), (0, ""), 0


def run(what, *arguments, stdin=None, folder=work):
    """Peak memory is that of the child alone."""
    global slowest, largest, count
    started = time.monotonic()
    process = subprocess.Popen([CLI, *arguments], stdin=open(stdin, "rb") if stdin else subprocess.DEVNULL, cwd=folder,
                               stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, errors="replace",
                               preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_CPU, (HANGS_AFTER, HANGS_AFTER)))
    said = process.stdout.read()
    _, status, usage = os.wait4(process.pid, 0)
    process.returncode = 0
    code = os.waitstatus_to_exitcode(status)
    took = time.monotonic() - started
    count += 1
    slowest = max(slowest, (took, what))
    largest = max(largest, (usage.ru_maxrss * 1024, what))
    if code not in (0, 1, 2):
        faults.append(f"{what}: ended with {code}: {said[-300:]}")
    if usage.ru_maxrss * 1024 > MOST_BYTES:
        faults.append(f"{what}: took {usage.ru_maxrss // 1024} MB")
    for word in LOUD:
        if word in said.replace("information", ""):
            faults.append(f"{what}: says “{word}”: {said[:300]}")
            break
    if code != 0 and not said.strip():
        faults.append(f"{what}: ended with {code} and said nothing")
    return code, said


files = os.path.join(work, "files")
subprocess.run([sys.executable, os.path.join(ROOT, "tests/data/hostile/make.py"), files, CLI], check=True)
demo = os.path.join(work, "demo.pecorra")
subprocess.run([CLI, "demo", demo], check=True)

for name in sorted(os.listdir(files)):
    path = os.path.join(files, name)
    ending = name.rsplit(".", 1)[1]
    if ending == "request":
        code, said = run(name, "compute", stdin=path)
        if code != 2 or len(said) > 100000:
            faults.append(f"{name}: ended with {code}, {len(said)} letters")
        continue
    if ending != "pecorra":
        run("check " + name, "check", path)
        if ending in ("csv", "xlsx", "json", "pdf"):
            shop = os.path.join(work, "into.pecorra")
            shutil.copy(demo, shop)
            _, said = run("import " + name, "import", "--shop", shop, "--library", "Incoming", path)
            if len(said) > 1 << 20:
                faults.append(f"{name}: {len(said)} letters of answer")
        continue
    before = sorted(os.listdir(files))
    run("check " + name, "check", path)
    run("export " + name, "export", "--shop", path, "--library", "Iron and steels", "--format", "svg",
        os.path.join(work, "out.svg"))
    for job in ("Spindle rail", "Roller end cap"):
        out = os.path.join(work, "out.nc")
        code, _ = run(f"program {name} {job}", "program", "--shop", path, "--job", job, "-o", out, "--skip-faulty")
        if code == 0:
            with open(out) as program:
                text = program.read()
            for bad in ("Z-500", "S-", "nan", "inf", "F-", "F0 ", "S0 "):
                if bad in text:
                    faults.append(f"{name} {job}: the program has {bad}")
    run("chart " + name, "chart", "--shop", path, "--machine", "Fettler 6", "--operation", "drill")
    run("duplicates " + name, "duplicates", "--shop", path)
    new = [n for n in os.listdir(files) if n not in before and not n.endswith(("-wal", "-shm"))]
    if new:
        faults.append(f"{name}: left {new}")

shutil.rmtree(work)
print("\n".join(faults))
print(f"{count} readings of hostile files: slowest {slowest[0]:.1f} s ({slowest[1]}), largest "
      f"{largest[0] >> 20} MB ({largest[1]}), {len(faults)} faults")
sys.exit(1 if faults else 0)
