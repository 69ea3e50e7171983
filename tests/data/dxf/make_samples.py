#!/usr/bin/env python3
# Writes the sample drawings with a general DXF library (ezdxf) and, beside each, what must be found in it, measured by
# that library or by plain geometry. The files are committed; this script is only for making them again.
#   expectations: "circle x y diameter", "contour closed|open length area"  (mm, area 0 for open ones)
import math
import sys
from pathlib import Path

import ezdxf
from ezdxf import path as ezpath

here = Path(__file__).parent


def measure(points, closed):
    pts = [(p.x, p.y) for p in points]
    if closed and pts[0] != pts[-1]:
        pts.append(pts[0])
    length = sum(math.dist(a, b) for a, b in zip(pts, pts[1:]))
    area = abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(pts, pts[1:]))) / 2 if closed else 0
    return length, area


def write(name, doc, lines):
    doc.saveas(here / f"{name}.dxf")
    (here / f"{name}.expected").write_text("\n".join(lines) + "\n")


def contour(entities, closed, scale=1.0):
    length = area = 0.0
    flat = []
    for e in entities:
        flat += list(ezpath.make_path(e).flattening(1e-5, segments=64))
    length, area = measure(flat, closed)
    return f"contour {'closed' if closed else 'open'} {length * scale:.6f} {area * scale * scale:.6f}"


# 1. A rounded plate of one polyline with bulges, and holes.
doc = ezdxf.new("R2010", units=4)
msp = doc.modelspace()
b = math.tan(math.pi / 8)
pl = msp.add_lwpolyline([(8, 0, 0), (92, 0, b), (100, 8, 0), (100, 52, b), (92, 60, 0), (8, 60, b), (0, 52, 0), (0, 8, b)], format="xyb", close=True)
msp.add_circle((20, 20), 4.25)
msp.add_circle((80, 40), 4.25)
write("plate", doc, [contour([pl], True), "circle 20 20 8.5", "circle 80 40 8.5"])

# 2. Loose lines and arcs in any order and direction that meet at their ends; R12.
doc = ezdxf.new("R12")
msp = doc.modelspace()
parts = [msp.add_arc((50, 10), 10, 270, 90), msp.add_line((50, 20), (0, 20)), msp.add_line((50, 0), (0, 0)), msp.add_arc((0, 10), 10, 90, 270)]
write("loose", doc, [f"contour closed {2 * 50 + 2 * math.pi * 10:.6f} {50 * 20 + math.pi * 100:.6f}"])

# 3. In inches, with a block that is turned and scaled.
doc = ezdxf.new("R2000", units=1)
msp = doc.modelspace()
block = doc.blocks.new("ear")
block.add_lwpolyline([(0, 0), (1, 0), (1, 1), (0, 1)], close=True)
block.add_circle((0.5, 0.5), 0.125)
msp.add_blockref("ear", (2, 3), dxfattribs={"xscale": 2, "yscale": 2, "rotation": 90})
cx, cy = 2 - 2 * 0.5, 3 + 2 * 0.5
write("inches", doc, [f"contour closed {8 * 25.4:.6f} {4 * 25.4 ** 2:.6f}", f"circle {cx * 25.4:.6f} {cy * 25.4:.6f} {0.5 * 25.4:.6f}"])

# 4. Ellipse and spline.
doc = ezdxf.new("R2010", units=4)
msp = doc.modelspace()
msp.add_ellipse((0, 0), major_axis=(30, 0), ratio=0.5)
spline = msp.add_spline()
spline.control_points = [(100, 0), (120, 40), (160, 40), (180, 0)]
spline.dxf.degree = 3
spline.knots = [0, 0, 0, 0, 1, 1, 1, 1]
steps = 200000
perimeter = sum(math.hypot(30 * math.sin(t), 15 * math.cos(t)) for t in (2 * math.pi * (k + 0.5) / steps for k in range(steps))) * 2 * math.pi / steps
write("curves", doc, [f"contour closed {perimeter:.6f} {math.pi * 30 * 15:.6f}", contour([spline], False)])

# 5. An old polyline, an open line, and text that is no outline.
doc = ezdxf.new("R12")
msp = doc.modelspace()
pl = msp.add_polyline2d([(0, 0), (40, 0), (40, 30), (0, 30)], close=True)
line = msp.add_line((60, 0), (60, 25))
msp.add_text("NOT AN OUTLINE")
write("old", doc, ["contour closed 140 1200", "contour open 25 0"])

# 6. Nothing usable.
doc = ezdxf.new("R2010")
msp = doc.modelspace()
msp.add_text("ONLY WORDS")
msp.add_mtext("AND MORE WORDS")
msp.add_point((3, 4))
doc.saveas(here / "words_only.dxf")

# 7. Far from zero: coordinates must keep their last digits.
doc = ezdxf.new("R2010", units=4)
msp = doc.modelspace()
msp.add_lwpolyline([(100000.001, 0), (100010.001, 0), (100010.001, 10), (100000.001, 10)], close=True)
msp.add_circle((100005.0005, 5.0005), 1.00005)
write("far", doc, ["contour closed 40 100", "circle 100005.0005 5.0005 2.0001"])
