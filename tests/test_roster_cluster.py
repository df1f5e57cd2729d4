"""A roster on a real Dask cluster: a scheduler and two worker processes, one of which is killed in the middle."""

import os
import signal
import subprocess
import sys
import time

import pytest
from test_roster_rendering import HereCrew, names, plan, strap  # noqa: F401

from avlet.errors import RenderError, StorageError
from avlet.roster import cluster as cluster_module
from avlet.roster import making
from avlet.roster.cluster import ClusterCrew
from avlet.roster.crew import Failed
from avlet.roster.delivery import read_delivery, still_there
from avlet.roster.making import Made
from avlet.roster.rendering import render_roster

WORDS = "Name,Length\n" + "".join(f"Person {n},{60 + n}\n" for n in range(6))


class Cluster:
    """A scheduler and its workers, as processes of their own."""

    def __init__(self, folder):
        self.folder = folder
        self.environment = {**os.environ, "DASK_DISTRIBUTED__WORKER__DAEMON": "False", "DASK_DISTRIBUTED__LOGGING__DISTRIBUTED": "critical"}
        self.scheduler = self._start("scheduler", "--port", "0", "--host", "127.0.0.1", "--scheduler-file", str(folder / "file"))
        self.workers = []

    def _start(self, what, *words):
        more = ["--no-dashboard"] if what == "scheduler" else ["--dashboard-address", "127.0.0.1:0"]
        code = f"from distributed.cli.dask_{what} import main; main()"
        return subprocess.Popen(
            [sys.executable, "-c", code, *words, *more], env=self.environment, cwd=self.folder, stderr=subprocess.DEVNULL
        )

    def add(self):
        words = ("--scheduler-file", str(self.folder / "file"), "--nthreads", "1", "--no-nanny", "--local-directory", str(self.folder))
        self.workers.append(self._start("worker", *words))

    @property
    def address(self):
        import json

        until = time.monotonic() + 60
        while time.monotonic() < until:
            if (self.folder / "file").exists() and (words := (self.folder / "file").read_text()):
                return json.loads(words)["address"]
            time.sleep(0.05)
        raise AssertionError("no scheduler")

    def end(self):
        for process in (*self.workers, self.scheduler):
            process.kill()
            process.wait()


@pytest.fixture
def cluster(tmp_path_factory):
    made = Cluster(tmp_path_factory.mktemp("dask"))
    try:
        made.add()
        made.add()
        yield made
    finally:
        made.end()


def test_a_killed_worker_costs_nothing_and_the_bytes_are_those_of_here(strap, tmp_path, cluster):  # noqa: F811
    roster = plan(strap, WORDS)
    here = render_roster(roster, strap.book, tmp_path / "here", HereCrew())
    done, killed = [], []

    def told(state):
        done.extend([state.item] * state.done)
        if done and not killed:
            killed.append(cluster.workers[0])
            os.kill(killed[0].pid, signal.SIGKILL)
        return True

    there = render_roster(roster, strap.book, tmp_path / "there", ClusterCrew(cluster.address), told)
    assert killed and killed[0].wait(10) == -signal.SIGKILL
    assert sorted(done) == list(range(6)) and there.made == 6 and not there.delivery.left_out
    assert [f.sha256 for f in there.delivery.files] == [f.sha256 for f in here.delivery.files]
    assert all(still_there(tmp_path / "there", one) for one in there.delivery.files)
    assert not [name for name in names(tmp_path / "there") if name.startswith(".")]
    again = render_roster(roster, strap.book, tmp_path / "there", ClusterCrew(cluster.address))
    assert (again.kept, again.made) == (6, 0)


def test_rows_that_fail_there_and_a_scheduler_that_goes_away(strap, tmp_path, cluster):  # noqa: F811
    seen = []

    def told(state):
        seen.append(state)
        if state.done:
            cluster.scheduler.kill()
        return True

    cluster_module_lost = cluster_module._LOST
    cluster_module._LOST = 2.0
    try:
        with pytest.raises(RenderError, match="went away"):
            render_roster(plan(strap, WORDS), strap.book, tmp_path, ClusterCrew(cluster.address), told)
    finally:
        cluster_module._LOST = cluster_module_lost
    finished = read_delivery(tmp_path)
    assert len(finished.files) >= 1 and not finished.complete and still_there(tmp_path, finished.files[0])


def test_another_version_is_refused(strap, tmp_path, cluster, monkeypatch):  # noqa: F811
    monkeypatch.setattr(making, "__version__", "9.9")
    with pytest.raises(RenderError, match=r"has avlet 0\.1\.0, this machine 9\.9"):
        render_roster(plan(strap, WORDS), strap.book, tmp_path, ClusterCrew(cluster.address))


def test_a_scheduler_that_is_not_there_or_has_no_workers(strap, tmp_path, tmp_path_factory, monkeypatch):  # noqa: F811
    monkeypatch.setattr(cluster_module, "_REACHING", 1.0)
    for address in ("tcp://127.0.0.1:9", "nonsense://x", "tcp://no.such.host.invalid:1", ""):
        with pytest.raises(RenderError, match="No scheduler answers"):
            render_roster(plan(strap, WORDS), strap.book, tmp_path, ClusterCrew(address))
    lonely = Cluster(tmp_path_factory.mktemp("dask"))
    try:
        with pytest.raises(RenderError, match=r"has no workers\. Start some: dask worker"):
            render_roster(plan(strap, WORDS), strap.book, tmp_path, ClusterCrew(lonely.address))
    finally:
        lonely.end()


