"""Measure how the whole program bears many readers, hostile documents, and processes that are killed.

python -m benchmarks.reliability [home] [readers] [documents] [kills]

It starts a server of its own on 127.0.0.1 with data of its own, and ends it; without a name all parts run, in about twelve minutes.
"""

from __future__ import annotations

import copy
import os
import random
import re
import signal
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psutil
import requests

ROOT = Path(__file__).resolve().parent.parent
CASES = 30
READERS, PAUSE, READING = 100, 5.0, 40.0
DOCUMENTS = 1000
KILLS = 60
# Longer than this the service may not be away, and no answer may take.
AWAY, SLOW = 10.0, 5.0
_PATIENCE = 120.0

# Put in the place of anything that a document holds.
HOSTILE: tuple[Any, ...] = (
    "",
    "0",
    "-1",
    "1e308 m",
    "nan",
    "2 m**9**9**9",
    "(" * 300,
    "a" * 5000,
    "length*length",
    "__import__('os')",
    "3 mm; 4 mm",
    "20 °C",
    "0 K",
    None,
    [],
    {},
    -1,
    1e300,
    True,
    ["x"] * 300,
    {"type": "circle"},
    "plate",
    "void",
    "\u0000",
)


class Server:
    """The program on a port of 127.0.0.1, with data in a folder."""

    def __init__(self, folder: str) -> None:
        command = [sys.executable, str(ROOT / "manage.py"), "serve", "--port", "8460"]
        environment = os.environ | {"WATTIKOS_DATA": folder, "PYTHONUNBUFFERED": "1"}
        self.process = subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
        assert self.process.stdout is not None
        link = next(found for line in self.process.stdout if (found := re.search(r"http://\S+", line)))[0]
        self.base = link.split("/sign-in")[0]
        self.session = requests.Session()
        self.session.get(link, timeout=_PATIENCE)
        self.session.get(f"{self.base}/api/session", timeout=_PATIENCE)

    def ask(self, method: str, path: str, body: Any = None, timeout: float = _PATIENCE) -> requests.Response:
        """One request of the user who is signed in."""
        headers = {"X-CSRFToken": self.session.cookies.get("csrftoken") or ""}
        return self.session.request(method, self.base + path, json=body, headers=headers, timeout=timeout)

    def get(self, path: str) -> Any:
        """What a path answers."""
        answer = self.ask("GET", path)
        answer.raise_for_status()
        return answer.json()

    def started(self) -> list[psutil.Process]:
        """All processes that it has started."""
        return psutil.Process(self.process.pid).children(recursive=True)

    def close(self) -> None:
        """End it and all that it has started."""
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(60)


