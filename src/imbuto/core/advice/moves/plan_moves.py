"""Changes to a plan that Imbuto can try by itself: to widen the neck, or to clear a broken limit."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import chain

from imbuto.core.advice.moves.array_moves import more_panels_moves, other_layout_moves
from imbuto.core.advice.moves.load_moves import (
    leave_off_moves,
    nights_off_moves,
    not_together_moves,
    power_strip_moves,
    rest_moves,
    unplug_moves,
)
from imbuto.core.advice.moves.move import Move
from imbuto.core.advice.moves.station_moves import (
    coupler_move,
    indoors_move,
    larger_station_moves,
    more_units_move,
    next_station_move,
    one_more_module_move,
    right_volts_moves,
    unlink_moves,
)
from imbuto.core.advice.moves.wiring_moves import (
    at_its_panel_moves,
    by_hand_moves,
    charge_elsewhere_moves,
    feed_live_moves,
    larger_switch_moves,
    listed_moves,
    other_leg_moves,
    protected_moves,
    with_partners_moves,
)
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.limits.limit_registry import MoveKind, by_family
from imbuto.core.plan.system import Part


def widening_moves(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """Every move that may lengthen the hours."""
    yield from one_more_module_move(part)
    yield from next_station_move(part, catalogue)
    yield from more_units_move(part, catalogue)
    yield from more_panels_moves(part)
    yield from rest_moves(part)
    yield from nights_off_moves(part)
    yield from unplug_moves(part, riders_only=True)


def fixing_moves(part: Part, catalogue: Catalogue, families: set[str]) -> Iterator[Move]:
    """Every move that may clear a broken limit of these families, by what the register says answers them."""
    rows = by_family()
    wanted = {answer for f in families if f in rows for answer in rows[f].answers}
    if not part.equipment.traits.wired:
        wanted.add("larger_station")  # which has more outlets
    if "right_volts" in wanted:
        wanted.discard("larger_station")
    for answer, moves in ANSWERS.items():
        if answer in wanted:
            yield from moves(part, catalogue)
    yield from leave_off_moves(part)


# What answers a broken limit, in the order in which it is tried.
ANSWERS: dict[MoveKind, Callable[[Part, Catalogue], Iterator[Move]]] = {
    "other_leg": lambda j, _: other_leg_moves(j),
    "with_partners": lambda j, _: with_partners_moves(j),
    "protected": protected_moves,
    "charge_elsewhere": lambda j, _: charge_elsewhere_moves(j),
    "not_together": lambda j, _: chain(not_together_moves(j), unplug_moves(j, riders_only=False)),
    "right_volts": lambda j, c: chain(right_volts_moves(j, c), coupler_move(j, c)),
    "larger_station": larger_station_moves,
    "other_layout": lambda j, _: other_layout_moves(j),
    "unlink": lambda j, _: unlink_moves(j),
    "more_units": more_units_move,
    "larger_switch": larger_switch_moves,
    "power_strip": lambda j, _: power_strip_moves(j),
    "indoors": lambda j, _: indoors_move(j),
    "feed_live": lambda j, _: feed_live_moves(j),
    "at_its_panel": lambda j, _: at_its_panel_moves(j),
    "listed": listed_moves,
    "by_hand": lambda j, _: by_hand_moves(j),
}
