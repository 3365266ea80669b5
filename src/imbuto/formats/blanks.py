"""Something new of each kind, with every default written out: what the interface begins with. Generated into its
source by ``make types``, so that a default stands in one place."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter

from imbuto.core.home.binder import BinderEntry
from imbuto.core.home.circuits import Circuit, SubPanel
from imbuto.core.home.household import Contact
from imbuto.core.home.loads import Load, Use
from imbuto.core.plan.entered.other_uses import OtherUse
from imbuto.core.plan.entered.paperwork import BuildChange, Task
from imbuto.core.plan.plan import Device, Feed
from imbuto.core.plan.sources import AwayTimes, Bank, Source

NEW_LOAD_W = 50  # of something nobody has said anything of yet; planning default


def blanks() -> dict[str, Any]:
    """By kind, as JSON."""
    new: dict[str, Any] = {
        "load": Load(id="", name="New load", average_w=NEW_LOAD_W, run_w=NEW_LOAD_W),
        "use": Use(),
        "circuit": Circuit(id="", name="New circuit"),
        "feed": Feed(id="", stance="keep_on"),
        "source": Source(id="", station=""),
        "device": Device(id="", equipment=""),
        "bank": Bank(id="", name="Bank", battery=""),
        "away": AwayTimes(),
        "panel": SubPanel(id="", name="Sub-panel"),
        "task": Task(id="", name=""),
        "built": BuildChange(id="", kind="deviation", what=""),
        "other_use": OtherUse(id="", name=""),
        "contact": Contact(id="", name=""),
        "filed": BinderEntry(id="", kind="warranty", title=""),
    }
    return {kind: TypeAdapter(type(x)).dump_python(x, mode="json") for kind, x in new.items()}
