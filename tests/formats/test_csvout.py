"""Tables out: plain to read, and with nothing in them that a spreadsheet would run."""

import csv
import io
from datetime import UTC, datetime

import pytest

from imbuto.formats.csv_tables.csvout import file_name, table


@pytest.mark.parametrize("cell", ["=1+1", "+1", "-cmd", "@sum", "\tx", "\rx", " =1+1", "\n\t@a", '=HYPERLINK("x")'])
def test_a_cell_that_would_run_is_only_text(cell):
    rows = list(csv.reader(io.StringIO(table(["a"], [[cell]]), newline="")))
    assert rows[1] == [f"'{cell}"]


def test_numbers_moments_and_gaps_are_as_they_are():
    at = datetime(2026, 11, 13, 22, 0, tzinfo=UTC)
    rows = list(csv.reader(io.StringIO(table(["a,b", "c"], [[-1.5, at], [None, True], ["x, y", 3]]))))
    assert rows == [["a,b", "c"], ["-1.5", "2026-11-13T22:00:00+00:00"], ["", "yes"], ["x, y", "3"]]


def test_a_title_becomes_a_file_name():
    assert file_name("Lift pump W / leg A") == "lift-pump-w-leg-a"
    assert file_name("???") == "table"
