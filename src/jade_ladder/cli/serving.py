"""jade-ladder serve, demo and openapi: the server, with a school's data or the demo's."""

from __future__ import annotations

import gc
import json
import os
import socket
import sys
from contextlib import ExitStack, closing
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated
from urllib.parse import urlsplit

import typer

from jade_ladder.cli.common import SCHOOL_DATA, Data, app, stopping
from jade_ladder.core.errors import JadeLadderError
from jade_ladder.outside import clock

if TYPE_CHECKING:
    import uvicorn
    from fastapi import FastAPI

    from jade_ladder.outside.smtp import SmtpMailer

Port = Annotated[int, typer.Option(envvar="PORT", help="The port to listen on.")]
Host = Annotated[str, typer.Option(help="The address to listen on.")]
Certificate = Annotated[
    Path | None, typer.Option(help="The certificate for https, a PEM file with its chain.")
]
Key = Annotated[Path | None, typer.Option(help="The certificate's private key, a PEM file.")]
Url = Annotated[str, typer.Option(help="The address people open: https://ladder.school.example.")]
Proxy = Annotated[
    str, typer.Option(help="The addresses of proxies whose headers are trusted, with commas.")
]


Smtp = Annotated[
    str,
    typer.Option(
        help="The school's mail server, host:port. A name and password for it are taken from "
        "JADE_LADDER_SMTP_USER and JADE_LADDER_SMTP_PASSWORD."
    ),
]
MailFrom = Annotated[str, typer.Option(help="The address that mail comes from.")]


@app.command()
def serve(
    port: Port = 8000,
    data: Data = SCHOOL_DATA,
    host: Host = "127.0.0.1",
    certificate: Certificate = None,
    key: Key = None,
    url: Url = "",
    proxy: Proxy = "",
    smtp: Smtp = "",
    mail_from: MailFrom = "",
) -> None:
    """Serve the application. The first start leads to a page that makes the first teacher."""
    if (certificate is None) != (key is None):
        raise stopping("https takes both --certificate and --key")
    for file in (certificate, key):
        if file is not None and not file.is_file():
            raise stopping(f"there is no file {file}")
    if url and not _is_address(url):
        raise stopping(f"--url is an address like https://ladder.school.example, not {url}")
    if bool(smtp) != bool(mail_from):
        raise stopping("mail takes both --smtp and --mail-from")
    if mail_from and "@" not in mail_from.strip("@"):
        raise stopping(f"--mail-from is an address like ladder@school.example, not {mail_from}")
    mail = (_mail_server(smtp), mail_from) if smtp else None
    _serve(port, data, host, certificate, key, url.rstrip("/"), proxy, mail=mail)


@app.command()
def demo(
    port: Port = 8000,
    data: Data = Path(".demo-data"),
    host: Host = "127.0.0.1",
    at: Annotated[
        datetime | None,
        typer.Option(
            help="Let it be another time, in UTC: 2027-02-01T09:00:00. It goes on from there."
        ),
    ] = None,
) -> None:
    """Serve the application with the demo school; its data is made at the first start."""
    if at is not None:
        clock.set_clock(at.replace(tzinfo=UTC))
    _serve(port, data, host, demo=True)


def _serve(
    port: int,
    data: Path,
    host: str,
    certificate: Path | None = None,
    key: Path | None = None,
    url: str = "",
    proxy: str = "",
    demo: bool = False,
    mail: tuple[tuple[str, int], str] | None = None,
) -> None:
    # Imported here: calculate starts in a fraction of the time without them.
    import uvicorn

    from jade_ladder.demo.scenario import PASSWORD, open_demo
    from jade_ladder.service.people.accounts import demo_people
    from jade_ladder.simulated.mail import SimulatedMailer
    from jade_ladder.store.shared.backup import in_use
    from jade_ladder.store.shared.connection import Database
    from jade_ladder.web.application import Settings, create_app
    from jade_ladder.web.shared.safety import Address

    with closing(bind(host, port)) as listening, ExitStack() as stack:
        scheme = "http" if certificate is None else "https"
        address = url or f"{scheme}://{_written(host)}:{listening.getsockname()[1]}"
        try:
            database = Database.in_folder(data)
            stack.callback(database.close)
            stack.enter_context(in_use(database.path))
            if demo:
                open_demo(database, lambda: typer.echo("Making the demo school …"))
        except JadeLadderError as error:
            raise stopping(str(error)) from None
        typer.echo(f"Jade Ladder is at {address}")
        if demo:
            for person in (one for one in demo_people(database) if one.may_teach):
                typer.echo(f"Sign in by one click, or as {person.email} with “{PASSWORD}”")
        typer.echo("Stop it with Ctrl C.")
        # On all addresses of the machine, which of them people open is known only if it is said.
        known = Address(None if host in ("", "0.0.0.0", "::") and not url else address)
        settings = Settings(
            database,
            demo=demo,
            worker=True,
            address=known,
            mailer=SimulatedMailer() if mail is None else _smtp(*mail, known.url),
            mail_simulated=mail is None,
        )
        config = _configured(create_app(settings), certificate, key, proxy)
        # What is loaded now stays: the collector need not walk it at every large answer.
        gc.freeze()
        sys.setswitchinterval(0.001)
        uvicorn.Server(config).run(sockets=[listening])


def _configured(
    app: FastAPI, certificate: Path | None, key: Path | None, proxy: str
) -> uvicorn.Config:
    import uvicorn

    return uvicorn.Config(
        app,
        log_level="warning",
        server_header=False,
        # Ours is by the application's clock (web/shared/safety.py).
        date_header=False,
        ssl_certfile=certificate,
        ssl_keyfile=key,
        # Headers that say whom a proxy speaks for are believed of that proxy alone.
        proxy_headers=bool(proxy),
        forwarded_allow_ips=proxy or None,
    )


def _mail_server(written: str) -> tuple[str, int]:
    host, _, port = written.rpartition(":")
    if not host or not port.isdigit() or not 0 < int(port) < 65536:
        raise stopping(f"--smtp is a host and a port like mail.school.example:587, not {written}")
    return host.strip("[]"), int(port)


def _smtp(server: tuple[str, int], sender: str, base_url: str | None) -> SmtpMailer:
    from jade_ladder.outside.smtp import SmtpMailer

    user = os.environ.get("JADE_LADDER_SMTP_USER", "")
    password = os.environ.get("JADE_LADDER_SMTP_PASSWORD", "")
    return SmtpMailer(*server, sender, base_url, user, password)


def _is_address(url: str) -> bool:
    try:
        parts = urlsplit(url)
        return bool(parts.scheme in ("http", "https") and parts.hostname) and not parts.path.strip(
            "/"
        )
    except ValueError:
        return False


def _written(host: str) -> str:
    return f"[{host}]" if ":" in host else host


def bind(host: str, port: int) -> socket.socket:
    """Take the port before anything else is done, so that a taken one is said at once.

    The socket names its protocol: without it an answer waits for the delayed acknowledgement of the
    one before, since asyncio sends at once only on sockets that say they are TCP.
    """
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listening = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind((host, port))
        listening.listen()
    except (OSError, OverflowError):
        listening.close()
        raise stopping(
            f"port {port} at {host} is taken or not allowed; give another: PORT=8123"
        ) from None
    return listening


@app.command()
def openapi() -> None:
    """Print the API's document, from which the front end's types are made."""
    from jade_ladder.web.application import api_document

    typer.echo(json.dumps(api_document(), ensure_ascii=False, indent=1))
