"""What the routes of one workspace share, made once: the shelf, jobs, charts, matches, studies of panels."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from wempa.api.checks import Checks
from wempa.api.log.learner import Learner
from wempa.api.log.own_lines import OwnLines
from wempa.api.log.practice import Practice
from wempa.api.log.read_book import Books
from wempa.api.overlap.jobs import Jobs
from wempa.api.overlap.models import CrossingOut, OverlapSummary
from wempa.api.pairing.door import Lan
from wempa.api.panels.making import Panels
from wempa.api.panels.models import PanelSummary
from wempa.api.search.charts import Charts
from wempa.api.search.matches import Matches
from wempa.api.stash.shown import StashShown
from wempa.api.table.evenings import Evenings
from wempa.api.table.looks import Looks
from wempa.api.table.models import Choosable
from wempa.api.table.runs import Runs
from wempa.store import Copies, Workspace

from .kept import Kept
from .shelf import Shelf, Shelves
from .tabs import Tabs

# How many summaries are kept: somewhat more than a list of them is long.
_SUMMARIES = 4000
# How many overlaps are kept for tabs that have them open.
_OPEN = 16


class Services:
    """The services that serve a workspace, one of each kind."""

    def __init__(self, workspace: Workspace, lan: Lan | None = None) -> None:
        self.workspace = workspace
        self.lan = lan
        """How the workspace is served to the network, if it is."""
        self.copies = Copies(workspace)
        self.tabs = Tabs(workspace.clock)
        self.shelves = Shelves(workspace)
        self.jobs = Jobs(workspace, self.shelves)
        self.panels = Panels(self.shelves)
        self.checks = Checks(self.shelves, self.jobs, self.panels)
        workspace.check = self.checks.stored
        self.books = Books(workspace)
        self.learner = Learner(workspace, self.shelves, self.books)
        self.own_lines = OwnLines(workspace, self.shelves, self.books)
        self.practice = Practice(workspace, self.shelves)
        self.charts = Charts(self.shelves)
        self.matches = Matches(workspace, self.shelves, self.jobs, self.panels)
        self.evenings = Evenings(workspace, self.shelves, self.panels)
        self.runs = Runs(workspace, self.evenings)
        self.looks = Looks(workspace, self.shelves, self.panels)
        self.stash = StashShown(workspace, self.shelves)
        self.overlap_summaries = Kept[OverlapSummary](_SUMMARIES)
        self.crossings = Kept[CrossingOut](_OPEN)
        self.overlap_pieces = Kept[Choosable](_SUMMARIES)
        self.panel_summaries = Kept[PanelSummary](_SUMMARIES)

    def shelf(self) -> Shelf:
        """The shelf as it is now."""
        return self.shelves.now()


def services_of(request: Request) -> Services:
    """The services that a request is answered with."""
    found = request.app.state.services
    assert isinstance(found, Services)
    return found


ServicesNow = Annotated[Services, Depends(services_of)]
"""As a parameter of a route: the services of the application."""
