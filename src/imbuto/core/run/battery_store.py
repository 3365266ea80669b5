"""A store of energy as a run steps it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from imbuto.core.equipment.conversion import dc_draw_w

RESTART_MARGIN = 0.05  # of nominal: comes back five points above the floor; planning default
DARK_STANDBY_W = 8.0  # planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class Store:
    """Hold one store as the march steps it. Places are indexes into the list of stores; None where there is none.

    nominal_wh: Wh on the label, with modules
    deliverable, health, cold: factors on that, 0 to 1
    floor: charge at which it stops, 0 to 1
    efficiency: AC out over DC in, without the own draw
    idle_w, standby_w: own draw in DC W, while the output is on and while it is off
    restarts_itself: it comes back without anyone
    restart_margin: charge above the floor at which it comes back, of nominal
    mppt_efficiency, solar_charge_efficiency, ac_charge_efficiency: 0 to 1
    taper: charging slows down from 90%
    most_charge_w: most W into the battery at its temperature, infinite where only the taper limits it
    own_pass_w: W it draws from what is passed on to it
    through_switch: a switch leads the power past it, so that its circuits stay powered while it is away
    behind: the store that powers its AC input, which comes first in the list
    own_first: it empties itself before it takes from that one
    after: the store at whose inlet it waits its turn
    swap_at: its charge at which someone plugs in the next that waits; negative for once it is off
    pair: the store that goes off with it
    dc_to, dc_w: the store whose solar input a bank gives to, and how many W; a bank has no inverter
    dc_dark: a bank gives only while no light comes to that store
    grid: it is connected to the grid
    thrown: somebody moves its circuits over to it, so that they have no grid while it carries them, and it draws
        nothing for itself while the grid does
    thrown_back: the same person throws it back to the grid at its hold, if awake
    hold, resume: charge at which it stops and starts carrying loads again while the grid is there
    grid_w, refill: AC W it charges with from the grid, and the charge it is filled to
    """

    nominal_wh: float
    deliverable: float = 1.0
    health: float = 1.0
    cold: float = 1.0
    floor: float = 0.10
    efficiency: float = 0.94
    idle_w: float = 0.0
    standby_w: float = DARK_STANDBY_W
    restarts_itself: bool = False
    restart_margin: float = RESTART_MARGIN
    mppt_efficiency: float = 0.97
    solar_charge_efficiency: float = 0.97
    ac_charge_efficiency: float = 0.92
    taper: bool = True
    most_charge_w: float = np.inf
    own_pass_w: float = 0.0
    through_switch: bool = False
    behind: int | None = None
    own_first: bool = False
    after: int | None = None
    swap_at: float = -1.0
    pair: int | None = None
    dc_to: int | None = None
    dc_w: float = 0.0
    dc_dark: bool = False
    grid: bool = False
    thrown: bool = False
    thrown_back: bool = False
    hold: float = 0.0
    resume: float = 0.0
    grid_w: float = 0.0
    refill: float = 1.0

    @property
    def available_wh(self) -> float:
        """What could be drawn from full to empty, Wh."""
        return self.nominal_wh * self.deliverable * self.health * self.cold

    def usable_wh(self, start: float) -> float:
        """What can be drawn from a start charge down to the floor, Wh; never negative."""
        return self.available_wh * max(start - self.floor, 0.0)

    def draw_w(self, load_w: float) -> float:
        """Battery side of an AC load, W."""
        return dc_draw_w(load_w, self.efficiency, self.idle_w)
