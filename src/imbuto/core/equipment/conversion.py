"""What a station loses and takes: between its battery and its outlets, and between a charger and its battery.

``run/march.py`` has the taper a second time, since what is compiled has to stand in one file; a test holds the two
together."""

from __future__ import annotations

from math import log

TAPER_FROM, TAPER_END = 0.90, 0.20  # full power to 90 % charge, falling to 20 % of it at 100 %; planning default


def dc_draw_w(ac_w: float, efficiency: float, idle_w: float) -> float:
    """W drawn from the battery for an AC load while the inverter is on.

    efficiency: AC out over DC in, without the station's own draw
    idle_w: that own draw, DC W
    """
    return ac_w / efficiency + idle_w


def hours_to_full(wh: float, watts: float, start: float) -> float:
    """Hours from a charge to full: full power to 90%, then falling to a fifth of it.

    wh: from empty to full
    watts: into the battery, more than 0
    start: charge, 0 to 1
    """
    fall = 1 - TAPER_END
    below = max(TAPER_FROM - start, 0.0)
    top = max(start, TAPER_FROM)
    power = 1 - fall * (top - TAPER_FROM) / (1 - TAPER_FROM)
    return wh / watts * (below + (1 - TAPER_FROM) / fall * log(power / TAPER_END))
