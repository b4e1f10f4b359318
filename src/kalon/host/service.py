"""Kalon as a service of its machine: a systemd unit of its own user, which may write its data and nothing else."""

from __future__ import annotations

import os
import pwd
import re
import shutil
import subprocess
import time
from dataclasses import dataclass
from pathlib import Path

from .postgres import HostTrouble, Say
from .supervise import answers, only_one, reached_at
from .tablets import PLAIN_PORT, SECURE_PORT, USUAL, Tablets

USER = "kalon"
UNIT = Path("/etc/systemd/system/kalon.service")
HIDDEN = ("/root", "/home", "/run/user", "/tmp", "/var/tmp")  # noqa: S108
"""What the unit doesn't see."""
SYSTEMD = Path("/run/systemd/system")
"""There as long as systemd runs this machine."""
UP_S = 90
PLAIN = re.compile(r"[A-Za-z0-9._/:+@-]+")
"""What stands for itself in a unit: no spaces, quotes, `%` or `$`."""

TEXT = """\
# Written by ./kalon install; what is changed here is lost with the next one (systemctl edit kalon is kept).
[Unit]
Description=Kalon, a fitting bench
After=network.target
StartLimitIntervalSec=300
StartLimitBurst=10

[Service]
Type=exec
User={user}
Group={user}
WorkingDirectory={root}
Environment=KALON_DATA={data} OPENBLAS_NUM_THREADS=1 PYTHONDONTWRITEBYTECODE=1
ExecStart={python} -m kalon.cli serve --host {host} --port {port} --workers {workers}{tablets}
Restart=on-failure
RestartSec=5
KillMode=mixed
TimeoutStopSec=90
UMask=0077
ReadWritePaths={paths}
ProtectSystem=strict
ProtectHome=yes
PrivateTmp=yes
PrivateDevices=yes
ProtectProc=invisible
ProtectClock=yes
ProtectHostname=yes
ProtectKernelLogs=yes
ProtectKernelModules=yes
ProtectKernelTunables=yes
ProtectControlGroups=yes
NoNewPrivileges=yes
CapabilityBoundingSet={may}
AmbientCapabilities={may}
RestrictAddressFamilies=AF_INET AF_INET6 AF_UNIX{families}
RestrictNamespaces=yes
RestrictRealtime=yes
RestrictSUIDSGID=yes
LockPersonality=yes
SystemCallArchitectures=native
SystemCallFilter=@system-service
SystemCallErrorNumber=EPERM

[Install]
WantedBy=multi-user.target
"""


@dataclass(frozen=True)
class Service:
    """What is served, from which folder, with which data, where."""

    root: Path
    data: Path
    host: str = "127.0.0.1"
    port: int = 8000
    workers: int = 2
    tablets: Tablets | None = None
    archive: Path | None = None

    @property
    def python(self) -> Path:
        """The Python of Kalon's own folder."""
        return self.root / ".venv" / "bin" / "python"


def unit(of: Service) -> str:
    """The unit. Raises `HostTrouble` for a path or an address that can't stand in one."""
    told = of.tablets
    paths = [of.data, *([of.archive] if of.archive else [])]
    for said in (str(of.root), *map(str, paths), of.host, *map(str, told.certificate or () if told else ())):
        if not PLAIN.fullmatch(said):
            raise HostTrouble(f"“{said}” can't stand in a service: letters, digits and . _ / : + @ - only.")
    low = told and min(told.secure_port, told.plain_port) < 1024
    return TEXT.format(
        user=USER, root=of.root, data=of.data, paths=" ".join(map(str, paths)), python=of.python, host=of.host,
        port=of.port, workers=of.workers,
        tablets="".join(f" {part}" for part in said_of(told)) if told else "",
        may="CAP_NET_BIND_SERVICE" if low else "",  # for the ports of the web, and nothing else
        families=" AF_NETLINK" if told else "",  # by which a machine is asked for its addresses
    )  # fmt: skip


def said_of(tablets: Tablets) -> list[str]:
    """How tablets are asked for on the command line."""
    said = ["--tablets"]
    if tablets.names != (USUAL,):
        said += [part for name in tablets.names for part in ("--as", name)]
    if tablets.secure_port != SECURE_PORT:
        said += ["--https-port", str(tablets.secure_port)]
    if tablets.plain_port != PLAIN_PORT:
        said += ["--http-port", str(tablets.plain_port)]
    if tablets.certificate:
        said += ["--certificate", str(tablets.certificate[0]), "--key", str(tablets.certificate[1])]
    return said


