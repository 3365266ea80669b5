"""A trait that a sheet names and denies is never taken for one that the thing has."""

from __future__ import annotations

from itertools import product

import pytest

from imbuto.core.measuring.data_sheet import read_sheet

# What names a trait, by the field it fills and the kind of sheet.
TRAITS = (
    ("switched_neutral", "transfer", ("Switched neutral", "switched neutral")),
    ("automatic", "transfer", ("Automatic", "automatic transfer", "automatic switching")),
    ("portable", "panels", ("Foldable", "Portable", "folding", "Suitcase")),
    ("start", "generators", ("Auto start", "Electric start and remote", "auto-start")),
)
YES = (
    "{0}: yes",
    "{0} | Yes",
    "{0}\tyes",
    "{0}: ✓",
    "{0} (included)",
    "With {0}",
    "{0}",
    "Has {0} and a cover",
    "{0}: standard",
)
NO = (
    "{0}: no",
    "{0}: No",
    "{0} | no",
    "{0}\tno",
    "{0}: none",
    "{0}: false",
    "{0}: not available",
    "{0} (no)",
    "{0} = no",
    "{0}: ✗",
    "No {0}",
    "no {0}",
    "Not {0}",
    "Without {0}",
    "without a {0}",
    "Non-{0}",
    "Rigid frame, not {0}",
    "It is not {0}",
    "It isn't {0}",
    "Doesn't have {0}",
    "{0} is not included",
    "{0} not supported",
    "{0}: not supported",
    "Lacks {0}",
    "Never {0}",
)
BLANK = ("{0}: –", "{0}: -", "{0}: n/a", "{0} | N/A", "{0}: ?")
AROUND = (
    "{0}",
    "Rated 20 A\n{0}\nWeight 12 kg",
    "Model: Test one\n\n{0}; Warranty 5 years",
    "• {0} • Warranty 2 years",
)


def value(text: str, kind: str, field: str):
    found = {f.field: f for f in read_sheet(text, kind).found}
    one = found.get(field)
    if one is None or (one.ask and "Which is right" in one.ask):
        return None
    return one.value == "by_itself" if field == "start" else one.value


@pytest.mark.parametrize(("field", "kind", "names"), TRAITS)
def test_what_is_said_or_denied_is_read_so_in_every_wording(field, kind, names):
    wrong = []
    tried = 0
    for name, around in product(names, AROUND):
        for forms, expected in ((YES, (True,)), (NO, (False,)), (BLANK, (None,))):
            for form in forms:
                text = around.format(form.format(name))
                tried += 1
                if value(text, kind, field) not in expected:
                    wrong.append((text, value(text, kind, field)))
    assert tried > 300
    assert wrong == []


def test_a_sheet_that_says_both_is_asked():
    found = {f.field: f for f in read_sheet("Automatic: yes\nSwitches by hand", "transfer").found}
    assert "Which is right" in found["automatic"].ask
