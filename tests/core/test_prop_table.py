"""A table of props: as spreadsheets write it, with every fault named by row, column and cure, and nothing run as a formula."""

from __future__ import annotations

import csv
import io
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.prop_tables import FAULTS, faulty_table
from tideflat.core.errors import FieldError
from tideflat.core.formats.prop_columns import COLUMNS, guessed_columns
from tideflat.core.formats.prop_marks import doubts
from tideflat.core.formats.prop_table import PropRecord, read_table, records
from tideflat.core.formats.prop_table_out import write_table
from tideflat.core.model import Colour, Prop, Skin
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.shapes.outline import Outline
from tideflat.core.shapes.scatter import Scatter
from tideflat.core.shapes.sphere import Sphere
from tideflat.web.stores.starter import starter_prop
from tideflat.web.stores.starter_props import PROPS


def taken(text: str | bytes):
    table = read_table(text if isinstance(text, bytes) else text.encode())
    return records(table, guessed_columns(table.headings))


def only(text: str) -> PropRecord:
    found = taken(text)
    assert not found.faults, found.faults
    ((_, record),) = found.good
    return record


def test_a_thousand_rows_name_their_thirty_seven_faulty_ones_and_keep_the_others_whole():
    text, wrong = faulty_table(1000)
    found = taken(text)
    assert len(wrong) == 37 and len(found.good) == 963
    assert found.faulty_rows == tuple(sorted(wrong))
    for fault in found.faults:
        assert wrong[fault.row] == fault.column, fault
        assert fault.cure and not fault.cure.startswith("must"), fault
    assert len(FAULTS) >= 12  # of a dozen sorts and more


@pytest.mark.parametrize(
    ("text", "size"),
    [
        ("name,width,depth,height\nBoard,320,220,18\n", (320, 220, 18)),
        ("\ufeffName;Width (cm);Depth (cm);Height (mm)\nBoard;32;22,5;18\n", (320, 225, 18)),
        ('name,w,d,h\n"Board, ""old""",12 5/8 in,8",0.5 in\n', (320.675, 203.2, 12.7)),
        ("prop\twidth in inches\tdepth\theight\nBoard\t12\t22 cm\t1,8 cm\n", (304.8, 220, 18)),
        ("name,width,depth,height\r\nBoard,32cm,220mm,18\r\n\r\n", (320, 220, 18)),
    ],
)
def test_commas_semicolons_tabs_marks_quotes_inches_and_decimal_commas_are_understood(text, size):
    shape = only(text).prop.shape
    assert isinstance(shape, Box) and (shape.width, shape.depth, shape.height) == pytest.approx(size)


def test_an_old_spreadsheets_letters_are_read():
    record = taken("name;diameter;height\nCr\u00e8me pot;8 cm;60\n".encode("cp1252")).good[0][1]
    assert record.prop.name == "Cr\u00e8me pot" and record.prop.shape == Cylinder(80, 60)


def test_the_shape_follows_from_the_sizes_when_it_is_not_named():
    assert only("name,diameter\nOrange,74\n").prop.shape == Sphere(74)
    assert only("name,diameter,height\nJar,76,95\n").prop.shape == Cylinder(76, 95)
    assert only("name,shape,diameter,base diameter,height\nPlate,bowl,270,176,24\n").prop.shape == Bowl(270, 176, 24)


def test_colours_days_tags_and_cautions_are_read_as_people_write_them():
    record = only(
        "name,diameter,colour,tags,return date,caution,qty,where,owner\n"
        'Glass,74,"clear 70%; #c4621a 30%","water, table; glass",1.12.2026,glass,6,Box 4,"the bar, lent"\n'
    )
    assert [c.share for c in record.prop.colours] == [0.7, 0.3] and record.prop.colours[1].hex == "#c4621a"
    assert record.prop.tags == ("water", "table", "glass") and record.return_on == date(2026, 12, 1)
    assert (record.count, record.place, record.lender, record.cautions) == (6, "Box 4", "the bar, lent", ("glass",))


@pytest.mark.parametrize("name", ["=1+1", "+1", "-1", "@sum", "\tx", "'quoted", "'=x"])
def test_no_cell_is_run_as_a_formula_and_all_come_back(name):
    prop = Prop("p", name.strip() or "x", Sphere(10), (Colour("#808080", 1),))
    text = write_table([PropRecord(prop, notes=name.strip(), place=name.strip())])
    for cell in next(csv.reader(io.StringIO(text.splitlines()[1]))):
        assert not cell.startswith(("=", "+", "-", "@", "\t", "\r"))
    assert only(text).prop.name == prop.name and only(text).place == name.strip()


def test_every_starter_prop_goes_out_and_comes_in_unchanged():
    kept = [
        PropRecord(starter_prop(row["key"]), row["usual_role"], row["count"], row["place"], cautions=tuple(row["cautions"]))
        for row in PROPS
    ]
    found = taken("\ufeff" + write_table(kept))
    assert not found.faults and [record for _, record in found.good] == kept
    assert tuple(next(csv.reader(io.StringIO(write_table(kept))))) == COLUMNS


