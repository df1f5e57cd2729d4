"""Making a roster's files on a Dask cluster, through the optional ``distributed`` (``avlet[cluster]``)."""

import contextlib
import logging
import queue
import re
import threading
import time
import uuid
from collections.abc import Callable, Iterable, Iterator, Mapping
from pathlib import Path
from typing import Any

from avlet.document.metadata import brief
from avlet.errors import AvletError, RenderError
from avlet.media.render import StoppedError
from avlet.numbers.exact import in_figures
from avlet.roster.crew import Event, Failed
from avlet.roster.making import FONTS, Job, Made, Source, learn, make, versions
from avlet.storage.reading import is_there

_ADDRESS = re.compile(r"(?:(?P<kind>[a-z]+)://)?(?:[^\s/:]+|\[[0-9a-fA-F:]+\]):(?P<port>\d{1,5})")
_KINDS = ("tcp", "tls", "ws")
"""Kinds of address: plain, encrypted, and over a web socket."""
_REACHING = 10.0
"""Seconds in which a scheduler and a worker have to answer."""
_LOST = 12.0
"""Seconds without a scheduler, and four times as many without a worker, until that is said."""
_LOOK, _ASKING = 0.5, 5.0
"""Seconds between two looks at what is done, and at how many workers there are."""


def carried(source: Source) -> Source:
    """On the cluster: a source, which other workers take from the one that has it, and which comes anew when that is gone."""
    return source


def made_there(job: Job, source: Source) -> Made:
    """On a worker: a file."""
    learn(source)
    return make(job)


