"""A mail server, by SMTP."""

from __future__ import annotations

import smtplib
from dataclasses import dataclass

from jade_ladder.formats.mail import Mail, write_mail

TIMEOUT = 20.0
"""Seconds to wait for a mail server that is slow."""


@dataclass(frozen=True, slots=True)
class SmtpMailer:
    """Hands mail to a mail server at a host and port, over TLS where it offers that; with a name
    and password where they are given. `base_url` is what links in mail begin with.
    """

    host: str
    port: int
    sender: str
    base_url: str | None
    user: str = ""
    password: str = ""

    def send(self, mail: Mail) -> None:
        """Hand mail over; raises OSError when that cannot be done now."""
        message = write_mail(mail, self.sender, self.base_url)
        with smtplib.SMTP(self.host, self.port, timeout=TIMEOUT) as server:
            server.ehlo()
            if server.has_extn("starttls"):
                server.starttls()
                server.ehlo()
            if self.user:
                server.login(self.user, self.password)
            server.send_message(message)
