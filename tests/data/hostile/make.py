"""Makes files as nobody should send them, in the folder given: deep, long, wide, packed tight, planted, contradictory.
hostile_test.py has them read with a limit of memory and time."""
import json
import os
import sqlite3
import subprocess
import sys
import uuid
import zipfile
import zlib


def xlsx(path, sheet, strings=None):
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("xl/workbook.xml", '<workbook xmlns:r="r"><sheets><sheet name="a" r:id="r1"/></sheets></workbook>')
        z.writestr("xl/_rels/workbook.xml.rels",
                   '<Relationships><Relationship Id="r1" Target="worksheets/sheet1.xml"/></Relationships>')
        if strings is not None:
            z.writestr("xl/sharedStrings.xml", strings)
        z.writestr("xl/worksheets/sheet1.xml", f"<worksheet><sheetData>{sheet}</sheetData></worksheet>")


def dxf(*entities, blocks=""):
    return f"0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n0\nSECTION\n2\nENTITIES\n{''.join(entities)}0\nENDSEC\n0\nEOF\n"


def polyline(points):
    return f"0\nLWPOLYLINE\n90\n{len(points)}\n" + "".join(f"10\n{x}\n20\n{y}\n" for x, y in points)


def pdf(objects):
    out, places = b"%PDF-1.5\n", []
    for i, text in enumerate(objects):
        places.append(len(out))
        out += b"%d 0 obj\n" % (i + 1) + text + b"\nendobj\n"
    start = len(out)
    out += b"xref\n0 %d\n0000000000 65535 f \n" % (len(objects) + 1)
    out += b"".join(b"%010d 00000 n \n" % p for p in places)
    return out + b"trailer\n<< /Root 1 0 R /Size %d >>\nstartxref\n%d\n%%%%EOF\n" % (len(objects) + 1, start)


def packed(text, times=1):
    for _ in range(times):
        text = zlib.compress(text, 9)
    return text


