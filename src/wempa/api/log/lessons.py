"""Lessons: what was adopted so far, and taking it back."""

from __future__ import annotations

from wempa.api import held
from wempa.formats.log.items import Lesson
from wempa.store import Workspace

from .models import LessonOut


def history(workspace: Workspace) -> list[LessonOut]:
    """All lessons that were ever adopted, the newest first."""
    found: list[LessonOut] = []
    standing: set[str] = set()
    for stored in reversed(held.read_all(workspace, Lesson)):
        lesson = stored.item
        stands = not lesson.taken_back and lesson.of not in standing
        if stands:
            standing.add(lesson.of)
        gain = f"{lesson.before:.1f} → {lesson.after:.1f}" if lesson.of == "fit" else ""
        found.append(LessonOut(id=stored.id, revision=stored.revision, item=lesson, standing=stands, gain=gain))
    return found


def take_back(workspace: Workspace, item_id: int) -> None:
    """Stop using a lesson; the one before it is in force again."""
    stored = held.read(workspace, Lesson, item_id)
    lesson = stored.item.model_copy(update={"taken_back": True})
    what = f"Take back “{lesson.name}”"
    held.write(workspace, lesson, over=item_id, revision=stored.revision, what=what)
