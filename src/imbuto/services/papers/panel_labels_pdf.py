"""What is printed: so far the panel's directory and dot labels."""

from __future__ import annotations

from datetime import datetime

from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.basics.errors import ImbutoError, InvalidValue
from imbuto.formats.printing.labels import PAPER, labels_pdf
from imbuto.services.desk.planner import Planner


class CannotPrint(ImbutoError):
    """The system lacks what a PDF is drawn with."""

    kind = "cannot_print"

    @property
    def sentence(self) -> str:
        return f"Imbuto can't make a PDF here: {self.rule}."

    @classmethod
    def because(cls, what: str, error: Exception) -> CannotPrint:
        """Say what is missing: the library that draws PDFs, or what that one stands on."""
        if isinstance(error, ImportError):
            return cls(what, None, "the PDF part isn't installed; install it with pip install 'imbuto[pdf]'")
        return cls(
            what,
            None,
            "text libraries are missing; install Debian's libpango-1.0-0, libpangoft2-1.0-0 and libharfbuzz-subset0",
        )


def labels(planner: Planner, home_id: str, plan_id: str, paper: str) -> bytes:
    """Directory and dots of a home's panel, for a plan where one is named. Raises NotFound, InvalidValue,
    CannotPrint."""
    documents = planner.open(home_id)
    if not documents.home.circuits:
        raise InvalidValue("labels", documents.home.name, "there is no panel to label; enter its circuits first")
    size = paper or ("letter" if documents.home.service.volts == 120 else "a4")
    if size not in PAPER:
        raise InvalidValue("paper", paper, "choose letter or a4")
    day = datetime.now(documents.home.site.tz).strftime("%B %-d, %Y")
    try:
        return run_elsewhere(labels_pdf, documents.home, documents.plans.get(plan_id), size, day)
    except (OSError, ImportError) as error:
        raise CannotPrint.because("labels", error) from None
