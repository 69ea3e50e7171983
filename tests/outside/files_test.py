"""Files of cutters against libraries of another language: JSON against its schema (jsonschema), CSV (Python's csv),
XLSX both ways
(openpyxl), MTConnect against a schema (lxml), DXF (ezdxf), SVG (lxml). Driven through the command line.

usage: files_test.py PECORRA_CLI REPOSITORY"""
import csv
import json
import math
import os
import re
import subprocess
import sys
import tempfile
import unittest

import ezdxf
import jsonschema
import openpyxl
import pypdf
from ezdxf import bbox
from lxml import etree

CLI, ROOT = (os.path.abspath(a) for a in sys.argv[1:3])
FORMATS = {"json": "json", "csv": "csv", "xlsx": "xlsx", "mtconnect": "xml", "dxf": "dxf", "svg": "svg"}


def run(*arguments, code=0, **environment):
    done = subprocess.run([CLI, *arguments], capture_output=True, text=True, env={**os.environ, **environment})
    if done.returncode != code:
        raise AssertionError(f"{arguments}: {done.returncode}\n{done.stdout}\n{done.stderr}")
    return done


class Files(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = tempfile.TemporaryDirectory()
        cls.shop = cls.path("demo.pecorra")
        run("demo", cls.shop)
        cls.files = {}
        cls.libraries = cls.names()
        for i, library in enumerate(cls.libraries):
            for key, ending in FORMATS.items():
                cls.files[library, key] = cls.path(f"{i}.{ending}")
                run("export", "--shop", cls.shop, "--library", library, "--format", key, cls.files[library, key])

    @classmethod
    def tearDownClass(cls):
        cls.folder.cleanup()

    @classmethod
    def path(cls, name):
        return os.path.join(cls.folder.name, name)

    @classmethod
    def names(cls):
        import sqlite3

        bodies = sqlite3.connect(cls.shop).execute("SELECT body FROM object WHERE kind = 'library'").fetchall()
        return [json.loads(body)["name"] for body, in bodies]

    def cutters(self, library):
        with open(self.files[library, "json"], encoding="utf-8") as file:
            return json.load(file)["cutters"]

    def schema(self):
        with open(os.path.join(ROOT, "data/schemas/library.schema.json"), encoding="utf-8") as file:
            return json.load(file)

    def test_json_is_valid_against_the_shipped_schema(self):
        schema = self.schema()
        jsonschema.Draft202012Validator.check_schema(schema)
        self.assertEqual(run("schema").stdout, json.dumps(schema, indent=1, ensure_ascii=False) + "\n")
        validator = jsonschema.Draft202012Validator(schema)
        for library in self.libraries:
            with open(self.files[library, "json"], encoding="utf-8") as file:
                document = json.load(file)
            self.assertGreater(len(document["cutters"]), 5)
            self.assertEqual([e.message for e in validator.iter_errors(document)], [])

    def test_the_decimal_sign_of_the_desktop_changes_no_file(self):
        # A German desktop, as the C library makes it from its own description.
        locales = self.path("locales")
        os.mkdir(locales)
        subprocess.run(["localedef", "-i", "de_DE", "-f", "UTF-8", os.path.join(locales, "de_DE.UTF-8")], check=True)
        german = {"LC_ALL": "de_DE.UTF-8", "LOCPATH": locales}
        proof = subprocess.run(["locale", "decimal_point"], env={**os.environ, **german}, capture_output=True,
                               text=True)
        self.assertEqual(proof.stdout.strip(), ",")
        library = self.libraries[0]
        for key, ending in FORMATS.items():
            there = self.path("german." + ending)
            run("export", "--shop", self.shop, "--library", library, "--format", key, there, **german)
            if key == "xlsx":
                cells = [[[c.value for c in row] for row in openpyxl.load_workbook(file).active.iter_rows()]
                         for file in (there, self.files[library, key])]
                self.assertEqual(*cells)
                self.assertTrue(any(isinstance(c, float) for row in cells[0] for c in row))
            else:
                texts = []
                for file in (there, self.files[library, key]):
                    with open(file, "rb") as written:
                        texts.append(re.sub(rb'(creationTime|timestamp)="[^"]*"', b"", written.read()))
                self.assertEqual(*texts)

    def test_job_files_are_valid_against_their_schema(self):
        with open(os.path.join(ROOT, "data/schemas/job.schema.json"), encoding="utf-8") as file:
            schema = json.load(file)
        jsonschema.Draft202012Validator.check_schema(schema)
        self.assertEqual(run("schema", "--job").stdout, json.dumps(schema, indent=1, ensure_ascii=False) + "\n")
        validator = jsonschema.Draft202012Validator(schema)
        for name in ("Spindle rail", "Roller end cap", "Gear cover"):
            job = json.loads(run("job", "show", "--shop", self.shop, "--job", name).stdout)
            validator.validate(job)
            for path, value in ((("operations", 0, "kind"), "facing"), (("operations", 0, "depth_mm"), -1),
                                (("operations", 0, "own"), {"n": 1}), (("stok",), 1)):
                wrong = json.loads(json.dumps(job))
                place = wrong
                for step in path[:-1]:
                    place = place[step]
                place[path[-1]] = value
                self.assertFalse(validator.is_valid(wrong))

    def test_what_the_schema_refuses_the_reader_refuses(self):
        validator = jsonschema.Draft202012Validator(self.schema())
        with open(self.files[self.libraries[0], "json"], encoding="utf-8") as file:
            document = json.load(file)
        changes = {"kind": "spoon", "diameter_mm": "ten", "flutes": 2.5, "number": 0, "id": "none", "sharpness": 3,
                "flute_length_mm": -4, "through_coolant": "yes"}
        for key, value in changes.items():
            cutter = dict(document["cutters"][0], **{key: value})
            wrong = dict(document, cutters=[cutter] + document["cutters"][1:])
            self.assertFalse(validator.is_valid(wrong), key)
            name = self.path("wrong.json")
            with open(name, "w", encoding="utf-8") as file:
                json.dump(wrong, file)
            answer = json.loads(run("import", "--shop", self.shop, "--library", "Wrong", "--dry-run", name).stdout)
            self.assertEqual(len(answer["rejected"]), 1, key)
            self.assertEqual(answer["rejected"][0]["column"], key)

    def test_csv_read_by_python(self):
        for library in self.libraries:
            with open(self.files[library, "csv"], encoding="utf-8", newline="") as file:
                rows = list(csv.DictReader(file))
            cutters = self.cutters(library)
            self.assertEqual(len(rows), len(cutters))
            for row, cutter in zip(rows, cutters):
                for key, value in cutter.items():
                    if key in ("assemblies", "recipes", "outline", "shank_sections", "guesses", "accepted", "typed"):
                        continue
                    cell = row[key]
                    if isinstance(value, bool):
                        self.assertEqual(cell, "true" if value else "false")
                    elif isinstance(value, (int, float)):
                        self.assertEqual(float(cell), value, key)
                    else:
                        # A text that a spreadsheet would run stands behind an apostrophe.
                        self.assertEqual(cell[1:] if cell.startswith("'") else cell, value, key)

    def test_xlsx_read_by_openpyxl(self):
        for library in self.libraries:
            page = openpyxl.load_workbook(self.files[library, "xlsx"]).active
            rows = list(page.iter_rows())
            self.assertTrue(all(cell.data_type != "f" for row in rows for cell in row))
            heads = [cell.value for cell in rows[0]]
            cutters = self.cutters(library)
            self.assertEqual(len(rows) - 1, len(cutters))
            for row, cutter in zip(rows[1:], cutters):
                said = dict(zip(heads, (cell.value for cell in row)))
                self.assertEqual(said["Number"], cutter["number"])
                self.assertEqual(said["Name"], cutter["name"])
                self.assertEqual(said["id"], cutter["id"])
                if "diameter_mm" in cutter:
                    self.assertTrue(math.isclose(said["Diameter (mm)"], cutter["diameter_mm"], rel_tol=1e-14))

    def test_xlsx_made_by_openpyxl(self):
        for name, expected in (
            ("cabinet", {11: ("end_mill", 10, 4, "HS-1010"), 12: ("ball", 6, 2, "FB-06"), 13: ("end_mill", 12.7, 3,
                    "0012"), 14: ("drill", 8.5, 2, "=HYPERLINK")}),
            ("inches", {1: ("bull_nose", 12.7, 4, None), 2: ("reamer", 6.35, 6, None)}),
        ):
            run("import", "--shop", self.shop, "--library", name, os.path.join(ROOT, "tests/data/sheets",
                    name + ".xlsx"))
            run("export", "--shop", self.shop, "--library", name, "--format", "json", self.path("back.json"))
            with open(self.path("back.json"), encoding="utf-8") as file:
                cutters = {c["number"]: c for c in json.load(file)["cutters"]}
            self.assertEqual(set(cutters), set(expected))
            for number, (kind, diameter, flutes, code) in expected.items():
                c = cutters[number]
                self.assertEqual((c["kind"], c["flutes"], c.get("order_code")), (kind, flutes, code))
                self.assertTrue(math.isclose(c["diameter_mm"], diameter, rel_tol=1e-12))
        self.assertTrue(math.isclose(cutters[1]["corner_radius_mm"], 0.762, rel_tol=1e-12))

    def test_xlsx_through_openpyxl_and_back_changes_nothing(self):
        for library in self.libraries:
            book = openpyxl.load_workbook(self.files[library, "xlsx"])
            book.save(self.path("through.xlsx"))
            answer = json.loads(run("import", "--shop", self.shop, "--library", library, "--dry-run",
                    self.path("through.xlsx")).stdout)
            self.assertEqual((answer["new"], answer["changed"], answer["rejected"]), (0, 0, []))

    def test_mtconnect_is_valid(self):
        schema = etree.XMLSchema(etree.parse(os.path.join(ROOT, "tests/data/mtconnect/cutting_tool_assets.xsd")))
        space = "{urn:mtconnect.org:MTConnectAssets:1.4}"
        for library in self.libraries:
            document = etree.parse(self.files[library, "mtconnect"])
            schema.assertValid(document)
            by_id = {c["id"]: c for c in self.cutters(library)}
            assets = list(document.iter(space + "CuttingToolArchetype"))
            self.assertEqual({a.get("assetId") for a in assets}, set(by_id))
            for asset in assets:
                cutter = by_id[asset.get("assetId")]
                self.assertEqual(asset.findtext(space + "Description"), cutter["name"])
                for symbol, key in (("DC", "diameter_mm"), ("OAL", "overall_length_mm"), ("DMM",
                        "shank_diameter_mm"), ("APMX", "flute_length_mm"), ("RE", "corner_radius_mm")):
                    found = [m for m in asset.iter() if m.get("code") == symbol]
                    self.assertEqual([float(m.get("nominal")) for m in found], [cutter[key]] if key in cutter else [])

    def test_dxf_read_by_ezdxf(self):
        counted = 0
        for library in self.libraries:
            for cutter in self.cutters(library)[:12]:
                name = self.path("one.dxf")
                run("export", "--shop", self.shop, "--library", library, "--number", str(cutter["number"]),
                        "--format", "dxf", name)
                document = ezdxf.readfile(name)
                self.assertEqual(len(document.audit().errors), 0)
                self.assertEqual(document.units, ezdxf.units.MM)
                outline = [e for e in document.modelspace() if e.dxftype() in ("LINE", "ARC", "LWPOLYLINE",
                        "POLYLINE", "SPLINE")]
                if not outline:
                    continue  # a probe has none
                box = bbox.extents(outline)
                self.assertGreaterEqual(box.extmin.x, -1e-9, cutter["name"])  # half of it, from the axis
                widest = max(cutter.get(key, 0) for key in ("diameter_mm", "shank_diameter_mm", "neck_diameter_mm",
                        "thread_diameter_mm", "head_diameter_mm", "body_diameter_mm"))
                if cutter["kind"] in ("end_mill", "ball", "bull_nose", "drill", "reamer"):
                    self.assertTrue(math.isclose(2 * box.extmax.x, widest, rel_tol=1e-6), cutter["name"])
                    self.assertTrue(math.isclose(box.size.y, cutter["overall_length_mm"], rel_tol=1e-6), cutter["name"])
                    counted += 1
        self.assertGreater(counted, 10)

    def test_dialects_are_valid_by_their_schema(self):
        schema = json.loads(run("schema", "--dialect").stdout)
        jsonschema.Draft202012Validator.check_schema(schema)
        with open(os.path.join(ROOT, "data/schemas/dialect.schema.json"), encoding="utf-8") as file:
            self.assertEqual(json.load(file), schema)
        folder = os.path.join(ROOT, "data/dialects")
        for name in os.listdir(folder):
            with open(os.path.join(folder, name), encoding="utf-8") as file:
                dialect = json.load(file)
            jsonschema.validate(dialect, schema)
            shown = json.loads(run("dialect", "--shop", self.shop, "--show", dialect["key"]).stdout)
            jsonschema.validate(shown, schema)
            # Every text that is given comes back.
            self.assertEqual({k: v for k, v in shown.items() if k in dialect}, {k: dialect[k] for k in shown if
                    k in dialect})
            wrong = dict(dialect, tool_changes="M6")
            with self.assertRaises(jsonschema.ValidationError):
                jsonschema.validate(wrong, schema)

    def test_setup_sheets_say_what_the_job_says(self):
        for job in ("Roller end cap", "Spindle rail", "Two holes", "Gear cover"):
            name = self.path("sheet")
            for option in ([], ["--portrait"]):
                run("sheet", "--shop", self.shop, "--job", job, "-o", name + ".pdf", *option)
                reader = pypdf.PdfReader(name + ".pdf")
                width, height = (float(reader.pages[0].mediabox[i]) for i in (2, 3))
                self.assertEqual(width > height, not option)
                self.assertTrue(math.isclose(max(width, height), 297 / 25.4 * 72, abs_tol=1))
            text = re.sub(r"\s+", " ", " ".join(page.extract_text() for page in reader.pages))
            run("sheet", "--shop", self.shop, "--job", job, "-o", name + ".html")
            root = etree.parse(name + ".html", etree.HTMLParser()).getroot()
            html = re.sub(r"\s+", " ", " ".join(root.itertext()))
            paths = json.loads(run("toolpath", "--shop", self.shop, "--job", job).stdout)["operations"]
            program = json.loads(run("program", "--shop", self.shop, "--job", job, "-o", name + ".nc").stdout)
            for said in (text, html):
                self.assertIn(job, said)
                for path, written in zip(paths, program["operations"]):
                    self.assertIn(path["name"], said)
                    self.assertIn("T%d" % written["t"], said)
                    # In the cutter's row: S and F as the program has them.
                    moves = [m for m in path["moves"] if m["kind"] in ("cut", "cycle", "ramp") and m["feed"] > 0]
                    ran = {(round(m["n_rpm"]), round(m["feed"])) for m in moves}
                    rows = [(int(s), round(float(f))) for s, *both in
                            re.findall(r"S (\d+) +F ([\d.]+)(?:–([\d.]+))?", said) for f in both if f]
                    self.assertTrue(ran & set(rows), (path["name"], sorted(ran), rows))
                for load in program["load"]:
                    self.assertIn("Load into pocket %d" % load["t"], said)
            # One file by itself.
            for element in root.iter():
                self.assertFalse({"src", "href", "onload", "srcset"} & set(element.attrib))
                self.assertNotIn(element.tag, ("script", "link", "iframe", "object"))

    def test_svg_is_well_formed(self):
        for library in self.libraries:
            root = etree.parse(self.files[library, "svg"]).getroot()
            self.assertEqual(etree.QName(root).localname, "svg")
            # Nothing that runs or is fetched.
            for element in root.iter():
                self.assertNotIn(etree.QName(element).localname, ("script", "image", "foreignObject"))


if __name__ == "__main__":
    unittest.main(argv=[sys.argv[0]])
