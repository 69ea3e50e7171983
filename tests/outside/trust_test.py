"""What the command line promises of files: nothing is destroyed that was not meant, nobody is let in who was not, a
failure that is said changed nothing and a success that is said is there.

usage: trust_test.py PECORRA_CLI REPOSITORY"""
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import tempfile
import threading
import time
import unittest

CLI, ROOT = os.path.abspath(sys.argv[1]), os.path.abspath(sys.argv[2])


def run(*arguments, code=0, out=None, nobody=False, **more):
    def demote():
        if nobody and os.getuid() == 0:
            os.setgid(65534)
            os.setuid(65534)
    done = subprocess.run([CLI if not nobody else more.pop("cli"), *arguments], stdout=out or subprocess.PIPE,
                          stderr=subprocess.PIPE, text=True, preexec_fn=demote, **more)
    if code is not None and done.returncode != code:
        raise AssertionError(f"{arguments}: {done.returncode}\n{done.stdout}\n{done.stderr}")
    return done


class Trust(unittest.TestCase):
    def setUp(self):
        self.folder = tempfile.mkdtemp()
        self.shop = self.path("shop.pecorra")
        run("demo", self.shop)
        self.rows = self.path("rows.csv")
        run("export-rows", "--shop", self.shop, "--table", "Heddlemoor Swift", self.rows)
        with open(self.rows, encoding="utf-8") as file:
            lines = file.read().splitlines()
        at = next(i for i, h in enumerate(lines[0].split(",")) if h.lower().startswith("diameter"))
        row = lines[1].split(",")
        row[at] = "11.7"
        with open(self.rows, "w", encoding="utf-8") as file:
            file.write(lines[0] + "\n" + ",".join(row) + "\n")

    def tearDown(self):
        os.chmod(self.folder, 0o755)
        shutil.rmtree(self.folder)

    def path(self, name):
        return os.path.join(self.folder, name)

    def mode(self, name):
        return stat.S_IMODE(os.stat(self.path(name)).st_mode)

    def rows_in(self, shop=None):
        c = sqlite3.connect(shop or self.shop)
        found = sum("11.7" in b for (b,) in c.execute("SELECT body FROM object WHERE kind = 'table'"))
        c.close()
        return found

    def import_rows(self, shop=None, **more):
        return run("import-rows", "--shop", shop or self.shop, "--table", "Heddlemoor Swift", self.rows, **more)

    def test_a_shop_what_belongs_to_it_and_devices_are_no_targets(self):
        with open(self.shop, "rb") as file:
            before = file.read()
        os.symlink(self.shop, self.path("link.csv"))
        os.mkfifo(self.path("pipe"))
        for target in ["shop.pecorra", "shop.pecorra-wal", "shop.pecorra-shm", "shop.pecorra-journal", "link.csv",
                       "pipe"]:
            done = run("export", "--shop", self.shop, "--library", "Iron and steels", "--format", "csv",
                       self.path(target), code=1)
            self.assertIn("cannot be written", done.stderr)
            run("program", "--shop", self.shop, "--job", "Spindle rail", "-o", self.path(target), code=1)
            run("export-rows", "--shop", self.shop, "--table", "Heddlemoor Swift", self.path(target), code=1)
        run("program", "--shop", self.shop, "--job", "Spindle rail", "-o", "/dev/full", code=1)
        with open(self.shop, "rb") as file:
            self.assertEqual(file.read(), before)

    def test_an_address_is_a_name(self):
        run("check", "file:x.pecorra", code=2, cwd=self.folder)
        self.assertEqual([n for n in os.listdir(self.folder) if n.startswith(("file", "x."))], [])

    def test_what_could_not_be_printed_was_not_answered(self):
        with open("/dev/full", "w") as full:
            run("chart", "--shop", self.shop, "--machine", "Fettler 6", "--operation", "drill", code=1, out=full)
            run("value", "1/2 in", "--as", "mm", code=1, out=full)
            run("schema", code=1, out=full)

    def test_a_lock_is_waited_for_or_nothing_is_written(self):
        for seconds in (3, 1):
            holder = sqlite3.connect(self.shop, isolation_level=None, check_same_thread=False)
            holder.execute("BEGIN IMMEDIATE")

            def let_go():
                time.sleep(seconds)
                holder.execute("ROLLBACK")
                holder.close()

            thread = threading.Thread(target=let_go)
            thread.start()
            before = self.rows_in()
            done = self.import_rows(code=None)
            thread.join()
            time.sleep(0.5)
            self.assertEqual(self.rows_in(), 1 if done.returncode == 0 else before)

    def test_two_at_once_both_come_through(self):
        for i in range(5):
            shop = self.path(f"two{i}.pecorra")
            run("demo", shop)
            other = self.path("other.csv")
            with open(self.rows, encoding="utf-8") as file, open(other, "w", encoding="utf-8") as out:
                out.write(file.read().replace("11.7", "13.3"))
            both = [subprocess.Popen([CLI, "import-rows", "--shop", shop, "--table", "Heddlemoor Swift", rows],
                                     stdout=subprocess.PIPE, stderr=subprocess.PIPE) for rows in (self.rows, other)]
            for process in both:
                process.communicate()
                self.assertEqual(process.returncode, 0)
            c = sqlite3.connect(shop)
            body = "".join(b for (b,) in c.execute("SELECT body FROM object WHERE kind = 'table'"))
            c.close()
            self.assertIn("11.7", body)
            self.assertIn("13.3", body)

    def test_files_are_as_open_as_the_user_says_and_never_more_than_what_they_replace(self):
        def export(name, umask):
            run("export", "--shop", self.shop, "--library", "Iron and steels", "--format", "xlsx", self.path(name),
                umask=umask)
            return self.mode(name)

        self.assertEqual(export("a.xlsx", 0o022), 0o644)
        self.assertEqual(export("b.xlsx", 0o077), 0o600)
        os.chmod(self.path("a.xlsx"), 0o640)
        self.assertEqual(export("a.xlsx", 0o022), 0o640)
        # A link where a file is made beside it is not followed.
        victim = self.path("victim")
        open(victim, "w").close()
        os.symlink(victim, self.path("c.xlsx.new"))
        export("c.xlsx", 0o022)
        self.assertEqual(os.path.getsize(victim), 0)
        # A backup is as closed as the shop.
        old = self.path("old.pecorra")
        shutil.copy(os.path.join(ROOT, "tests/data/shops/version-1.pecorra"), old)
        os.chmod(old, 0o600)
        run("check", old)
        backups = [n for n in os.listdir(self.folder) if n.startswith("old.pecorra.version")]
        self.assertGreater(len(backups), 0)
        for name in backups:
            self.assertEqual(self.mode(name), 0o600)
            self.assertGreater(os.path.getsize(self.path(name)), 4096)
        shutil.copy(self.path(backups[0]), self.path("again.pecorra"))
        run("check", self.path("again.pecorra"))

    def test_an_empty_file_is_no_backup(self):
        old = self.path("old.pecorra")
        shutil.copy(os.path.join(ROOT, "tests/data/shops/version-1.pecorra"), old)
        open(old + ".version-1", "w").close()
        run("check", old)
        self.assertGreater(os.path.getsize(old + ".version-1"), 4096)

    def test_what_may_only_be_read_is_read_with_its_log_and_not_written(self):
        # A log that was left behind: copied while a writer was at it.
        writer = sqlite3.connect(self.shop, isolation_level=None)
        writer.execute("PRAGMA wal_autocheckpoint = 0")
        writer.execute("UPDATE object SET body = replace(body, '\"Spindle rail\"', '\"In the log\"') "
                       "WHERE kind = 'job'")
        inside = self.path("closed")
        os.mkdir(inside)
        for tail in ("", "-wal"):
            shutil.copy(self.shop + tail, os.path.join(inside, "copy.pecorra" + tail))
        writer.close()
        copy, cli = os.path.join(inside, "copy.pecorra"), self.path("cli")
        shutil.copy(CLI, cli)
        os.chmod(cli, 0o755)
        os.chmod(self.folder, 0o755)
        for name in os.listdir(inside):
            os.chmod(os.path.join(inside, name), 0o444)
        os.chmod(inside, 0o555)
        before = sorted(os.listdir(inside))
        out = self.path("out")
        os.mkdir(out)
        os.chmod(out, 0o777)
        program = os.path.join(out, "a.nc")
        run("program", "--shop", copy, "--job", "In the log", "-o", program, nobody=True, cli=cli)
        self.assertGreater(os.path.getsize(program), 100)
        done = self.import_rows(copy, code=1, nobody=True, cli=cli)
        self.assertNotIn('"new"', done.stdout)
        self.assertEqual(sorted(os.listdir(inside)), before)
        os.chmod(inside, 0o755)


unittest.main(argv=[sys.argv[0]])
