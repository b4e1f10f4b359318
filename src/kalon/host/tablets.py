"""HTTPS for the tablets of a shop's network: Caddy before the web processes, with an authority of this machine's own or
a certificate of the shop's, and the machine's name announced where avahi is there.

A browser gives camera, offline work and a service worker to a secure page only. What tablets have to know (where it is,
whose certificate to trust) is written to the data folder, where the web reads it.
"""

from __future__ import annotations

import hashlib
import json
import os
import re
import shutil
import socket
import ssl
import subprocess
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from ipaddress import AddressValueError, IPv4Address
from pathlib import Path

from .postgres import HostTrouble, Say

FOLDER, WHERE, AUTHORITY = "tablets", "where.json", "authority.crt"
USUAL = "kalon.local"
SECURE_PORT, PLAIN_PORT = 443, 80
LOOK_EVERY_S = 15.0
"""How often the machine is asked for its addresses: routers give others."""
MADE_S = 20.0
"""How long Caddy may take to make its authority."""
OWN_DAYS, GIVEN_DAYS = 1, 180
"""How long a browser insists on HTTPS: with our own authority a day only, for a machine whose data are lost makes
another one, and nobody could reach the page that says how to trust that."""
A_NAME = re.compile(r"[A-Za-z0-9]([A-Za-z0-9.-]*[A-Za-z0-9])?")
AVAHI = Path("/run/avahi-daemon/socket")

WITH_US = ("setpriv", "--pdeathsig", "TERM")
"""It ends when the supervisor does, whatever ends that (util-linux)."""

CADDYFILE = """\
{{
	admin off
	storage file_system "{folder}/store"
	skip_install_trust
	auto_https disable_redirects
	http_port {plain_port}
	https_port {secure_port}
	pki {{
		ca kalon {{
			name "Kalon"
			root_cn "Kalon of {machine}"
			intermediate_cn "Kalon of {machine}, in between"
		}}
	}}
	servers {{
		protocols h1 h2
		timeouts {{
			read_header 10s
			read_body 310s
			idle 80s
		}}
	}}
	log {{
		output stderr
		format json
		level ERROR
	}}
}}

{secure} {{
	tls {certificate}
	encode gzip
	header {{
		Strict-Transport-Security "max-age={insists_s}"
		-Server
	}}
	reverse_proxy {behind} {{
		header_up -Accept-Encoding
	}}
}}

http:// {{
	@trust path /trust /api/trust /api/trust/* /assets/* /icon.svg
	handle @trust {{
		reverse_proxy {behind}
	}}
	handle {{
		redir https://{{host}}{redirect_port}{{uri}} 307
	}}
}}
"""
"""Nothing but the page that says how to trust this machine is served in the clear."""


@dataclass(frozen=True)
class Tablets:
    """What was asked for: names beside the machine's addresses, ports, and a certificate with its key, if there is
    one."""

    names: tuple[str, ...] = (USUAL,)
    secure_port: int = SECURE_PORT
    plain_port: int = PLAIN_PORT
    certificate: tuple[Path, Path] | None = None


def addresses() -> list[str]:
    """This machine's addresses in its networks (IPv4), the one it goes out by first."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as s:
        try:
            s.connect(
                ("192.0.2.1", 9)
            )  # nothing is sent: only the way there is looked up (RFC 5737's address of nobody)
            first = [s.getsockname()[0]]
        except OSError:
            first = []
    told = subprocess.run(
        ["hostname", "--all-ip-addresses"], capture_output=True, text=True, check=False
    ).stdout.split()
    return list(dict.fromkeys(a for a in [*first, *told] if _reachable(a)))


def _reachable(address: str) -> bool:
    try:
        ip = IPv4Address(address)
    except AddressValueError:
        return False
    return not (ip.is_loopback or ip.is_link_local or ip.is_unspecified)


def check(of: Tablets) -> None:
    """Whether it can be done on this machine. Raises `HostTrouble`."""
    if not shutil.which("caddy"):
        raise HostTrouble(
            "Tablets need Caddy before Kalon: apt-get install caddy, or run this with ./kalon, which does."
        )
    for name in of.names:
        if not A_NAME.fullmatch(name):
            raise HostTrouble(f"“{name}” isn't a name a machine can have: kalon.local, or one your network knows.")
    if of.certificate:
        for what, path in zip(("certificate", "key"), of.certificate, strict=True):
            if not path.is_file():
                raise HostTrouble(f"There is no {what} at {path}.")
        try:
            ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(*of.certificate)
        except (ssl.SSLError, OSError) as error:
            raise HostTrouble(
                f"{of.certificate[0]} and {of.certificate[1]} aren't a certificate and its key: {error}."
            ) from None


def free(of: Tablets) -> None:
    """Whether its ports can be had by whoever runs this. Raises `HostTrouble`."""
    for port, other in ((of.secure_port, "--https-port 8443"), (of.plain_port, "--http-port 8080")):
        with socket.socket() as s:
            s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                s.bind(("", port))
            except PermissionError:
                trouble = f"Port {port} is root's to open: sudo ./kalon install has it, or take {other}."
            except OSError as error:
                trouble = f"Port {port} can't be used ({error.strerror}): stop what has it, or take {other}."
            else:
                continue
        raise HostTrouble(trouble)


def announces() -> bool:
    """Whether this machine can announce names of its own (`….local`) in its network."""
    return AVAHI.exists() and bool(shutil.which("avahi-publish"))


def urls(of: Tablets, at: list[str]) -> list[str]:
    """Where tablets reach it, best first: by name where it is known, for a name stays when an address changes, then by
    the machine's addresses; a certificate of the shop's own is good for its names only."""
    port = "" if of.secure_port == SECURE_PORT else f":{of.secure_port}"
    unknown = [] if announces() else [n for n in of.names if n.endswith(".local")]
    known = [n for n in of.names if n not in unknown]
    return [f"https://{host}{port}" for host in [*known, *([] if of.certificate else at), *unknown]]


def trust_url(of: Tablets, at: list[str]) -> str | None:
    """Where a tablet that trusts nothing yet is told how to: by address, which needs nothing of the network."""
    port = "" if of.plain_port == PLAIN_PORT else f":{of.plain_port}"
    host = at[0] if at else of.names[0]
    return None if of.certificate else f"http://{host}{port}/trust"


def caddyfile(of: Tablets, at: list[str], folder: Path, behind: str, machine: str) -> str:
    """Caddy's own settings."""
    if of.certificate:
        certificate, insists = " ".join(f'"{p}"' for p in of.certificate), GIVEN_DAYS
    else:
        certificate, insists = "{\n\t\tissuer internal {\n\t\t\tca kalon\n\t\t}\n\t}", OWN_DAYS
    return CADDYFILE.format(
        folder=folder, plain_port=of.plain_port, secure_port=of.secure_port, machine=machine, behind=behind,
        secure=", ".join(urls(of, at)), certificate=certificate, insists_s=insists * 86_400,
        redirect_port="" if of.secure_port == SECURE_PORT else f":{of.secure_port}",
    )  # fmt: skip


