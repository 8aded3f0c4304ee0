"""PostgreSQL of our own: a cluster in the data directory, on loopback, for this application alone."""

import contextlib
import fcntl
import glob
import os
import pwd
import secrets
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path

import psycopg
import psycopg.sql

__all__ = ["CannotStart", "cluster", "free_port"]


class CannotStart(RuntimeError):
    """PostgreSQL did not come up; the message says why and what to do."""


def free_port(first: int = 0) -> int:
    """`first` when it is free on loopback, else another free port."""
    for candidate in (first, 0):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", candidate))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise CannotStart("no free port on 127.0.0.1")


def _program(name: str) -> str:
    found = sorted(glob.glob(f"/usr/lib/postgresql/*/bin/{name}")) or [p for p in [shutil.which(name)] if p]
    if not found:
        raise CannotStart(f"{name} of PostgreSQL is not installed; install the package postgresql")
    return str(found[-1])


class _Server:
    def __init__(self, directory: Path):
        self.directory = directory
        # PostgreSQL refuses to run as root: then it runs as its own user
        self.user = pwd.getpwnam("postgres") if os.geteuid() == 0 else None
        self.log = directory.parent / "postgresql.log"

    def call(self, *command: str, **more: object) -> subprocess.CompletedProcess[str]:
        drop = {"user": self.user.pw_uid, "group": self.user.pw_gid, "extra_groups": []} if self.user else {}
        return subprocess.run(  # type: ignore[call-overload,no-any-return]
            command, capture_output=True, text=True, cwd="/", timeout=60, **drop, **more
        )

    def create(self) -> None:
        self.directory.parent.mkdir(parents=True, exist_ok=True)
        if self.user:
            self._reachable()
        self.directory.mkdir(mode=0o700, exist_ok=True)
        self.log.touch()
        password_file = self.directory.parent / "password"
        if not password_file.exists():
            password_file.write_text(secrets.token_hex(16))
        password_file.chmod(0o600)
        if self.user:
            for path in (self.directory, self.log, password_file):
                os.chown(path, self.user.pw_uid, self.user.pw_gid)
        done = self.call(
            _program("initdb"), "-D", str(self.directory), "-U", "madidus", f"--pwfile={password_file}", "-E", "UTF8",
            "--locale=C.UTF-8", "--auth=scram-sha-256",
        )  # fmt: skip
        if done.returncode:
            shutil.rmtree(self.directory, ignore_errors=True)
            raise CannotStart(f"the database could not be created:\n{done.stderr.strip()}")

    def _reachable(self) -> None:
        """The user postgres must be able to enter every folder on the way."""
        for folder in self.directory.parents:
            if not folder.stat().st_mode & 0o001:
                raise CannotStart(
                    f"the database user cannot enter {folder}; choose another folder with --data, or run as an "
                    "ordinary user"
                )

    def running(self) -> bool:
        return self.call(_program("pg_ctl"), "-D", str(self.directory), "status").returncode == 0

    def clear_leftovers(self) -> None:
        """After a kill: remove the lock file, but never while a server still works on the data."""
        lock = self.directory / "postmaster.pid"
        deadline = time.monotonic() + 15
        while time.monotonic() < deadline:
            if not any(_works_in(pid, self.directory) for pid in _processes()):
                lock.unlink(missing_ok=True)
                return
            time.sleep(0.2)
        raise CannotStart(f"another PostgreSQL still works on {self.directory}; stop it and start again")

    def start(self, port: int) -> None:
        done = self.call(
            _program("pg_ctl"), "-D", str(self.directory), "-w", "-t", "30", "-l", str(self.log), "-o",
            f"-p {port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c fsync=on", "start",
        )  # fmt: skip
        if done.returncode:
            tail = "\n".join(self.log.read_text(errors="replace").splitlines()[-5:])
            raise CannotStart(f"PostgreSQL does not come up:\n{tail}")

    def stop(self) -> None:
        for mode in ("fast", "immediate"):
            if (
                self.call(
                    _program("pg_ctl"), "-D", str(self.directory), "-m", mode, "-w", "-t", "20", "stop"
                ).returncode
                == 0
            ):
                return

    def port(self) -> int:
        return int((self.directory / "postmaster.pid").read_text().splitlines()[3])


def _processes() -> Iterator[int]:
    return (int(name) for name in os.listdir("/proc") if name.isdigit())


def _works_in(pid: int, directory: Path) -> bool:
    try:
        return Path(f"/proc/{pid}/cwd").resolve() == directory.resolve()
    except OSError:
        return False


@contextlib.contextmanager
def cluster(data: Path, database: str) -> Iterator[str]:
    """A running server on a cluster in `data`, with `database` in it; yields its URL and stops it at the end.

    Raises
    ------
    CannotStart
        When PostgreSQL is missing, cannot be created, or does not come up.
    """
    data.mkdir(parents=True, exist_ok=True)
    server = _Server(data / "postgresql")
    with (data / "lock").open("w") as guard:
        try:
            fcntl.flock(guard, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise CannotStart(
                f"Madidus already runs on {data}; stop it, or choose another folder with --data"
            ) from None
        if not (server.directory / "PG_VERSION").exists():
            shutil.rmtree(server.directory, ignore_errors=True)
            server.create()
        if not server.running():
            server.clear_leftovers()
            server.start(free_port())
        try:
            password = (data / "password").read_text()
            url = f"127.0.0.1:{server.port()}"
            with psycopg.connect(f"postgresql://madidus:{password}@{url}/postgres", autocommit=True) as connection:
                if not connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [database]).fetchone():
                    connection.execute(psycopg.sql.SQL("CREATE DATABASE {}").format(psycopg.sql.Identifier(database)))
            yield f"postgresql+psycopg://madidus:{password}@{url}/{database}"
        finally:
            server.stop()
