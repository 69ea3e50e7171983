#!/usr/bin/env python3
"""The conditions service from outside: the same answers as the command's, and bad senders."""
import http.client
import json
import os
import pathlib
import socket
import ssl
import subprocess
import sys
import tempfile
import threading
import time
import unittest
import urllib.parse

PROGRAM = pathlib.Path(sys.argv[1]).resolve()
SOURCES = pathlib.Path(sys.argv[2]).resolve()
TOKEN = "a-token-for-the-tests"
HERE = {"material": "42CrMo4 +QT", "machine": "Fettler 6"}
CUT = {"library": "Iron and steels", "number": "219", "operation": "side_rough", **HERE}
POCKET = {"kind": "rectangle", "length_mm": 60, "width_mm": 40, "corner_radius_mm": 6, "depth_mm": 10,
          "operation": "pocket"}


def command(*arguments, text=None):
    return subprocess.run([PROGRAM, *arguments], input=text, capture_output=True, text=True, timeout=120)


class Service:
    def __init__(self, shop, *more):
        self.process = subprocess.Popen([PROGRAM, "serve", "--shop", shop, "--port", "0", *more],
                                        stdout=subprocess.PIPE, text=True)
        self.said = json.loads(self.process.stdout.readline())
        self.port = urllib.parse.urlsplit(self.said["url"]).port

    def close(self):
        self.process.terminate()
        self.process.stdout.close()
        return self.process.wait(timeout=30)

    def ask(self, path, query=None, body=None, token=TOKEN, method=None, connection=None):
        mine = connection or http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        try:
            headers = {"Authorization": f"Bearer {token}"} if token else {}
            target = path + ("?" + urllib.parse.urlencode(query) if query else "")
            mine.request(method or ("GET" if body is None else "POST"), target, body=body, headers=headers)
            reply = mine.getresponse()
            return reply.status, reply.read().decode(), reply
        finally:
            if not connection:
                mine.close()


class ServeTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = tempfile.TemporaryDirectory()
        cls.shop = os.path.join(cls.folder.name, "demo.pecorra")
        assert command("demo", cls.shop).returncode == 0
        cls.token_file = os.path.join(cls.folder.name, "token")
        pathlib.Path(cls.token_file).write_text(TOKEN + "\n")
        os.chmod(cls.token_file, 0o600)
        cls.service = Service(cls.shop, "--token-file", cls.token_file)

    @classmethod
    def tearDownClass(cls):
        assert cls.service.close() == 0
        cls.folder.cleanup()

    def ask(self, *arguments, **more):
        return self.service.ask(*arguments, **more)

    def test_resolve_answers_as_the_command_does(self):
        for extra in ({}, {"ap": "4", "ae": "2", "pace": "60"}, {"operation": "slot"}, {"number": "307"},
                      {"source": "starter_table"}):
            asked = {**CUT, **extra}
            flags = [part for key, value in asked.items() for part in (f"--{key}", value)]
            told = command("resolve", "--shop", self.shop, *flags)
            self.assertEqual(told.returncode, 0, told.stderr)
            for _ in range(2):  # the second is remembered
                status, text, reply = self.ask("/resolve", asked)
                self.assertEqual((status, text), (200, told.stdout))
            self.assertEqual(reply.getheader("Content-Type"), "application/json")
            numbers = {**asked, "number": int(asked["number"])}
            self.assertEqual(self.ask("/resolve", body=json.dumps(numbers))[:2], (200, told.stdout))

    def test_many_questions_get_the_answers_they_would_get_alone(self):
        questions = [{"ap": 4}, {"ap": 4, "ae": 2.5}, {"operation": "slot"}, {"number": 307}, {"ae": 400}, {"ap": True},
                     {"nummer": 1}, 7, {"ap": 4}]
        status, text, _ = self.ask("/resolve/many", CUT, body=json.dumps(questions))
        self.assertEqual(status, 200, text)
        answers = json.loads(text)
        self.assertEqual(len(answers), len(questions))
        for question, answer in zip(questions, answers):
            if question == 7:
                self.assertIn("not an object", answer["error"]["faults"][0]["text"])
            else:
                self.assertEqual(answer, json.loads(self.ask("/resolve", body=json.dumps({**CUT, **question}))[1]))
        self.assertEqual([("error" in answer) for answer in answers], [False] * 4 + [True] * 4 + [False])
        self.assertIn("diameter", answers[4]["error"]["faults"][0]["text"])
        self.assertEqual(self.ask("/resolve/many", CUT, body="[]")[:2], (200, "[]\n"))
        for wrong in ("{}", "[", "", json.dumps([{}] * 1001)):
            self.assertEqual(self.ask("/resolve/many", CUT, body=wrong)[0], 400, wrong[:20])
        self.assertEqual(self.ask("/resolve/many", CUT)[0], 405)

    def test_chart_and_shortlist_answer_as_the_commands_do(self):
        for form in ("json", "csv"):
            told = command("chart", "--shop", self.shop, "--machine", "Fettler 6", "--operation", "drill", "--format",
                           form)
            asked = {"machine": "Fettler 6", "operation": "drill", "format": form}
            self.assertEqual(self.ask("/chart", asked)[:2], (200, told.stdout))
        told = command("shortlist", "--shop", self.shop, "--machine", HERE["machine"], "--material", HERE["material"],
                       "--by", "time", text=json.dumps(POCKET))
        self.assertEqual(told.returncode, 0, told.stderr)
        status, text, _ = self.ask("/shortlist", {**HERE, "by": "time"}, body=json.dumps(POCKET))
        self.assertEqual((status, text), (200, told.stdout))
        self.assertGreater(len(json.loads(text)["ranked"]), 3)

    def test_without_the_token_nothing_is_told(self):
        for token in (None, "wrong", TOKEN[:-1], TOKEN + "x", ""):
            status, text, reply = self.ask("/resolve", CUT, token=token)
            self.assertEqual(status, 401)
            self.assertEqual(reply.getheader("WWW-Authenticate"), "Bearer")
            self.assertNotIn("n_rpm", text)
        self.assertEqual(self.ask("/nothing", token=None)[0], 401)

    def test_wrong_questions_name_what_is_wrong(self):
        def faults(*arguments, **more):
            status, text, _ = self.ask(*arguments, **more)
            self.assertEqual(status, 400, text)
            return {f["place"]: f["text"] for f in json.loads(text)["error"].get("faults", [])}
        self.assertIn("42CrMo4", faults("/resolve", {**CUT, "material": "42CrMo"})["material"])
        self.assertIn("not a number", faults("/resolve", {**CUT, "ap": "deep"})["ap"])
        self.assertIn("whole", faults("/resolve", {**CUT, "number": "2.5"})["number"])
        self.assertIn("missing", faults("/resolve", {"library": "Iron and steels"})["number"])
        self.assertIn("machine", faults("/resolve", {**CUT, "machin": "x"})["machin"])
        self.assertTrue(faults("/resolve", body="{\"library\": "))
        self.assertTrue(faults("/resolve", body="[1, 2]"))
        self.assertTrue(faults("/shortlist", HERE, body="{}"))
        self.assertTrue(faults("/shortlist", HERE, body="{" * 100000))
        self.assertEqual(self.ask("/resolve?library=%zz")[0], 400)
        self.assertEqual(self.ask("/elsewhere")[0], 404)
        status, _, reply = self.ask("/resolve", CUT, method="DELETE")
        self.assertEqual((status, reply.getheader("Allow")), (405, "GET, POST"))
        self.assertEqual(self.ask("/shortlist", HERE)[0], 405)

    def test_what_is_too_long_is_refused(self):
        self.assertEqual(self.ask("/resolve", body="x" * (2 << 20))[0], 413)
        self.assertEqual(self.ask("/resolve", {"library": "x" * 20000})[0], 431)
        with socket.create_connection(("127.0.0.1", self.service.port), timeout=30) as raw:
            raw.sendall(b"\x00\x01\x02 not http\r\n\r\n")
            self.assertIn(b"400", raw.recv(4096))

    def test_a_slow_sender_is_let_go_and_nobody_waits_for_it(self):
        begun = time.monotonic()
        with socket.create_connection(("127.0.0.1", self.service.port), timeout=40) as slow:
            slow.sendall(b"GET /resolve HTTP/1.1\r\n")
            self.assertEqual(self.ask("/resolve", CUT)[0], 200)
            while True:  # a byte now and then does not prolong it
                try:
                    slow.sendall(b"X")
                    slow.settimeout(1)
                    if not slow.recv(4096):
                        break
                except TimeoutError:
                    self.assertLess(time.monotonic() - begun, 30)
                except OSError:
                    break
        self.assertGreater(time.monotonic() - begun, 5)

    def test_a_thousand_connections(self):
        held = []
        try:
            for _ in range(1000):
                try:
                    held.append(socket.create_connection(("127.0.0.1", self.service.port), timeout=10))
                except OSError:
                    break
            self.assertGreater(len(held), 500)
        finally:
            for one in held:
                one.close()
        for _ in range(50):  # as soon as they are gone
            try:
                if self.ask("/resolve", CUT)[0] == 200:
                    return
            except OSError:
                pass
            time.sleep(0.1)
        self.fail("it does not answer any more")

    def test_several_connections_asking_at_once_get_the_answers_they_would_get_alone(self):
        count, each = 8, 60  # all of them sent before the first answer is read
        questions = [{**CUT, "number": ("219", "307")[k % 2], "ap": 1 + k / 1000} for k in range(count * each)]
        connections = [socket.create_connection(("127.0.0.1", self.service.port), timeout=60) for _ in range(count)]
        for k, one in enumerate(connections):
            one.sendall("".join(f"GET /resolve?{urllib.parse.urlencode(question)} HTTP/1.1\r\nHost: x\r\n"
                                f"Authorization: Bearer {TOKEN}\r\n\r\n"
                                for question in questions[k * each:(k + 1) * each]).encode())
        answers = []
        for one in connections:
            with one, one.makefile("rb") as read:
                for _ in range(each):
                    self.assertIn(b" 200 ", read.readline())
                    head = dict(line.decode().strip().split(": ") for line in iter(read.readline, b"\r\n"))
                    answers.append(json.loads(read.read(int(head["Content-Length"]))))
        self.assertEqual(answers, json.loads(self.ask("/resolve/many", body=json.dumps(questions))[1]))

    def test_very_many_requests_in_one_go(self):
        count = 20000
        with socket.create_connection(("127.0.0.1", self.service.port), timeout=60) as one, one.makefile("rb") as read:
            sender = threading.Thread(target=one.sendall, args=(b"GET / HTTP/1.1\r\n\r\n" * count,))
            sender.start()
            for _ in range(count):
                self.assertIn(b" 401 ", read.readline())
                head = dict(line.decode().strip().split(": ") for line in iter(read.readline, b"\r\n"))
                read.read(int(head["Content-Length"]))
            sender.join()
        self.assertEqual(self.ask("/resolve", CUT)[0], 200)

    def test_a_shop_that_changes_is_read_again(self):
        shop = os.path.join(self.folder.name, "other.pecorra")
        self.assertEqual(command("demo", shop).returncode, 0)
        service = Service(shop, "--token-file", self.token_file)
        try:
            asked = {**CUT, "library": "New one", "number": "1"}
            self.assertEqual(service.ask("/resolve", asked)[0], 400)
            cutters = os.path.join(self.folder.name, "new.csv")
            pathlib.Path(cutters).write_text("number,kind,diameter_mm,flutes,flute_length_mm,tool_material\n"
                                             "1,end_mill,10,4,22,carbide\n")
            told = command("import", "--shop", shop, "--library", "New one", cutters)
            self.assertEqual(told.returncode, 0, told.stderr)
            for _ in range(100):
                if service.ask("/resolve", asked)[0] == 200:
                    return
                time.sleep(0.1)
            self.fail("the new library is not known")
        finally:
            service.close()

    def test_other_addresses_only_with_tls(self):
        told = command("serve", "--shop", self.shop, "--address", "0.0.0.0")
        self.assertEqual(told.returncode, 2)
        self.assertIn("certificate", told.stderr)
        self.assertEqual(command("serve", "--shop", self.shop, "--certificate", "x.pem").returncode, 2)
        self.assertEqual(command("serve", "--shop", self.shop, "--address", "nowhere").returncode, 2)
        key, certificate = (os.path.join(self.folder.name, name) for name in ("key.pem", "certificate.pem"))
        subprocess.run(["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-keyout", key, "-out", certificate,
                        "-days", "2", "-subj", "/CN=localhost", "-addext", "subjectAltName=IP:127.0.0.1"],
                       check=True, capture_output=True)
        service = Service(self.shop, "--token-file", self.token_file, "--address", "0.0.0.0", "--certificate",
                          certificate, "--key", key)
        try:
            trusted = ssl.create_default_context(cafile=certificate)
            connection = http.client.HTTPSConnection("127.0.0.1", service.port, timeout=30, context=trusted)
            self.assertEqual(service.ask("/resolve", CUT, connection=connection)[0], 200)
            connection.close()
            with self.assertRaises((http.client.HTTPException, OSError)):  # in the clear
                service.ask("/resolve", CUT)
        finally:
            service.close()

    def test_a_token_is_made_for_its_owner_alone(self):
        made = os.path.join(self.folder.name, "made")
        service = Service(self.shop, "--token-file", made)
        try:
            self.assertEqual(os.stat(made).st_mode & 0o777, 0o600)
            token = pathlib.Path(made).read_text().strip()
            self.assertGreaterEqual(len(token), 32)
            self.assertNotIn(token, json.dumps(service.said))
            self.assertEqual(service.ask("/resolve", CUT, token=token)[0], 200)
        finally:
            service.close()
        pathlib.Path(made).write_text("short\n")
        self.assertEqual(command("serve", "--shop", self.shop, "--token-file", made).returncode, 2)

    def test_the_description_and_the_examples_hold(self):
        status, text, _ = self.ask("/openapi.json", token=None)
        self.assertEqual(status, 200)
        described = json.loads(text)
        self.assertEqual(text, (SOURCES / "data/serve/openapi.json").read_text())
        for name, way in described["paths"].items():
            for method, operation in way.items():
                query, body = dict(CUT), None
                if name == "/shortlist":
                    query, body = dict(HERE), json.dumps(operation["requestBody"]["content"]["application/json"]
                                                         ["example"])
                known = [p["name"] for p in operation.get("parameters", [])] or list(query)
                query = {k: v for k, v in query.items() if k in known}
                if name == "/chart":
                    query = {"machine": "Fettler 6", "operation": "drill"}
                if name == "/resolve/many":
                    body = json.dumps(operation["requestBody"]["content"]["application/json"]["example"])
                if method == "post" and body is None:
                    query, body = {}, json.dumps(query)
                answer, told, _ = self.ask(name, query, body=body, method=method.upper())
                self.assertEqual(answer, 200, name + " " + told)
                if name == "/openapi.json":
                    continue
                schema = operation["responses"]["200"]["content"]["application/json"]["schema"]["$ref"]
                import jsonschema
                whole = {"$ref": schema, "components": json.loads(
                    json.dumps(described["components"]).replace('"nullable": true', '"x": 1'))}
                if name != "/shortlist":  # whose cost may be null, which OpenAPI 3.0 says in a way of its own
                    jsonschema.validate(json.loads(told), whole)
        url = f"http://127.0.0.1:{self.service.port}"
        for example in ("conditions.py", "conditions.sh"):
            told = subprocess.run([SOURCES / "docs/serve" / example, url, self.token_file], capture_output=True,
                                  text=True, timeout=60)
            self.assertEqual(told.returncode, 0, told.stderr)
            self.assertIn("2910", told.stdout)


if __name__ == "__main__":
    unittest.main(argv=sys.argv[:1])
