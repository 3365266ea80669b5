"""A plan has several transfer devices, and each source a charger of its own.

Edits that spoke of the one device cannot be turned back on what stands now: they, and those before them, leave the
history."""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

from imbuto.core.plan.plan_upgrades import MOVED, from_first

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    bind = op.get_bind()
    for home, ident, body in bind.execute(sa.text("SELECT home_id, id, body FROM documents WHERE kind = 'plan'")).all():
        new = from_first(json.loads(body))
        said = {"body": json.dumps(new, ensure_ascii=False), "home": home, "id": ident}
        bind.execute(sa.text("UPDATE documents SET body = :body WHERE home_id = :home AND id = :id"), said)
    newest: dict[str, int] = {}
    for seq, home, forward, inverse in bind.execute(sa.text("SELECT seq, home_id, forward, inverse FROM edits")).all():
        if any(_spoke(o) for o in [*json.loads(forward), *json.loads(inverse)]):
            newest[home] = max(newest.get(home, 0), seq)
    for home, seq in newest.items():
        bind.execute(sa.text("DELETE FROM edits WHERE home_id = :home AND seq <= :seq"), {"home": home, "seq": seq})


def _spoke(operation: dict[str, Any]) -> bool:
    value = operation.get("value")
    return operation.get("path", "").lstrip("/") in MOVED or (isinstance(value, dict) and "transfer" in value)


def downgrade() -> None:
    """The first device and the first charger go back onto the plan; there was no room for others."""
    bind = op.get_bind()
    for home, ident, body in bind.execute(sa.text("SELECT home_id, id, body FROM documents WHERE kind = 'plan'")).all():
        plan = json.loads(body)
        device = next(iter(plan.pop("devices", {}).values()), {"equipment": "cords"})
        source: dict[str, Any] = next(iter(plan.get("sources", {}).values()), {})
        plan |= {"transfer": device["equipment"], "inlet_cord": device.get("cord")}
        plan |= {k: source.pop(k, None) for k in ("charge_w", "charge_circuit")}
        said = {"body": json.dumps(plan, ensure_ascii=False), "home": home, "id": ident}
        bind.execute(sa.text("UPDATE documents SET body = :body WHERE home_id = :home AND id = :id"), said)