@contextmanager
def serving() -> Iterator[Server]:
    """A server while it is wanted."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(folder)
        try:
            yield server
        finally:
            server.close()


def home(server: Server) -> None:
    """The page of a project with thirty cases."""
    cases = server.get("/api/projects/1/cases")
    while len(cases) < CASES:
        server.ask("POST", "/api/projects/1/cases", {"copy_of": cases[len(cases) % 14]["id"]}).raise_for_status()
        cases = server.get("/api/projects/1/cases")
    times = []
    for _ in range(20):
        begun = time.perf_counter()
        server.get("/api/projects")
        server.get("/api/projects/1/cases")
        times.append(1000.0 * (time.perf_counter() - begun))
    print(f"home page of {len(cases)} cases: median {statistics.median(times):.0f} ms, slowest {max(times):.0f} ms", flush=True)


def readers(server: Server) -> None:
    """A hundred people who look at one thing after the other, while two cases are being solved."""
    cases = server.get("/api/projects/1/cases")
    runs = [run["id"] for case in cases[:14] for run in server.get(f"/api/cases/{case['id']}/runs")]
    paths = ["/api/projects", "/api/projects/1/cases", *(f"/api/cases/{case['id']}" for case in cases)]
    paths += [f"/api/runs/{run}" for run in runs] + [f"/api/cases/{case['id']}/state" for case in cases]
    for case in cases[:2]:
        start_run(server, case["id"])
    times: list[float] = []
    codes: Counter[int] = Counter()
    cookies = {name: value or "" for name, value in server.session.cookies.get_dict().items()}
    end = time.monotonic() + READING

    def read(number: int) -> None:
        chance = random.Random(number)
        with requests.Session() as session:
            session.cookies.update(cookies)
            time.sleep(chance.uniform(0.0, PAUSE))
            while time.monotonic() < end:
                begun = time.perf_counter()
                codes[session.get(server.base + chance.choice(paths), timeout=_PATIENCE).status_code] += 1
                times.append(1000.0 * (time.perf_counter() - begun))
                time.sleep(PAUSE)

    people = [threading.Thread(target=read, args=(i,)) for i in range(READERS)]
    for person in people:
        person.start()
    for person in people:
        person.join()
    times.sort()
    wrong = sum(n for code, n in codes.items() if code >= 500)
    print(
        f"{READERS} readers at {PAUSE:g} s, two solves going: {len(times)} answers, median {statistics.median(times):.0f} ms, "
        f"95 % within {times[int(0.95 * len(times))]:.0f} ms, {wrong} of 5xx",
        flush=True,
    )


def start_run(server: Server, case: int) -> requests.Response:
    """Ask for a solve of a case as it stands."""
    revision = server.get(f"/api/cases/{case}")["revision"]
    return server.ask("POST", f"/api/cases/{case}/runs", {"kind": "solve", "revision": revision})


def documents(server: Server) -> None:
    """Cases with something wrong anywhere, looked at and gridded."""
    chance = random.Random(15)
    starters = [server.get(f"/api/cases/{case['id']}")["document"] for case in server.get("/api/projects/1/cases")[:14]]
    codes: Counter[int] = Counter()
    slowest, culprit = 0.0, ""
    for number in range(DOCUMENTS):
        document, told = copy.deepcopy(chance.choice(starters)), ""
        for _ in range(chance.choice((1, 1, 2, 5))):
            told = spoil(document, chance)
        path = "/api/evaluate" if number % 4 else "/api/grid"
        body: dict[str, Any] = {"document": document}
        begun = time.perf_counter()
        codes[server.ask("POST", path, body | ({"runs": []} if number % 4 else {})).status_code] += 1
        took = time.perf_counter() - begun
        if took > slowest:
            slowest, culprit = took, f"{path} {told}"
    answers = ", ".join(f"{code}: {count}" for code, count in sorted(codes.items()))
    verdict = "" if slowest < SLOW else " (too slow)"
    print(f"{DOCUMENTS} hostile documents: {answers}; slowest {slowest:.1f} s{verdict}, {culprit[:100]}", flush=True)


def spoil(document: Any, chance: random.Random) -> str:
    """Put something hostile in the place of something in a document; says what and where."""
    at, trail = document, []
    while True:
        keys = list(at) if isinstance(at, dict) else list(range(len(at)))
        if not keys:
            return "nothing"
        key = chance.choice(keys)
        trail.append(str(key))
        if not isinstance(at[key], dict | list) or not at[key] or chance.random() < 0.1:
            at[key] = chance.choice(HOSTILE)
            return f"{'.'.join(trail)} = {str(at[key])[:30]!r}"
        at = at[key]


def kills(server: Server) -> None:
    """Kill a process of the program at random instants, while cases are saved, solved and deleted."""
    chance = random.Random(27)
    first = server.get("/api/projects/1/cases")[0]["id"]
    made = [server.ask("POST", "/api/projects/1/cases", {"copy_of": first}).json()["id"] for _ in range(4)]
    said: dict[int, str] = {}
    away: list[float] = []
    for number in range(KILLS):
        case = chance.choice(made)
        act = chance.choice((save, save, solve, delete))
        work = threading.Thread(target=act, args=(server, case, number, said))
        work.start()
        time.sleep(chance.uniform(0.0, 0.6))
        victims = [p for p in server.started() if p.is_running()]
        if victims:
            chance.choice(victims).kill()
        begun = time.monotonic()
        while not answers(lambda: server.ask("GET", f"/api/cases/{first}/state", timeout=2.0)):
            time.sleep(0.05)
        away.append(time.monotonic() - begun)
        work.join()
    lost = [case for case, title in said.items() if server.get(f"/api/cases/{case}")["document"]["title"] != title]
    runs = [run for case in made for run in server.get(f"/api/cases/{case}/runs")]
    end = time.monotonic() + 4 * _PATIENCE
    stuck = {run["id"] for run in runs}
    while stuck and time.monotonic() < end:
        stuck = {run for run in stuck if server.get(f"/api/runs/{run}")["state"] in ("queued", "running")}
        time.sleep(1.0)
    print(
        f"{KILLS} kills: back after {max(away):.1f} s at the most, median {statistics.median(away):.2f} s; {len(lost)} saves lost "
        f"of {len(said)} cases, {len(runs)} runs, {len(stuck)} stuck",
        flush=True,
    )


def answers(ask: Callable[[], requests.Response]) -> bool:
    """Whether a request is answered as it should be."""
    try:
        return ask().status_code == 200
    except requests.RequestException:
        return False


def save(server: Server, case: int, number: int, said: dict[int, str]) -> None:
    """Give a case a title; what is acknowledged must be there at the end."""
    title = f"saved at {number}"
    try:
        now = server.ask("GET", f"/api/cases/{case}", timeout=AWAY)
        if now.status_code != 200:
            return
        document = now.json()["document"] | {"title": title}
        answer = server.ask("PUT", f"/api/cases/{case}", {"revision": now.json()["revision"], "document": document}, timeout=AWAY)
        if answer.status_code == 200:
            said[case] = title
    except requests.RequestException:
        # Nobody knows whether it arrived: then the next save decides.
        said.pop(case, None)


def solve(server: Server, case: int, number: int, said: dict[int, str]) -> None:
    """Ask for a solve."""
    try:
        start_run(server, case)
    except requests.RequestException:
        return


def delete(server: Server, case: int, number: int, said: dict[int, str]) -> None:
    """Delete a case, with a run that may be going, and bring it back."""
    for method, path in (("DELETE", f"/api/cases/{case}"), ("POST", f"/api/cases/{case}/bring-back")):
        for _ in range(40):
            try:
                server.ask(method, path, timeout=AWAY)
                break
            except requests.RequestException:
                time.sleep(0.25)


PARTS = {"home": home, "readers": readers, "documents": documents, "kills": kills}


if __name__ == "__main__":
    with serving() as running:
        for name in sys.argv[1:] or list(PARTS):
            PARTS[name](running)