TEXT = st.text(st.characters(codec="utf-8", exclude_categories=("C",), exclude_characters="<>"), max_size=30).map(str.strip)
SHAPES = st.sampled_from([Box(1.5, 2, 3), Outline(((-5, 0), (5, 0), (0, 7.25)), 3), Scatter(90, 40, 6, 12, 3), Bowl(90, 40, 30)])


@given(st.builds(PropRecord, st.builds(Prop, st.just("a-key"), TEXT.filter(bool), SHAPES, st.just((Colour("#112233", 0.25), Colour("#445566", 0.75))), skins=st.just((Skin("abc", "top"),))), count=st.integers(0, 9999), place=TEXT, lender=TEXT, notes=TEXT, return_on=st.none() | st.dates(date(1900, 1, 1), date(2999, 1, 1))))  # fmt: skip
def test_whatever_is_kept_of_a_prop_survives_the_table(record):
    assert only(write_table([record])) == record


@pytest.mark.parametrize(
    ("raw", "says"),
    [(b"", "row of headings"), (b"name,diameter\n", "at least one row"), (b"PK\x03\x04\x00\x00", "must be a CSV text"), (b"a" * 3_100_000, "at most 3 MB")],
)  # fmt: skip
def test_what_is_no_table_is_refused_in_one_line(raw, says):
    with pytest.raises(FieldError, match=says):
        read_table(raw)


def test_columns_are_counted_before_rows_are_read():
    import time

    from tideflat.core.formats.prop_table import MOST_COLUMNS

    def table(columns: int) -> bytes:
        return (",".join(["name", "shape", "diameter"] + [f"c{k}" for k in range(columns - 3)]) + "\n" + "ball,sphere,40\n").encode()

    assert len(read_table(table(MOST_COLUMNS)).headings) == MOST_COLUMNS
    start = time.process_time()
    for columns in (MOST_COLUMNS + 1, 50_000):
        with pytest.raises(FieldError, match=f"at most {MOST_COLUMNS} columns"):
            read_table(table(columns))
    assert time.process_time() - start < 2


def test_rows_are_counted_too():
    from tideflat.core.formats.prop_table import MOST_ROWS

    def table(rows: int) -> bytes:
        return b"name,shape,diameter\n" + b"ball,sphere,40\n" * rows

    assert len(read_table(table(MOST_ROWS)).rows) == MOST_ROWS
    with pytest.raises(FieldError, match=f"at most {MOST_ROWS} rows"):
        read_table(table(MOST_ROWS + 1))


def test_a_skin_cell_that_is_none_is_a_fault_of_its_row():
    for cell in ("top", "top:a:5", "top:a:5:6:7", "tile:a:x:y", "top:a.b", ":", ";"):
        text = f"name,shape,diameter,skins\nball,sphere,40,{cell}\n"
        table = read_table(text.encode())
        read = records(table, guessed_columns(table.headings))
        assert not read.good and read.faults[0].column == "skins" and read.faults[0].row == 2


def test_a_row_with_a_cell_too_many_is_told_once_and_not_for_what_has_shifted():
    found = taken("name;diameter;colours;count\nMug;90;white 80%; #3f6a9a 20%;4\n")
    assert [(f.row, f.column) for f in found.faults] == [(2, "count")] and "quotes" in found.faults[0].cure


_BOARD = "name,shape,width,depth,height\nboard,box,{},220,18\n"


@pytest.mark.parametrize(
    ("rest", "width"),
    [
        ('rail,box,"1,200.5",220,18\n', 1200),  # the point is their decimal mark
        ('rail,box,"12,5",220,18\n', 1.2),  # the comma is
        ('rail,box,"1,200,300",220,18\n', None),  # too long to be a thing, but its commas part thousands
        ("rail,box,0.75,220,18\n", 1200),
    ],
)
def test_a_doubtful_length_is_settled_by_its_column(rest, width):
    found = taken(_BOARD.format('"1,200"') + rest)
    sizes = {r.prop.name: r.prop.shape.width for _, r in found.good}
    assert sizes.get("board") == (width or 1200)


@pytest.mark.parametrize("rest", ["", "rail,box,300,220,18\n", 'rail,box,"12,5",220,18\nlath,box,12.5,220,18\n'])
def test_a_doubtful_length_that_nothing_settles_waits_for_an_answer(rest):
    table = read_table((_BOARD.format('"1,200"') + rest).encode())
    columns = guessed_columns(table.headings)
    (fault,) = records(table, columns).faults
    assert (fault.row, fault.column) == (2, "width") and "say which is meant" in fault.cure
    (doubt,) = doubts(table.headings, table.rows, columns)
    assert (doubt.as_thousands_mm, doubt.as_decimal_mm, doubt.settled) == (1200, 1.2, None)
    for marks, width in (("thousands", 1200), ("decimal", 1.2)):
        assert records(table, columns, {"width": marks}).good[0][1].prop.shape.width == width


def test_a_column_of_inches_has_no_doubt():
    assert only('name,shape,width (in),depth,height\nboard,box,"1,200",220,18\n').prop.shape.width == pytest.approx(30.48)