class ClusterCrew:
    """The workers of a scheduler, by its address such as ``tcp://render-1:8786``."""

    def __init__(self, address: str) -> None:
        self.address = address
        self._client: Any = None

    def begin(self) -> None:
        if self._client is not None:
            return
        until = time.monotonic() + _REACHING
        client = self._reached()
        try:
            self._compare_versions(client, until)
        except BaseException:  # also an interruption: the connection is let go before it goes on
            self._leave(client)
            raise
        self._client = client

    def run(self, jobs: Iterable[Job], sources: Mapping[str, Source]) -> Iterator[Event]:
        self.begin()
        client, self._client = self._client, None
        at_work: dict[Any, Job] = {}
        try:
            name = uuid.uuid4().hex[:12]
            carriers = {mark: client.submit(carried, source, key=f"avlet-source-{name}-{mark}") for mark, source in sources.items()}
            waiting = iter(jobs)
            seen = time.monotonic()
            threads, asked = self._threads(client), seen
            while True:
                if time.monotonic() - asked > _ASKING:
                    threads, asked = self._threads(client), time.monotonic()
                while len(at_work) < 2 * max(1, threads) and (job := next(waiting, None)) is not None:
                    future = client.submit(made_there, job, carriers[job.source], key=f"avlet-{name}-{job.number}", pure=False)
                    at_work[future] = job
                if not at_work:
                    return
                done = self._done(client, at_work)
                seen = time.monotonic() if done or threads else seen
                if time.monotonic() - seen > 4 * _LOST:
                    raise RenderError(f"The scheduler at {self.address} has no workers any more. {_GO_ON}")
                for future in done:
                    yield self._event(client, at_work.pop(future), future)
        finally:
            with contextlib.suppress(Exception):  # whatever the cluster says to that: it is left
                client.cancel(list(at_work), force=True)
            self._leave(client)

    @staticmethod
    def _leave(client: Any) -> None:
        with contextlib.suppress(Exception):
            client.close(timeout=5)

    def _reached(self) -> Any:
        try:
            from distributed import Client
        except ImportError:
            raise RenderError(
                "Rendering on a cluster needs Dask: pip install 'avlet[cluster]'. Without it rows are rendered on this machine."
            ) from None
        logging.getLogger("distributed").setLevel(logging.CRITICAL)
        found = _ADDRESS.fullmatch(self.address)
        if found is None or not 0 < int(found["port"]) < 65_536:
            raise self._unreachable("an address is written as tcp://host:8786")
        if (kind := found["kind"] or "tcp") not in _KINDS:
            raise self._unreachable(f"“{kind}” is no kind of address that is known here: {', '.join(_KINDS)}")
        security = self._security() if kind == "tls" else None

        def reach() -> Any:
            return Client(self.address, timeout=0.6 * _REACHING, set_as_default=False, name="avlet", security=security)

        try:
            return _within(_REACHING, reach)
        except (OSError, ValueError, TypeError, TimeoutError, RuntimeError, ImportError) as error:
            raise self._unreachable(str(error).splitlines()[0][:160] if str(error) else type(error).__name__) from None

    def _security(self) -> Any:
        """The files of an encrypted connection, which Dask's own configuration names; raises ``RenderError`` where it does not."""
        from distributed.security import Security

        security = Security(require_encryption=True)
        files = {"CA_FILE": security.tls_ca_file, "CLIENT__CERT": security.tls_client_cert, "CLIENT__KEY": security.tls_client_key}
        for name, file in files.items():
            if not file:
                raise self._unreachable(f"an encrypted address needs its files: set DASK_DISTRIBUTED__COMM__TLS__{name}")
            if "\n" not in file and not is_there(Path(file)):
                raise self._unreachable(f"there is no file “{brief(file)}”, which DASK_DISTRIBUTED__COMM__TLS__{name} names")
        return security

    def _unreachable(self, why: str) -> RenderError:
        return RenderError(f"No scheduler answers at “{self.address}” ({why}). Start one with “dask scheduler”, or render on this machine.")

    def _compare_versions(self, client: Any, until: float) -> None:
        """All workers have to draw and code as this program does; raises ``RenderError`` that names the one that does not."""
        if not self._threads(client):
            with contextlib.suppress(Exception):
                client.wait_for_workers(1, timeout=max(1.0, until - time.monotonic() - 1))
        left = max(1.0, until - time.monotonic())
        try:
            told: dict[str, Any] = client.sync(client._run, versions, on_error="return", callback_timeout=left)
        except Exception:  # whatever a cluster says that is busy, or half gone
            raise RenderError(
                f"The workers of {self.address} do not answer within {in_figures(_REACHING)} seconds. See what keeps them."
            ) from None
        if not told:
            raise RenderError(f"The scheduler at {self.address} has no workers. Start some: dask worker {self.address} --nthreads 1.")
        own = versions()
        for worker, theirs in told.items():
            if not isinstance(theirs, dict):
                raise RenderError(f"The worker at {worker} has no Avlet of this kind ({theirs}). Install avlet {own['avlet']} there.")
            for name, version in own.items():
                if name == FONTS and theirs.get(name) != version:
                    raise RenderError(f"The worker at {worker} has other fonts: films would differ. Install the same there.")
                if theirs.get(name) != version:
                    raise RenderError(
                        f"The worker at {worker} has {name} {theirs.get(name, 'not at all')}, this machine {version}: "
                        "films would differ. Install the same there."
                    )

    @staticmethod
    def _threads(client: Any) -> int:
        """How many workers' threads there are."""
        with contextlib.suppress(Exception):
            return sum(w.get("nthreads", 1) for w in client.scheduler_info(n_workers=-1)["workers"].values())
        return 0

    def _done(self, client: Any, at_work: Mapping[Any, Job]) -> list[Any]:
        """What has been finished since; nothing after a while. Raises ``RenderError`` where the scheduler went away."""
        from distributed import wait

        since = time.monotonic()
        while True:
            with contextlib.suppress(Exception):  # that nothing was finished within the time, or that it could not be heard
                return list(wait(list(at_work), timeout=_LOOK, return_when="FIRST_COMPLETED").done)
            done = [future for future in at_work if future.done()]
            if done or client.status == "running":
                return done
            if client.status == "closed" or time.monotonic() - since > _LOST:
                raise RenderError(f"The scheduler at {self.address} went away. {_GO_ON}")
            time.sleep(_LOOK)

    def _event(self, client: Any, job: Job, future: Any) -> Event:
        from distributed import KilledWorker

        if future.cancelled() and client.status != "running":
            raise RenderError(f"The scheduler at {self.address} went away. {_GO_ON}")
        try:
            made: Made = future.result(timeout=_LOST)
        except KilledWorker as error:
            return Failed(
                job.number, f"{job.name}: {error.allowed_failures + 1} workers ended while they made it (out of memory?). It is left out."
            )
        except StoppedError:
            raise
        except AvletError as error:
            return Failed(job.number, str(error))
        except Exception as error:
            if client.status != "running":
                raise RenderError(f"The scheduler at {self.address} went away. {_GO_ON}") from None
            return Failed(job.number, f"{job.name} cannot be made ({type(error).__name__}: {error}).")
        return made


def _within(seconds: float, reach: Callable[[], Any]) -> Any:
    """What reaching gives; raises ``TimeoutError`` where it takes longer: some who take a connection never say a word."""
    answer: queue.SimpleQueue[tuple[bool, Any]] = queue.SimpleQueue()

    def reached() -> None:
        try:
            answer.put((True, reach()))
        except BaseException as error:  # raised again where the answer is waited for
            answer.put((False, error))

    threading.Thread(target=reached, name="reaching a cluster", daemon=True).start()
    try:
        done, value = answer.get(timeout=seconds)
    except queue.Empty:
        raise TimeoutError(f"no answer within {in_figures(seconds)} seconds") from None
    if not done:
        raise value
    return value


_GO_ON = "What was finished stays; render again to go on from there."
