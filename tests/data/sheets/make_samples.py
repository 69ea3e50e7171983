"""Writes the workbooks beside it with openpyxl, as other people's spreadsheets look: headings of the trade, units, dates, empty lines,
text that looks like a formula. The expected reading stands in expected.json."""
import datetime
import os

import openpyxl
from openpyxl.styles import Font

here = os.path.dirname(os.path.abspath(__file__))

book = openpyxl.Workbook()
book.active.title = "About"
page = book.create_sheet("Cabinet")
page.append(["Tool list of the north hall", None, None, None, None, None, None, datetime.date(2026, 11, 3)])
page.append([])
page.append(["Tool no", "Description", "Type", "Dia", "Flutes", "Flute length", "OAL", "Manufacturer", "Part number", "Qty"])
page.append([None, None, None, "mm", None, "mm", "mm", None, None, None])
page.append([11, "End mill Ø10", "End mill", 10, 4, 22, 72, "Heddlemoor", "HS-1010", 3])
page.append([12, "Ball 6", "Ball nose", 6.0, 2, 13.5, 57, "Ferrow", "FB-06", 1])
page.append([13, "Half inch", "End mill", '1/2"', 3, '1"', 76.2, "Ferrow", "0012", 0])
page.append([])
page.append([14, None, "Drill", 8.5, 2, 79, 117, "Oxbarrow", "=HYPERLINK", None])
page["I9"].data_type = "s"  # a text, though it begins as a formula does
for cell in page[3]:
    cell.font = Font(bold=True)
book.save(os.path.join(here, "cabinet.xlsx"))

inches = openpyxl.Workbook()
page = inches.active
page.append(["No.", "Kind", "Diameter (in)", "Corner radius (in)", "No. of teeth"])
page.append([1, "Bull nose", 0.5, 0.03, 4])
page.append([2, "Reamer", 0.25, None, 6])
inches.save(os.path.join(here, "inches.xlsx"))
