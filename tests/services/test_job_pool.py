"""Jobs and their workers: states only move forward, the worker reports in lines, and a stopped server's jobs are resumed."""

from __future__ import annotations

import io
import json
import threading

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import Bundle, RuleBasedStateMachine, consumes, initialize, invariant, multiple, rule

from dramok.core.problem import Problem
from dramok.services import Missing, Refused, open_workspace
from dramok.services.cards.card_edits import retire_cards
from dramok.services.output import jobs
from dramok.services.output.card_pictures import PictureOrder
from dramok.services.output.chosen_cards import CardChoice
from dramok.services.output.job_pool import JobPool, _Process
from dramok.services.output.job_steps import Made
from dramok.services.output.job_worker import Worker
from dramok.services.output.print_runs import run_doc
from dramok.services.output.printing import PrintOrder
from dramok.store import Key
from tests.conftest import A_BUSY_MACHINES, GAME


def ask(workspace, query="code is RS-001", key=None, **order):
    return jobs.create_job(workspace, workspace.game(GAME), PictureOrder(choice=CardChoice(query=query), form="svg", **order), key)  # fmt: skip


def said(worker):
    return [json.loads(line) for line in worker.out.getvalue().splitlines()]


# The worker, in this process.


def test_the_worker_tells_how_far_it_is_and_what_it_made(workspace):
    job = ask(workspace, "cost < 2", sides="both")
    worker = Worker(workspace, io.StringIO())
    worker._make({"make": job.id, "cards": jobs.resolve(workspace, job)})
    *ticks, last = said(worker)
    assert all(set(each) == {"at"} and each["at"][0] <= each["at"][1] for each in ticks)
    assert [each["at"][0] for each in ticks] == sorted(each["at"][0] for each in ticks)
    assert ticks[-1]["at"][0] == ticks[-1]["at"][1]
    assert last["done"]["run"] is None and last["done"]["bytes"] > 1_000
    folder = jobs.folder_of(workspace, job)
    assert [each.name for each in folder.iterdir()] == [last["done"]["made"]["name"]]
    assert (folder / last["done"]["made"]["name"]).stat().st_size == last["done"]["bytes"]


def test_the_worker_makes_the_cards_selected_when_it_was_ordered(workspace):
    """What is meant is resolved by the server: a card removed since is left out and said, not exchanged for another."""
    job = ask(workspace, "code is RS-001 or code is RS-002")
    cards = jobs.resolve(workspace, job)
    retire_cards(workspace, GAME, [f"c-{GAME}-rs-001"], "page")
    worker = Worker(workspace, io.StringIO())
    worker._make({"make": job.id, "cards": cards})
    done = said(worker)[-1]["done"]
    assert any("removed" in each for each in done["made"]["warnings"]), done


def test_a_stopped_worker_leaves_nothing(workspace):
    job = ask(workspace)
    worker = Worker(workspace, io.StringIO())
    worker.stopped.add(job.id)
    worker._make({"make": job.id, "cards": jobs.resolve(workspace, job)})
    assert said(worker) == [{"stopped": True}]
    assert not list(jobs.folder_of(workspace, job).glob("*"))


def test_errors_of_the_worker_are_reported_with_a_fix(workspace, monkeypatch):
    job = ask(workspace)
    worker = Worker(workspace, io.StringIO())
    worker._make({"make": "j-gone", "cards": None})
    monkeypatch.setattr(jobs, "write", lambda *_: 1 / 0)
    worker._make({"make": job.id, "cards": jobs.resolve(workspace, job)})
    monkeypatch.setattr(jobs, "write", lambda *_: (_ for _ in ()).throw(MemoryError()))
    worker._make({"make": job.id, "cards": jobs.resolve(workspace, job)})
    gone, divided, memory = said(worker)
    assert gone == {"stopped": True}
    assert divided["failed"]["what"].startswith("it failed: ZeroDivisionError") and divided["failed"]["mend"]
    assert memory["failed"]["what"] == "there is not enough memory"
    assert not list(jobs.folder_of(workspace, job).glob("result*")), "nothing half made is left"


