"""What `wempa plan` prints: an evening at the table as JSON (docs/job-format.md)."""

from __future__ import annotations

from pydantic import BaseModel

from wempa.craft.table.evening import minutes
from wempa.craft.table.plan import TablePlan
from wempa.craft.vocabulary import Do
from wempa.formats.job_result import CodedText, coded


class PlannedStep(BaseModel):
    """One step."""

    n: int
    of: str
    """The panel or overlap that it is about."""
    do: Do
    text: str
    inks: list[str]
    tools: list[str]
    start: float
    """Minutes from the beginning."""
    minutes: float
    hands: bool
    """Whether a person is busy with it."""
    after: list[int]
    """The steps that have to be done before it begins."""
    why: str


class TimesTaken(BaseModel):
    """Minutes with busy hands, and from the first step to the last ink dry."""

    at_mat: float
    total: float


class PlannedEvening(TimesTaken):
    """A plan, beside one piece after another."""

    steps: list[PlannedStep]
    naive: TimesTaken
    gap: float
    """Share of the total by which it may be longer than the best with these tools; 0 if it is the best."""
    notes: list[CodedText]


def plan_result(plan: TablePlan) -> PlannedEvening:
    """A plan as the contract has it."""
    evening = plan.evening
    return PlannedEvening(
        steps=[
            PlannedStep(
                n=step.n,
                of=evening.pieces[step.piece].name,
                do=step.do,
                text=step.text,
                inks=[evening.facts[key].name for key in step.inks],
                tools=[evening.tools[tool].name for tool in step.tools],
                start=minutes(step.start),
                minutes=minutes(step.ticks),
                hands=step.hands,
                after=list(step.after),
                why=step.why,
            )
            for step in plan.steps
        ],
        at_mat=minutes(plan.at_mat),
        total=minutes(plan.total),
        naive=TimesTaken(at_mat=minutes(plan.naive_at_mat), total=minutes(plan.naive_total)),
        gap=round(plan.gap, 4),
        notes=coded(evening.notes),
    )