@dataclass
class Front:
    """Caddy and the announcing of names, for the supervisor to keep: begun anew when the machine's addresses change."""

    of: Tablets
    home: Path
    behind: str
    """Host and port of the web processes."""
    say: Say
    find: Callable[[], list[str]] = addresses
    at: list[str] = field(default_factory=list)
    announcers: dict[tuple[str, ...], subprocess.Popen[bytes]] = field(default_factory=dict)
    _looked: float = 0.0

    def __post_init__(self) -> None:
        self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        self.at = self.find()

    @property
    def folder(self) -> Path:
        """Where Caddy keeps its authority, and what tablets have to know stands."""
        return self.home / FOLDER

    @property
    def urls(self) -> list[str]:
        """Where tablets reach it now."""
        return urls(self.of, self.at)

    def moved(self) -> bool:
        """Whether the machine has other addresses than before, so that Caddy has to be begun anew; looked at after a
        while only. Names are announced meanwhile."""
        if time.monotonic() - self._looked < LOOK_EVERY_S:
            return False
        self._looked = time.monotonic()
        now = self.find()
        other = now != self.at
        if other:
            self.at = now
            self.say(f"this machine is at other addresses now: {', '.join(now) or 'none'}")
        self._announce()
        return other

    def start(self) -> subprocess.Popen[bytes]:
        """Caddy, on what the machine's addresses are now."""
        settings = self.folder / "Caddyfile"
        settings.write_text(caddyfile(self.of, self.at, self.folder, self.behind, socket.gethostname()))
        inside = {"HOME": str(self.folder), "XDG_DATA_HOME": str(self.folder), "XDG_CONFIG_HOME": str(self.folder)}
        started = subprocess.Popen(
            [*WITH_US, "caddy", "run", "--adapter", "caddyfile", "--config", str(settings)],
            env={"PATH": os.environ.get("PATH", "/usr/bin:/bin")} | inside, start_new_session=True,
            stdin=subprocess.DEVNULL,
        )  # fmt: skip
        self._tell(started)
        return started

    def _tell(self, caddy: subprocess.Popen[bytes]) -> None:
        """Write down what tablets have to know, once the authority is made."""
        root = self.folder / "store" / "pki" / "authorities" / "kalon" / "root.crt"
        fingerprint = None
        if self.of.certificate is None:
            until = time.monotonic() + MADE_S
            while not root.exists() and caddy.poll() is None and time.monotonic() < until:
                time.sleep(0.05)
            if not root.exists():
                return  # it ended, or will: whoever keeps it says so
            der = ssl.PEM_cert_to_DER_cert(root.read_text())
            _put(self.folder / AUTHORITY, der)
            fingerprint = hashlib.sha256(der).hexdigest()
        told = {"format": 1, "secure": self.urls, "trust": trust_url(self.of, self.at), "fingerprint": fingerprint}
        _put(self.folder / WHERE, json.dumps(told).encode())

    def announcing(self) -> list[tuple[str, ...]]:
        """The commands that announce the machine's names in its network, each for as long as it runs; none where avahi
        isn't there."""
        if not (announces() and self.at):
            return []
        return [
            ("avahi-publish", "--address", "--no-reverse", name, self.at[0])
            for name in self.of.names if name.endswith(".local")
        ]  # fmt: skip

    def _announce(self) -> None:
        wanted = self.announcing()
        for command in list(self.announcers):
            if command not in wanted or self.announcers[command].poll() is not None:
                self.announcers.pop(command).terminate()
        for command in wanted:
            if command not in self.announcers:
                self.announcers[command] = subprocess.Popen(
                    [*WITH_US, *command], start_new_session=True, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL
                )


def _put(path: Path, content: bytes) -> None:
    half = path.with_name(path.name + ".new")
    half.write_bytes(content)
    half.rename(path)


def forget(home: Path) -> None:
    """Tablets aren't served any more: what they were told is taken away. The authority stays, for tablets trust it."""
    (home / FOLDER / WHERE).unlink(missing_ok=True)


def told(home: Path) -> list[str]:
    """Where tablets reach what serves these data, as they were told; nowhere where they aren't served."""
    try:
        return [str(url) for url in json.loads((home / FOLDER / WHERE).read_text())["secure"]]
    except (OSError, ValueError, KeyError, TypeError):
        return []