def small_files(folder):
    def put(name, content):
        with open(os.path.join(folder, name), "wb") as file:
            file.write(content.encode() if isinstance(content, str) else content)

    cell = '<row r="1"><c r="A1" t="inlineStr">{}</c></row>'
    xlsx(os.path.join(folder, "deep.xlsx"), cell.format("<is>" * 29000 + "</is>" * 29000))
    xlsx(os.path.join(folder, "last_column.xlsx"),
         "".join(f'<row r="{r}"><c r="XFD{r}"><v>1</v></c></row>' for r in range(1, 20001)))
    xlsx(os.path.join(folder, "past_last_column.xlsx"), '<row r="1"><c r="XFE1"><v>1</v></c></row>')
    xlsx(os.path.join(folder, "past_last_row.xlsx"), '<row r="1100000"><c><v>1</v></c></row>')
    xlsx(os.path.join(folder, "row_zero.xlsx"), '<row r="0"><c><v>1</v></c></row>')
    xlsx(os.path.join(folder, "long_string_often.xlsx"),
         "".join(f'<row r="{r}"><c t="s"><v>0</v></c></row>' for r in range(1, 50001)),
         "<sst><si><t>" + "x" * 100000 + "</t></si></sst>")

    inside = '<path d="M0 0L1 1"/>'
    put("deep.svg", "<svg>" + "<g>" * 50000 + inside + "</g>" * 50000 + "</svg>")
    put("deep_behind_attribute.svg", "<svg>" + '<g a="</g>">' * 50000 + inside + "</g>" * 50000 + "</svg>")
    put("deep_behind_cdata.svg", "<svg>" + "<g><![CDATA[</g>]]>" * 50000 + inside + "</g>" * 50000 + "</svg>")
    put("deep_underscore.svg", "<svg>" + "<_g>" * 50000 + inside + "</_g>" * 50000 + "</svg>")
    put("many_curves.svg", '<svg width="1e6mm" viewBox="0 0 1 1"><path d="M0 0' + "C1 9 9 1 5 5" * 100000 + '"/></svg>')

    block = "0\nBLOCK\n2\nB\n10\n0\n20\n0\n0\nENDBLK\n"
    array = "0\nINSERT\n2\nB\n70\n1000\n71\n1000\n44\n1\n45\n1\n"
    put("empty_arrays.dxf", dxf(array * 3000, polyline([(0, 0), (1, 1)]), blocks=block))
    n, degree = 20000, 10
    knots = [0] * degree + list(range(n - degree + 1)) + [n - degree] * degree
    put("long_spline.dxf", dxf(f"0\nSPLINE\n71\n{degree}\n" + "".join(f"40\n{k}\n" for k in knots) +
                               "".join(f"10\n{i % 977 * 100}\n20\n{i % 1009 * 100}\n" for i in range(n))))
    put("long_line.dxf", dxf(polyline([(i % 223, i // 223 + (i % 2) * 0.4) for i in range(50000)])))

    names = [f"I{i}" for i in range(30000)]
    put("many_inserts.json", json.dumps({
        "format": "pecorra-library", "cutters": [{"kind": "face_mill", "insert": n} for n in names],
        "inserts": [{"id": str(uuid.UUID(int=i + 1)), "name": n} for i, n in enumerate(names)]}))
    for i, version in enumerate(["18446744073709551615", "9223372036854775808", "2", "1e300", '"1"', "-1e999"]):
        put(f"version_{i}.json", '{"format_version": %s, "cutters": []}' % version)
    put("deep.json", '{"cutters": ' + "[" * 100000 + "]" * 100000 + "}")
    put("many_values.json", '{"cutters": [' + "1," * 12000000 + "1]}")
    put("nameless.csv", "Type,Diameter\n" + "End mill,10\n" * 20000)
    put("namesakes.csv", "Type,Name,Diameter\n" + "".join(f"End mill,End mill,{i % 977 + 1}\n" for i in range(20000)))
    put("faulty.csv", "Type,Diameter\n" + "Sharpener,ten\n" * 200000)
    put("line_ends.csv", "Type,Diameter\n" + "\n" * 40000000)
    put("commas.csv", "Type,Diameter\n" + "," * 40000000)

    bomb = packed(b"\0" * (1 << 30), 1)
    stream = b"<< /Type /ObjStm /N 1 /First 4 /Filter /FlateDecode /Length %d >>\nstream\n%s\nendstream"
    put("bomb.pdf", pdf([b"<< /Type /Catalog /AcroForm 3 0 R >>", b"<< >>", stream % (len(bomb), bomb)]))
    twice = packed(packed(b"\0" * (1 << 30), 1), 1)
    put("bomb_twice.pdf", pdf([b"<< /Type /Catalog /AcroForm 3 0 R >>", b"<< >>", stream % (len(twice), twice)]))
    fields = b" ".join(b"<< /T (L%dC499) /V (x) >>" % i for i in range(99999))
    put("wide_fields.pdf", pdf([b"<< /Type /Catalog /AcroForm << /Fields [" + fields + b"] >> >>"]))

    put("unknown_keys.request", json.dumps({f"key{i}": i for i in range(55000)}))
    put("huge_number.request", '{"cutter": {"kind": "end_mill", "diameter_mm": 1e300}, "cut": {"n_rpm": 1, "fz_mm": 1}}')


def shops(folder, cli):
    """Shops with one thing wrong in each."""
    def shop(name, *statements, edit=None):
        path = os.path.join(folder, name + ".pecorra")
        subprocess.run([cli, "demo", path], check=True)
        with sqlite3.connect(path) as c:
            for s in statements:
                c.execute(s)
            if edit:
                kind, change = edit
                for id, body in c.execute("SELECT id, body FROM object WHERE kind = ?", (kind,)).fetchall():
                    document = json.loads(body)
                    changed = change(document)
                    text = changed if isinstance(changed, (str, bytes)) else json.dumps(document)
                    c.execute("UPDATE object SET body = CAST(? AS TEXT) WHERE id = ?", (text, id))
        c.close()

    shop("trigger", "CREATE TRIGGER t AFTER INSERT ON change BEGIN DELETE FROM object WHERE kind = 'job'; END")
    shop("view", "ALTER TABLE object RENAME TO hidden", "CREATE VIEW object AS WITH RECURSIVE n(id) AS (SELECT 'x' UNION"
         " ALL SELECT id || 'x' FROM n) SELECT id, 'cutter' kind, 1 revision, '{}' body, 0 seq FROM n")
    shop("version", "PRAGMA user_version = -5")
    shop("row_number", "UPDATE object SET rowid = 9223372036854775807 WHERE rowid = (SELECT max(rowid) FROM object)")
    for kind in ["cutter", "table", "job", "holder", "machine", "material", "settings", "library", "assembly", "recipe",
                 "setup", "part", "feature", "operation", "trail"]:
        shop(f"types_{kind}", edit=(kind, lambda d: d.update({k: {"a": [v]} for k, v in d.items() if k != "id"})))
        shop(f"lists_{kind}", edit=(kind, lambda d: d.update({k: [None, 1e300, "x", [], {}] for k in d if k != "id"})))
        shop(f"dangling_{kind}", edit=(kind, lambda d: d.update(
            {k: str(uuid.uuid4()) for k, v in d.items() if isinstance(v, str) and len(v) == 36 and k != "id"})))
        shop(f"itself_{kind}", edit=(kind, lambda d: d.update(
            {k: d["id"] for k, v in d.items() if isinstance(v, str) and len(v) == 36})))
        shop(f"letters_{kind}", edit=(kind, lambda d: json.dumps(d).encode().replace(b'"name": "', b'"name": "\xff\xfe', 1)))
    shop("high_station", edit=("holder", lambda d: d.update({"stations": [[50, 40], [60, 50]]})))
    for i, holder in enumerate([[], [[0, 0]], [[0, 1e300], [1e300, 1]], [[-5, 10], [5, 10]]]):
        shop(f"stations_{i}", edit=("holder", lambda d: d.update({"stations": holder})))
    shop("low_clearance", edit=("setup", lambda d: d.update({"clearance_mm": -500})))
    shop("far_stock", edit=("setup", lambda d: d.update({"x_low_mm": -1e300, "x_high_mm": 1e300})))
    shop("backwards", edit=("operation", lambda o: o["taken"].update({"n_rpm": -5})))
    for i, ap in enumerate([0, 1e-5, -1, 1e300]):
        shop(f"shallow_{i}", edit=("operation", lambda o: o["taken"].update({"ap_mm": ap})))
        shop(f"narrow_{i}", edit=("operation", lambda o: o["taken"].update({"ae_mm": ap})))
    shop("small_pecks", edit=("operation", lambda o: o.update({"peck_mm": 1e-6})))
    shop("deep_holes", edit=("operation", lambda o: o.update({"depth_mm": 1e300})))
    shop("many_tabs", edit=("operation", lambda o: o.update({"tab_count": 1e9, "tab_width_mm": 1e-9, "tab_height_mm": 1})))
    shop("one_rank", edit=("operation", lambda o: o.update({"rank": 1e308})))

    # The operations take the lines as they are now.
    def points(vertices):
        def change(d):
            for c in d["lines"]:
                c.pop("circle", None)
                c.update({"closed": True, "vertices": vertices})
        return change

    for i, vertices in enumerate([[[1, 1], [1, 1]], [[0, 0], [1e300, 0], [0, 1e300]], [[0, 0], [0, 1e-9], [1e-9, 0]], [],
                                  [[0, 0, 1e300], [10, 0, -1e300]]]):
        shop(f"points_{i}", "UPDATE object SET body = json_set(body, '$.features', json('[[\"OUTLINE/1\"]]')) WHERE kind ="
             " 'operation'", edit=("part", points(vertices)))


if __name__ == "__main__":
    os.makedirs(sys.argv[1], exist_ok=True)
    small_files(sys.argv[1])
    shops(sys.argv[1], sys.argv[2])
