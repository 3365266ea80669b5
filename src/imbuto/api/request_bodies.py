"""Bodies of requests, and the shape of an error."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import JSONResponse

from imbuto.core.basics.moments import LocalTime
from imbuto.core.home.loads import Season
from imbuto.core.measuring.readings import Side
from imbuto.services.everyday.saved_views import EnergyChannel
from imbuto.services.house.importing import KeptChannel

Revision = Annotated[int, Field(ge=0, le=2**53)]
Ident = Annotated[str, Field(min_length=1, max_length=80)]


class Op(BaseModel):
    """One JSON Patch operation on one document: ``home``, or a plan's or outage's id.

    kind: with a whole new document, whose path is empty.
    """

    model_config = ConfigDict(extra="forbid")
    doc: Ident
    op: Literal["add", "replace", "remove"]
    path: Annotated[str, Field(max_length=400)]
    value: Any = None
    kind: Literal["plan", "outage"] | None = None

    def plain(self) -> dict[str, Any]:
        """Only what was given."""
        return self.model_dump(exclude_unset=True)


class PairBody(BaseModel):
    """The pair to give the verdict on."""

    plan: Ident
    outage: Ident


class EditBody(BaseModel):
    """An edit: made on base_rev, named by its sender, so that sending it twice does it once.

    judge, since, in every body like it: the pair to give the verdict on, and the revision the sender has everything
    of, so that the answer carries only what changed; null for everything; trial: it only tries something."""

    base_rev: Revision
    edit_id: Ident
    label: Annotated[str, Field(min_length=1, max_length=200)]
    ops: Annotated[list[Op], Field(min_length=1, max_length=2000)]
    trial: bool = False
    judge: PairBody | None = None
    since: Revision | None = None


class BackupBody(BaseModel):
    """A backup asked for. passphrase: to seal it under, empty for none."""

    passphrase: str = Field("", max_length=500)


class TurnBody(BaseModel):
    """An undo or a redo. takes: the id of the edit it is meant for, null for whichever is next."""

    edit_id: Ident
    takes: Ident | None = None
    judge: PairBody | None = None
    since: Revision | None = None


class ReadingBody(BaseModel):
    """A reading as typed. load, circuit, home: what it is of; none of them when the text begins with a load's name."""

    edit_id: Ident
    text: Annotated[str, Field(max_length=400)]
    load: Ident | None = None
    circuit: Ident | None = None
    home: bool = False
    side: Side = "appliance"
    setting: Annotated[str, Field(max_length=80)] = ""
    season: Season = "any"
    judge: PairBody | None = None
    since: Revision | None = None


class KeepBody(BaseModel):
    """Channels of a file that a job has read, to keep."""

    edit_id: Ident
    job: Ident
    channels: Annotated[list[KeptChannel], Field(min_length=1, max_length=200)]
    judge: PairBody | None = None
    since: Revision | None = None


class EnergyBody(BaseModel):
    """Channels of a file that a job has read, and what each meters."""

    job: Ident
    channels: Annotated[list[EnergyChannel], Field(min_length=1, max_length=6)]


class BeginBody(BaseModel):
    """An outage begins.

    began: local time, null for now
    back_by: when the grid is said to return
    charges: of each source, 0 to 1
    """

    plan: Ident
    outage: Ident
    edit_id: Ident
    began: LocalTime | None = None
    back_by: LocalTime | None = None
    charges: Annotated[dict[Ident, Annotated[float, Field(ge=0, le=1)]], Field(max_length=50)] = {}


class NoteBody(BaseModel):
    """One line at a gauge.

    source: whose, null for the first
    at: local time it was written, null for now
    """

    plan: Ident
    outage: Ident
    edit_id: Ident
    text: Annotated[str, Field(min_length=1, max_length=200)]
    source: Ident | None = None
    at: LocalTime | None = None


class WatchBody(BaseModel):
    """What to do with the simulated station of a demo home.

    source: whose place it takes, with that charge, null where it is there
    speed: of its clock
    away: put it away
    """

    plan: Ident
    outage: Ident
    source: Ident | None = None
    charge: Annotated[float, Field(ge=0, le=1)] = 1.0
    speed: float | None = None
    away: bool = False


class DrillBody(BaseModel):
    """One move of a round of the drill.

    positions: of every part, as they were
    harm: what went wrong so far; part
    to: the move
    """

    plan: Ident
    scene: Literal["over", "back"]
    positions: Annotated[dict[Ident, Ident], Field(max_length=500)]
    harm: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=50)] = []
    part: Ident
    to: Ident


class ProposalBody(BaseModel):
    """What a set is proposed for.

    pins: circuits whose stance is settled
    hours: to last, null for the outage's goal, 0 for however long it lasts
    sure: whether the hours are the expected ones, or those that 9 in 10 exceed
    device: of the plan, null for its first
    """

    plan: Ident
    outage: Ident
    device: Ident | None = None
    sure: Literal["expected", "nine_in_ten"] = "nine_in_ten"
    pins: Annotated[dict[Ident, Literal["keep_on", "turns", "off"]], Field(max_length=200)] = {}
    hours: float | None = None


class InstrumentsBody(BaseModel):
    """What to change on the simulated instruments; what is not given stays as it is."""

    speed: float | None = None
    plug: Ident | None = None
    unplug: bool = False
    breakers: Annotated[dict[Ident, bool], Field(max_length=100)] = {}


class ErrorBody(BaseModel):
    """What went wrong, and where.

    rev and changes: with a stale edit only
    suggestion: what was likely meant
    """

    kind: str
    field: str
    value: str | None
    rule: str
    sentence: str
    rev: int | None = None
    changes: list[dict[str, Any]] | None = None
    suggestion: str | None = None


def refusal_response(status: int, body: ErrorBody, headers: dict[str, str] | None = None) -> JSONResponse:
    """The answer to what is refused, whoever refuses it."""
    return JSONResponse(body.model_dump(), status, headers)
