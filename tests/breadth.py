"""How broadly tests look: a short form on every change, the long form with ``make long`` (``IMBUTO_LONG=1``).

The short form has an example of each kind; the long form tries all of them. Which tests have two forms is listed in
CONTRIBUTING.md.
"""

import os
from typing import TypeVar

T = TypeVar("T")

LONG = os.environ.get("IMBUTO_LONG") == "1"


def breadth(short: T, long: T) -> T:
    """Return what the form of this run looks at."""
    return long if LONG else short
