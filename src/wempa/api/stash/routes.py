"""Routes of the stash: what it holds, changes to it, the home test, the formula guide."""

from __future__ import annotations

from fastapi import Response

from wempa.api import held
from wempa.api.replies import api_router, written
from wempa.api.services import ServicesNow
from wempa.api.shelf import ranges_of
from wempa.craft.stash.home_test import STEPS, likely_formulas
from wempa.craft.vocabulary import Formula, HomeTestSign
from wempa.demo.penny_halt import fill
from wempa.formats.stash.items import InkItem, read_item
from wempa.store import Change as StoreChange
from wempa.store import StoreError

from .models import Changes, FormulaChance, GuideFormula, StashView, TestFinding, TestStep
from .shown import guide_formula, implied

router = api_router()


@router.get("/stash", response_model=StashView)
def stash(services: ServicesNow) -> Response:
    """Inks, cards, tools and ranges, with what wants doing."""
    return written(services.stash.view())


@router.post("/stash/changes", response_model=StashView)
def change(services: ServicesNow, body: Changes) -> Response:
    """Make, change and delete items together; all of it or nothing."""
    made: list[StoreChange] = [
        (
            one.kind,
            one.id,
            None if one.item is None else read_item(one.kind, one.item).stored(),
            one.revision,
        )
        for one in body.changes
    ]
    services.workspace.write_many(made, what=body.what)
    return written(services.stash.view())


@router.post("/stash/sample", response_model=StashView)
def sample(services: ServicesNow) -> Response:
    """Put the sample stash into a workspace that has no inks; refused when it has some."""
    if services.workspace.read_all("ink"):
        raise StoreError("there are inks on the shelf already, so the sample stash was not put onto it")
    fill(services.workspace)
    return written(services.stash.view())


@router.get("/home-test")
def home_test(services: ServicesNow) -> list[TestStep]:
    """The steps of the home test for an unknown formula."""
    return [TestStep.model_validate(step, from_attributes=True) for step in STEPS]


@router.post("/home-test")
def home_test_finding(services: ServicesNow, seen: dict[HomeTestSign, bool]) -> TestFinding:
    """What the observations so far say of the formula."""
    found = likely_formulas(seen, services.shelf().table)
    return TestFinding(
        chances=[FormulaChance(formula=formula, chance=round(chance, 4)) for formula, chance in found.chances],
        formula=found.formula,
        implied=implied(found.constants),
    )


@router.get("/guide")
def formula_guide(services: ServicesNow) -> list[GuideFormula]:
    """What each formula does, from the craft table, with the owner's ranges beside it."""
    own = ranges_of(services.workspace)
    formulas: dict[str, set[Formula]] = {}
    for ink in held.read_all(services.workspace, InkItem):
        formulas.setdefault(ink.item.range, set()).add(ink.item.formula)
    return [
        guide_formula(formula, services.shelf().rows, own, formulas)
        for formula in Formula
        if formula is not Formula.UNKNOWN
    ]