def check(of: Service) -> None:
    """Whether it can be installed at all, before anything is done. Raises `HostTrouble`."""
    _root()
    if of.port < 1024:
        raise HostTrouble(f"A service that may do nothing but its work can't have port {of.port}: take one from 1024.")
    unit(of)
    if os.environ.get("KALON_DATABASE_URL"):
        raise HostTrouble("KALON_DATABASE_URL is set: the service runs a database of its own. Take it out, or write a "
                          "unit of your own for that one.")  # fmt: skip
    for what, path, instead in (
        ("Kalon's folder is", of.root, "Move it to /opt/kalon (the data stay) and run ./kalon install there."),
        ("Its Python is", of.python.resolve(), "Remove .venv and run it with Debian's python3 first in PATH."),
        *(("A certificate's file is", path, "Copy it where the service's user can read it: /etc/kalon.")
          for path in (of.tablets.certificate or () if of.tablets else ())),
        ("The data are in", of.data, "Move that folder to /var/lib/kalon, and run ./kalon install without KALON_DATA."),
    ):  # fmt: skip
        if hidden := next((h for h in HIDDEN if path.is_relative_to(h)), None):
            raise HostTrouble(f"{what} {path}, and a service doesn't see {hidden}. {instead}")


@dataclass(frozen=True)
class Installed:
    """The service that is there: its data, its user, and what was said when it was put in."""

    data: Path
    user: str
    flags: tuple[str, ...]


def installed() -> Installed | None:
    """What the unit says; none where there is no service. Raises `HostTrouble` for one that isn't ours any more."""
    if not UNIT.exists():
        return None
    text = UNIT.read_text()
    data, user = re.search(r"KALON_DATA=(\S+)", text), re.search(r"^User=(\S+)", text, re.MULTILINE)
    flags = re.search(r"^ExecStart=\S+ -m kalon\.cli serve ?(.*)$", text, re.MULTILINE)
    if not (data and user and flags):
        raise HostTrouble(f"{UNIT} was changed by hand: run ./kalon install as it should be first.")
    return Installed(Path(data[1]), user[1], tuple(flags[1].split()))


def rest(say: Say) -> None:
    """Stop the service that is there already, to be installed anew. Raises `HostTrouble`."""
    if UNIT.exists() and SYSTEMD.is_dir():
        say("the service is stopped meanwhile")
        _do("systemctl", "stop", UNIT.name)


def install(of: Service, say: Say) -> None:
    """Its user, its data made that user's, its unit, and where systemd runs the machine its start. Raises
    `HostTrouble`; the same again renews it."""
    check(of)
    running = SYSTEMD.is_dir()
    with only_one(of.data):
        _own_user(of, say)
        _given(of.data)
        if of.archive:
            _given(of.archive)
    # The service may not write there: what isn't compiled now would be at every start.
    _do(str(of.python), "-m", "compileall", "-q", str(of.root / "src"))
    _do("runuser", "-u", USER, "--", str(of.python), "-c", "import kalon.cli", trouble=f"The user {USER} can't run it")
    half = UNIT.with_name(UNIT.name + ".new")
    half.parent.mkdir(parents=True, exist_ok=True)
    half.write_text(unit(of))
    half.rename(UNIT)
    say(f"service in {UNIT}")
    if not running:
        say("systemd doesn't run this machine now: the service starts where it does (systemctl enable --now kalon)")
        return
    _do("systemctl", "daemon-reload")
    _do("systemctl", "enable", "--now", UNIT.name)
    deadline = time.monotonic() + UP_S
    while not answers(reached_at(of.host), of.port):
        if time.monotonic() > deadline:
            raise HostTrouble("The service doesn't answer: journalctl -u kalon says why.")
        time.sleep(0.5)
    say(f"it serves at http://{of.host}:{of.port}, starts with the machine, and tells journalctl -u kalon what it does")


def uninstall(data: Path, say: Say) -> None:
    """Stop it and take its unit out. Raises `HostTrouble`."""
    _root()
    if not UNIT.exists():
        raise HostTrouble("Kalon isn't a service of this machine; there is nothing to take out.")
    if SYSTEMD.is_dir():
        _do("systemctl", "disable", "--now", UNIT.name)
    UNIT.unlink()
    if SYSTEMD.is_dir():
        _do("systemctl", "daemon-reload")
    say(f"the service is out; the data stay in {data}, with the user {USER} whose they are")


def _root() -> None:
    if os.geteuid() != 0:
        raise HostTrouble("A service is root's to put in and take out: sudo ./kalon …")


def _own_user(of: Service, say: Say) -> None:
    try:
        pwd.getpwnam(USER)
    except KeyError:
        say(f"user {USER}")
        _do("useradd", "--system", "--home-dir", str(of.data), "--no-create-home", "--shell", "/usr/sbin/nologin", USER)


def _given(data: Path) -> None:
    """Make the data the service's own: PostgreSQL serves nobody else's."""
    of = pwd.getpwnam(USER)
    for path in (data, *data.rglob("*")):
        os.chown(path, of.pw_uid, of.pw_gid, follow_symlinks=False)


def _do(*command: str, trouble: str = "") -> None:
    program = shutil.which(command[0])
    if program is None:
        raise HostTrouble(f"{command[0]} isn't on this machine, and a service needs it.")
    done = subprocess.run([program, *command[1:]], capture_output=True, text=True, cwd="/", check=False)
    if done.returncode:
        tail = (done.stderr or done.stdout).strip().splitlines()[-1:] or [f"it ended with {done.returncode}"]
        raise HostTrouble(f"{trouble or ' '.join(command[:2]) + ' failed'}: {tail[0]}")
