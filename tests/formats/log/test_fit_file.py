"""`wempa fit`: what it reads, what it refuses, what it prints."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest

from tests.craft.log.worlds import MANY, job_of, seen_in, with_rows
from wempa.craft.constants import TABLE
from wempa.craft.errors import JobError
from wempa.craft.job import Job
from wempa.craft.log.observations import Observation
from wempa.formats.job import error_text, read_one
from wempa.formats.job_result import predict_text
from wempa.formats.job_text import job_json
from wempa.formats.log.fit_file import fit_data, fit_text
from wempa.optics import colorimetry as cm

JOBS = [job_of(*stack) for stack in MANY]
HEAVY = {"tool.brush.amount": TABLE["tool.brush.amount"].value * 1.4}


def filed(one: Observation, **more: Any) -> dict[str, Any]:
    assert one.seen.lab is not None
    observed = {"lab": list(one.seen.lab), "illuminant": "D65"}
    return {"job": job_json(one.job), "observed": observed, "spread": one.spread, **more}


@pytest.fixture(scope="module")
def log() -> dict[str, Any]:
    _, seen = seen_in(with_rows(JOBS, HEAVY, red=1.4), JOBS, noise=0.3)
    others: list[Job] = [job_of(*MANY[4][::-1]), job_of(MANY[3][0], MANY[0][0])]
    _, asked = seen_in(with_rows([*JOBS, *others], HEAVY, red=1.4), others)
    return {"observations": [filed(one) for one in seen], "hold_out": [filed(one) for one in asked]}


@pytest.fixture(scope="module")
def told(log: dict[str, Any]) -> dict[str, Any]:
    return fit_text(json.dumps(log))


def test_what_was_learned_is_printed_and_put_into_the_jobs(log: dict[str, Any], told: dict[str, Any]) -> None:
    assert told["adopted"] is True
    assert told["constants"]["tool.brush.amount"] > 1.25 * TABLE["tool.brush.amount"].value
    assert told["inks"]["red"]["strength"] > 1.2
    assert told["inks"]["red"]["swatch"]["known"] == "fitted"
    assert set(told["card"]) <= {"colour", "floor", "absorbency", "texture", "constants"}
    assert told["cards"] == [{"cardstock": log["observations"][0]["job"]["cardstock"], "changed": told["card"]}]
    assert any("brush lays about" in note for note in told["notes"])
    for given, job in zip(log["hold_out"], told["jobs"], strict=True):
        assert job["inks"]["red" if "red" in job["inks"] else "blue"] != given["job"]["inks"].get("red")
        assert job["stack"] == given["job"]["stack"]
        assert job["constants"]["tool.brush.amount"] == pytest.approx(told["constants"]["tool.brush.amount"], rel=1e-4)


def test_held_out_errors_are_those_of_the_jobs_it_gives(log: dict[str, Any], told: dict[str, Any]) -> None:
    def missed(jobs: list[dict[str, Any]]) -> float:
        found, _ = predict_text(json.dumps(jobs))
        true = [each["observed"]["lab"] for each in log["hold_out"]]
        return float(cm.delta_e(np.array([each.colour.lab for each in found]), np.array(true)).mean())

    assert told["after"]["held_out"] == pytest.approx(missed(told["jobs"]), abs=0.02)
    assert told["before"]["held_out"] == pytest.approx(missed([each["job"] for each in log["hold_out"]]), abs=0.02)
    assert told["after"]["held_out"] < 0.6 * told["before"]["held_out"]
    assert told["after"]["fit"] < told["before"]["fit"]


def test_hold_out_has_no_say_in_what_is_adopted(log: dict[str, Any], told: dict[str, Any]) -> None:
    spoilt = {**log, "hold_out": [{**each, "observed": {"hex": "#00ff00"}} for each in log["hold_out"]]}
    again = fit_data(spoilt)
    assert again["adopted"]
    assert again["constants"] == told["constants"]
    assert again["jobs"] == told["jobs"]
    assert again["after"]["held_out"] > 20


def test_without_hold_out_it_is_cross_validation(log: dict[str, Any], told: dict[str, Any]) -> None:
    again = fit_data({"observations": log["observations"]})
    assert again["jobs"] == []
    assert again["before"]["held_out"] == again["before"]["fit"]
    assert again["after"]["fit"] < again["after"]["held_out"] < again["before"]["held_out"]
    assert again["constants"] == told["constants"]


def test_what_is_not_adopted_leaves_the_jobs_as_they_were_given(log: dict[str, Any]) -> None:
    few = {"observations": log["observations"][:2], "hold_out": log["hold_out"]}
    found = fit_data(few)
    assert found["adopted"] is False
    assert found["jobs"] == [each["job"] for each in log["hold_out"]]
    assert (found["inks"], found["card"], found["constants"]) == ({}, {}, {})
    assert found["notes"][0].startswith("Too few")
    assert fit_data({"observations": []})["adopted"] is False


def test_spread_and_look_may_be_left_out(log: dict[str, Any]) -> None:
    bare = [{key: each[key] for key in ("job", "observed")} for each in log["observations"]]
    assert fit_data({"observations": bare})["adopted"]
    wet = fit_data({"observations": [{**each, "look": "wet"} for each in bare]})
    assert wet["before"]["fit"] != fit_data({"observations": bare})["before"]["fit"]
    exact = fit_data({"observations": [{**each, "spread": 0} for each in bare]})
    assert exact["adopted"]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda log: [], "a file of swatches is an object"),
        (lambda log: {"hold_out": []}, "observations"),
        (lambda log: {**log, "more": 1}, "more"),
        (lambda log: {"observations": [{**log["observations"][0], "spread": -1}]}, "observations[0].spread"),
        (lambda log: {"observations": [{**log["observations"][0], "observed": {}}]}, "observations[0].observed"),
        (lambda log: {"observations": [{**log["observations"][0], "look": "damp"}]}, "observations[0].look"),
        (lambda log: {"observations": log["observations"] * 90}, "1080 are more than the 1000"),
    ],
)
def test_what_is_no_log_is_refused_in_a_sentence(log: dict[str, Any], change: Any, says: str) -> None:
    with pytest.raises(JobError) as refused:
        fit_data(change(log))
    assert says in error_text(refused.value)
    assert len(error_text(refused.value)) < 300


def test_places_of_bad_jobs_are_named(log: dict[str, Any]) -> None:
    broken = json.loads(json.dumps(log))
    broken["observations"][3]["job"]["stack"][0]["ink"] = "nobody"
    with pytest.raises(JobError) as refused:
        fit_data(broken)
    assert refused.value.place[:3] == ("observations", 3, "job")
    other = json.loads(json.dumps(log))
    other["hold_out"][1]["job"]["inks"]["red"]["name"] = "Another Red"
    with pytest.raises(JobError) as refused:
        fit_data(other)
    assert refused.value.place[:2] == ("hold_out", 1)
    assert "another one than before" in refused.value.message


def test_jobs_it_gives_are_jobs(told: dict[str, Any]) -> None:
    assert [read_one(job).stack for job in told["jobs"]] == [read_one(job).stack for job in told["jobs"]]
    assert all(read_one(job).constants for job in told["jobs"])