def test_the_worker_hears_what_it_is_asked_and_what_it_is_to_stop(workspace, monkeypatch):
    ended = threading.Event()
    monkeypatch.setattr("dramok.services.output.job_worker.os.killpg", lambda *_: ended.set())
    worker = Worker(workspace, io.StringIO())
    worker.listen(io.StringIO('{"make": "a", "cards": null}\n{"stop": "b"}\n'))
    assert worker.asked.get_nowait() == {"make": "a", "cards": None} and worker.stopped == {"b"}
    assert ended.is_set(), "when nobody is there any more to ask, it ends with all that it began"


# The works, with a worker of their own process.


def until(workspace, job, *states):
    """Waits for a state by looking at what is written, not at a clock; gives up when nothing is left to wait for."""
    waiting = threading.Event()
    for _ in range(20 * A_BUSY_MACHINES):
        now = workspace.store.job(job.id)
        if now is not None and now.state in states:
            return now
        waiting.wait(0.05)
    raise AssertionError(f"{job.id} is {now.state if now else 'gone'}, not {states}")


def test_a_job_that_is_stopped_while_it_is_taken_up_is_stopped(workspace, monkeypatch):
    """Between being taken and having a process nobody loses sight of it, though who stops it saw it waiting."""
    first = ask(workspace)
    makers = JobPool(workspace, at_once=1)

    class Slow(_Process):
        def __init__(self, *asked):
            if first.id in makers._running:
                makers.stop(first)
            super().__init__(*asked)

    monkeypatch.setattr("dramok.services.output.job_pool._Process", Slow)
    try:
        makers.wake()
        assert until(workspace, first, "stopped", "done", "failed").state == "stopped"
        assert not jobs.folder_of(workspace, first).exists()
        # The process is as good as before for the next one.
        second = ask(workspace)
        makers.wake()
        assert until(workspace, second, "done", "failed").state == "done"
    finally:
        makers.close()


def test_a_job_whose_process_cannot_begin_fails_with_a_word(workspace, monkeypatch):
    job = ask(workspace)
    makers = JobPool(workspace, at_once=1)

    def none(*_):
        raise OSError("no more processes")

    monkeypatch.setattr("dramok.services.output.job_pool._Process", none)
    try:
        makers.wake()
        failed = until(workspace, job, "failed", "done")
        assert failed.result["problem"]["what"] == "it failed: OSError: no more processes" and failed.result["problem"]["mend"]
    finally:
        makers.close()
    assert makers.progress(job.id) is None


def test_jobs_are_made_one_after_another_and_a_run_is_recorded_once(workspace):
    works = JobPool(workspace, at_once=1)
    try:
        first = ask(workspace)
        second = jobs.create_job(workspace, workspace.game(GAME), PrintOrder(choice=CardChoice(query="cost < 2")))
        works.wake()
        done = until(workspace, second, "done", "failed")
        assert done.state == "done" and until(workspace, first, "done").state == "done"
        assert jobs.result_of(workspace, done).read_bytes()[:5] == b"%PDF-"
        runs = workspace.game(GAME).of_kind("run")
        assert [each.id for each in runs] == [f"r{second.id}"]
        jobs.finish_job(workspace, done, outcome_of(workspace, done))
        assert len(workspace.game(GAME).of_kind("run")) == 1, "told twice that it is done, it is the same run"
    finally:
        works.close()


def outcome_of(workspace, job):
    """What the worker said of a job that is done, made again from what is kept of it."""
    kept = dict(job.result)
    facts = {name: kept[name] for name in Made.__dataclass_fields__ if name in kept}
    facts |= {"name": job.file, "warnings": tuple(kept["warnings"]), "guide": tuple(kept["guide"])}
    plan = jobs.plan_of(workspace, workspace.game(GAME), jobs.read_order(job.kind, job.order))
    return jobs.Outcome(Made(**facts), job.bytes, run_doc(plan))


def test_what_was_being_made_when_the_server_died_waits_again_and_is_made(db):
    workspace = open_workspace(db)
    job = ask(workspace)
    assert workspace.store.set_job(job.id, "running", ("waiting",))
    folder = jobs.folder_of(workspace, job)
    folder.mkdir(parents=True)
    (folder / "result.part").write_bytes(b"half")
    workspace.close()
    workspace = open_workspace(db)
    works = JobPool(workspace)
    try:
        works.resume()
        done = until(workspace, job, "done", "failed")
        assert done.state == "done" and [each.name for each in folder.iterdir()] == [done.file]
    finally:
        works.close()
        workspace.close()


