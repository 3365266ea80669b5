"""The order of hands, as cards to read and as a drill to practise."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.plan.system import resolve
from imbuto.core.switching.practice import SCENES, Drill, Round, Scene, drill
from imbuto.core.switching.switching_cards import Card, cards
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner

MOST_HARM = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillPart:
    """Something to switch.

    positions: all it has
    now: where it is
    itself: it moves by itself
    by: what feeds it in that position, in words; empty where it is dead
    """

    id: str
    name: str
    where: str
    positions: list[str]
    now: str
    itself: bool
    by: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillStep:
    """A step of the card that the round follows. done: whether everything it moves is where it belongs."""

    what: str
    proof: str
    done: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class TargetView:
    """Something that is to be fed. by: what feeds it now, in words; empty where it is dark."""

    id: str
    name: str
    by: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillView:
    """One round as it stands.

    harm: everything that went wrong
    said: of the last move
    won: it is done, without harm
    steps: the card's
    """

    scene: Scene
    story: str
    grid: bool
    parts: list[DrillPart]
    targets: list[TargetView]
    harm: list[str]
    said: str
    won: bool
    steps: list[DrillStep]


def cards_of(planner: Planner, home_id: str, plan_id: str) -> list[Card]:
    """The cards of a plan. Raises NotFound."""
    documents, plan = _plan(planner, home_id, plan_id)
    return cards(resolve(documents.home, documents.plans[plan], documents.catalogue).parts)


def drill_begun(planner: Planner, home_id: str, plan_id: str, scene: Scene) -> DrillView:
    """A fresh round. Raises NotFound."""
    made = _drill(planner, home_id, plan_id)
    return _view(made, made.begin(scene))


def drill_moved(
    planner: Planner,
    home_id: str,
    plan_id: str,
    scene: Scene,
    positions: dict[str, str],
    harm: list[str],
    part: str,
    to: str,
) -> DrillView:
    """The round after one move. Raises NotFound, InvalidValue."""
    made = _drill(planner, home_id, plan_id)
    if set(positions) != set(made.model.parts):
        raise InvalidValue("positions", len(positions), "the plan changed since the round started; start again")
    for ident, position in positions.items():
        if position not in made.model.parts[ident].joins:
            raise InvalidValue(made.model.parts[ident].name, position, "this switch doesn't have that position")
    if part not in made.model.parts:
        raise NotFound("part", part, "this plan has no switch of that name")
    if to not in made.model.parts[part].joins:
        raise InvalidValue(made.model.parts[part].name, to, "this switch doesn't have that position")
    try:
        now = made.move(Round(scene, dict(positions), harm[:MOST_HARM]), part, to)
    except ValueError as error:
        raise InvalidValue(made.model.parts[part].name, to, str(error)) from None
    return _view(made, now)


def _drill(planner: Planner, home_id: str, plan_id: str) -> Drill:
    documents, plan = _plan(planner, home_id, plan_id)
    return drill(resolve(documents.home, documents.plans[plan], documents.catalogue).parts)


def _plan(planner: Planner, home_id: str, plan_id: str) -> tuple[Documents, str]:
    documents = planner.open(home_id)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    return documents, plan_id


def _view(made: Drill, now: Round) -> DrillView:
    live, home = made.live(now), made.each[0].home
    names = {"grid": "the grid", **{x.source.id: x.station.name for x in made.each}}
    feeding = made.feeding(now)
    card = made.cards.get(now.scene)
    done = made.done(now)
    targets = []
    for point in sorted(made.wanted):
        kind, ident = point.split(":", 1)
        name = home.circuits[ident].name if kind == "c" else home.loads[ident].name
        by = live.get(point, "")
        targets.append(TargetView(id=point, name=name, by=names.get(by, by)))
    shown = [
        DrillPart(
            id=p.id,
            name=p.name,
            where=p.where,
            positions=list(p.positions),
            now=now.state[p.id],
            itself=p.itself,
            by=names.get(feeding[p.id], feeding[p.id]),
        )
        for p in made.model.parts.values()
    ]
    return DrillView(
        scene=now.scene,
        story=SCENES[now.scene],
        grid=now.grid,
        parts=shown,
        targets=targets,
        harm=now.harm,
        said=now.said,
        won=made.won(now),
        steps=[
            DrillStep(what=s.what, proof=s.proof, done=d) for s, d in zip(card.steps if card else (), done, strict=True)
        ],
    )