@pytest.mark.parametrize(
    ("address", "says"),
    [
        ("inproc://127.0.0.1:8786", "“inproc” is no kind of address that is known here: tcp, tls, ws"), ("ucx://a:1", "“ucx” is no kind"),
        ("http://a:80", "“http” is no kind"), ("tcp://a:70000", "written as tcp"), ("tcp://a:0", "written as tcp"), ("tcp://a b:1", "written as tcp"),
        ("tls://127.0.0.1:9", "an encrypted address needs its files: set DASK_DISTRIBUTED__COMM__TLS__CA_FILE"), ("tcp://[::1]:9", "No scheduler answers"),
        ("ws://127.0.0.1:9", "No scheduler answers"), ("127.0.0.1:9", "No scheduler answers"), ("tcp://x:1\x1b[31m", "written as tcp"),
    ],
)  # fmt: skip
def test_only_kinds_of_address_that_are_known_are_tried_and_nothing_is_left(strap, tmp_path, monkeypatch, address, says):  # noqa: F811
    monkeypatch.setattr(cluster_module, "_REACHING", 1.5)
    with pytest.raises(RenderError, match="No scheduler answers") as told:
        render_roster(plan(strap, WORDS), strap.book, tmp_path / "films", ClusterCrew(address))
    assert says in str(told.value) and "\n" not in str(told.value)
    assert not (tmp_path / "films").exists(), "no list where nothing was begun"


def test_an_encrypted_address_names_the_file_that_is_not_there(monkeypatch):
    import dask

    files = {f"distributed.comm.tls.{name}": "/nowhere/a.pem" for name in ("ca-file", "client.cert", "client.key")}
    with (
        dask.config.set(files),
        pytest.raises(RenderError, match=r"no file “/nowhere/a.pem”, which DASK_DISTRIBUTED__COMM__TLS__CA_FILE names"),
    ):
        ClusterCrew("tls://127.0.0.1:9").begin()


def test_a_port_that_takes_a_connection_and_says_nothing_is_left_in_time(monkeypatch):
    import socket

    monkeypatch.setattr(cluster_module, "_REACHING", 2.0)
    silent = socket.create_server(("127.0.0.1", 0))
    begun = time.monotonic()
    with pytest.raises(RenderError, match="No scheduler answers"):
        ClusterCrew(f"tcp://127.0.0.1:{silent.getsockname()[1]}").begin()
    assert time.monotonic() - begun < 20
    silent.close()


def test_workers_with_other_fonts_are_refused(strap, tmp_path, cluster, monkeypatch):  # noqa: F811
    monkeypatch.setattr(making, "fonts_digest", lambda: "0000")
    with pytest.raises(RenderError, match=r"has other fonts: films would differ"):
        render_roster(plan(strap, WORDS), strap.book, tmp_path / "films", ClusterCrew(cluster.address))
    assert not (tmp_path / "films").exists()


def test_the_digest_of_the_fonts_is_of_their_bytes(tmp_path, monkeypatch):
    (tmp_path / "a").mkdir()
    digests = set()
    for name, data in (("a/x.ttf", b"one"), ("a/x.ttf", b"two"), ("a/y.otf", b"one")):
        (tmp_path / name).write_bytes(data)
        monkeypatch.setattr(making, "BUNDLED", tmp_path)
        digests.add(making.fonts_digest.__wrapped__())
    assert len(digests) == 3


def test_without_dask_it_is_said_what_to_install(strap, tmp_path, monkeypatch):  # noqa: F811
    monkeypatch.setitem(sys.modules, "distributed", None)
    with pytest.raises(RenderError, match="avlet\\[cluster\\]"):
        render_roster(plan(strap, WORDS), strap.book, tmp_path, ClusterCrew("tcp://127.0.0.1:9"))


def test_a_worker_that_does_not_see_the_folder_sends_the_file(strap, tmp_path, monkeypatch):  # noqa: F811
    class Blind(HereCrew):
        def run(self, jobs, sources):
            for event in super().run(jobs, sources):
                assert isinstance(event, Made) and event.data is not None
                yield event

    with monkeypatch.context() as blind:
        blind.setattr(making, "sees", lambda *_: False)
        outcome = render_roster(plan(strap, "Name,Length\nBo,26\n"), strap.book, tmp_path / "a", Blind())
    near = render_roster(plan(strap, "Name,Length\nBo,26\n"), strap.book, tmp_path / "b", HereCrew())
    assert outcome.delivery.files == near.delivery.files and still_there(tmp_path / "a", outcome.delivery.files[0])


def test_what_does_not_come_whole_is_not_taken(strap, tmp_path, monkeypatch):  # noqa: F811
    class Torn(HereCrew):
        def run(self, jobs, sources):
            for event in super().run(jobs, sources):
                yield Made(**{**vars(event), "data": event.data[:-1]}) if not isinstance(event, Failed) else event

    monkeypatch.setattr(making, "sees", lambda *_: False)
    with pytest.raises(StorageError, match="did not come whole"):
        render_roster(plan(strap, "Name,Length\nBo,26\n"), strap.book, tmp_path, Torn())
    assert not list(tmp_path.glob("*.mov"))