def test_a_job_whose_deck_is_gone_fails_with_the_reason_and_the_next_is_made(workspace):
    works = JobPool(workspace, at_once=1)
    try:
        lost = jobs.create_job(
            workspace, workspace.game(GAME), PictureOrder(choice=CardChoice(query="code is RS-003"), form="svg")
        )
        good = ask(workspace)
        retire_cards(workspace, GAME, [f"c-{GAME}-rs-003"], "page")
        works.wake()
        failed = until(workspace, lost, "failed", "done")
        assert failed.state == "failed"
        assert until(workspace, good, "done").state == "done"
        with pytest.raises(Missing, match="make it again"):
            jobs.result_of(workspace, failed)
    finally:
        works.close()


# Every way through the states.


class Jobs(RuleBasedStateMachine):
    """Asked for, begun, ended in any order, by who may and who may not: an ended job stays as it ended."""

    made = Bundle("made")

    @initialize()
    def opened(self):
        import shutil
        import tempfile
        from pathlib import Path

        self.folder = Path(tempfile.mkdtemp())
        shutil.copy(Jobs.demo, self.folder / "jobs.db")
        self.workspace = open_workspace(self.folder / "jobs.db")
        self.states: dict[str, str] = {}
        self.keys: dict[str, str] = {}

    def teardown(self):
        import shutil

        if hasattr(self, "workspace"):
            self.workspace.close()
            shutil.rmtree(self.folder)

    @rule(target=made, key=st.none() | st.sampled_from("abc"))
    def asks(self, key):
        job = ask(self.workspace, key=Key(key, "the same") if key else None)
        if key and key in self.keys:
            assert job.id == self.keys[key], "the same key is the same job"
            return multiple()
        if key:
            self.keys[key] = job.id
        self.states[job.id] = "waiting"
        return job.id

    @rule(ident=made)
    def begins(self, ident):
        begun = self.workspace.store.set_job(ident, "running", ("waiting",))
        assert begun == (self.states.get(ident) == "waiting")
        if begun:
            self.states[ident] = "running"

    @rule(ident=made, state=st.sampled_from(["stopped", "failed"]))
    def ends(self, ident, state):
        job = self.workspace.store.job(ident)
        if job is None:
            assert ident not in self.states
            return
        jobs.end(
            self.workspace, job, state, Problem(where="job", what="so", mend="else") if state == "failed" else None
        )
        if self.states[ident] in jobs.OPEN:
            self.states[ident] = state

    @rule()
    def server_dies_and_comes_back(self):
        jobs.recover_jobs(self.workspace, self.workspace.store.jobs(states=("running",)))
        self.states = {
            ident: "waiting" if state == "running" else state for ident, state in self.states.items()
        }

    @rule(ident=consumes(made))
    def is_taken_away(self, ident):
        job = self.workspace.store.job(ident)
        if job is None:
            return
        if job.state in jobs.OPEN:
            with pytest.raises(Refused, match="still being made"):
                jobs.remove(self.workspace, job)
            jobs.end(self.workspace, job, "stopped")
            job = self.workspace.store.job(ident)
        jobs.remove(self.workspace, job)
        del self.states[ident]
        self.keys = {key: each for key, each in self.keys.items() if each != ident}

    @invariant()
    def the_file_says_so(self):
        if not hasattr(self, "workspace"):
            return
        held = {job.id: job.state for job in self.workspace.store.jobs(GAME)}
        assert held == self.states
        for job in self.workspace.store.jobs(GAME):
            assert (job.ended is None) == (job.state in jobs.OPEN), job
            if job.state == "failed":
                assert (job.result if isinstance(job.result, dict) else json.loads(job.result))["problem"][
                    "what"
                ]


def test_the_states_of_jobs_only_go_forward(demo_file):
    Jobs.demo = demo_file
    from hypothesis.stateful import run_state_machine_as_test

    run_state_machine_as_test(
        Jobs,
        settings=settings(max_examples=12, stateful_step_count=20, deadline=None, suppress_health_check=list(HealthCheck)),
    )  # fmt: skip
