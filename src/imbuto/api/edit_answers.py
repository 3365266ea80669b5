"""What an edit is answered with: what changed, and no more."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from fastapi import Response
from pydantic import TypeAdapter

from imbuto.services.desk.edits import HomeNews, news
from imbuto.services.desk.planner import EditResult
from imbuto.services.desk.verdict_views import VerdictView


@dataclass(frozen=True, slots=True, kw_only=True)
class EditAnswer:
    """What changed in the home since the revision its sender knew, and the verdict on the pair that was asked about;
    problem: the edit was kept, and why there is no verdict on it all the same."""

    news: HomeNews
    verdict: VerdictView | None
    problem: str = ""


_ANSWER = TypeAdapter(EditAnswer)
TELLS: dict[str, Any] = {"response_model": EditAnswer}


def edit_response(result: EditResult, since: int | None = None) -> Response:
    """The answer to an edit as JSON, made once: what was made here need not be checked again. since: the revision its
    sender has everything of."""
    answer = EditAnswer(news=news(result.state, since), verdict=result.verdict, problem=result.problem)
    return Response(_ANSWER.dump_json(answer), media_type="application/json")
