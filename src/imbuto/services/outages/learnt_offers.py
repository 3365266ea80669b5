"""What an outage taught, offered as edits with the next promise before and after; nothing changes until it is taken."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from imbuto.core.advice.answer import judge
from imbuto.core.advice.headline import headline
from imbuto.core.basics.units import number_text
from imbuto.core.home.home import Home, LearntDraw
from imbuto.core.home.live_outage import Live
from imbuto.core.home.loads import Season
from imbuto.core.plan.load_conditions import season_of
from imbuto.core.plan.plan import Plan
from imbuto.formats.documents import Json
from imbuto.services.desk.judging import Documents
from imbuto.services.outages.store_history import StoreHistory

LEAST_READINGS = 3  # that teach, before anything is offered; planning default
SURE = 1.28  # sigmas that a figure is from the planned one before it is offered; planning default
SEASONS: dict[Season, str] = {"warm": "in the warm season", "cold": "in the cold season", "any": "in spring and autumn"}


@dataclass(frozen=True, slots=True, kw_only=True)
class LearntOffer:
    """One thing an outage taught, as an edit.

    lived: the outage
    title: what would change, with its figure and plus or minus
    before, after: the next promise, in words
    label: of the edit
    ops: of the edit
    """

    lived: str
    title: str
    before: str
    after: str
    label: str
    ops: list[Json]


def offers(documents: Documents, outage_id: str, lived: str, stores: Sequence[StoreHistory]) -> list[LearntOffer]:
    """What the stores of an outage that is over have taught and is not in the plan yet."""
    live = documents.home.lived[lived]
    plan = documents.plans.get(live.plan)
    taught = [k for k in stores if k.found is not None and len(k.seen) - 1 >= LEAST_READINGS]
    if plan is None or not taught:
        return []
    found = [*_draw(documents, outage_id, lived, live, plan, taught)]
    for k in taught:
        found += _own_draw(documents, outage_id, lived, plan, k)
    return found


def _draw(
    documents: Documents, outage_id: str, lived: str, live: Live, plan: Plan, taught: Sequence[StoreHistory]
) -> list[LearntOffer]:
    """The draw of the house in that season: of several stores the one that is surest."""
    k = min(taught, key=lambda k: k.found.scale_error if k.found else 1.0)
    assert k.found is not None
    if abs(k.found.scale - 1) <= SURE * k.found.scale_error:
        return []
    home = documents.home
    season = season_of(replace(documents.outages[outage_id], start=live.began), home.site)
    now = home.learnt.get(season)
    scale = min(max(round((now.scale if now else 1.0) * k.found.scale, 3), 0.2), 5.0)
    draw = LearntDraw(scale=scale, error=round(k.found.scale_error, 3), lived=lived)
    after = replace(home, learnt={**home.learnt, season: draw})
    more = "more" if scale > 1 else "less"
    before_words, after_words = (_promise(documents, outage_id, x, plan) for x in (home, after))
    value = {"scale": draw.scale, "error": draw.error, "lived": lived}
    return [
        LearntOffer(
            lived=lived,
            title=f"{SEASONS[season].capitalize()} the house uses {100 * abs(scale - 1):.0f}% {more} than its loads "
            f"add up to (± {100 * k.found.scale_error:.0f}).",
            before=before_words,
            after=after_words,
            label="Use measured in an outage",
            ops=[{"doc": "home", "op": "add", "path": f"/learnt/{season}", "value": value}],
        )
    ]


def _own_draw(documents: Documents, outage_id: str, lived: str, plan: Plan, k: StoreHistory) -> list[LearntOffer]:
    """A station's own draw, where its load varied enough to tell it from the rest."""
    found, planned = k.found, k.run.store.idle_w
    if found is None or not found.apart or abs(found.idle_w - planned) <= SURE * found.idle_error:
        return []
    source = plan.sources[k.source.id]
    watts = max(round(found.idle_w, 1), 1.0)
    after = replace(plan, sources={**plan.sources, source.id: replace(source, own_w=watts)})
    return [
        LearntOffer(
            lived=lived,
            title=f"{k.station.name} takes {number_text(watts)} W for itself (± {number_text(found.idle_error)}), "
            f"{number_text(planned)} W was planned.",
            before=_promise(documents, outage_id, documents.home, plan),
            after=_promise(documents, outage_id, documents.home, after),
            label=f"Own draw of {k.station.name} measured in an outage",
            ops=[{"doc": plan.id, "op": "add", "path": f"/sources/{source.id}/own_w", "value": watts}],
        )
    ]


def _promise(documents: Documents, outage_id: str, home: Home, plan: Plan) -> str:
    """The next promise of a plan, in the words that every place has for it."""
    answer = judge(home, plan, documents.outages[outage_id], documents.catalogue, with_moves=False)
    return headline(answer).sentence
