"""Mail as text: a message with the page that it is about."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from email.message import EmailMessage
from email.utils import format_datetime


@dataclass(frozen=True, slots=True)
class Mail:
    """A message to an address; `key` is the same at every try, `path` the page it is about."""

    key: str
    address: str
    subject: str
    text: str
    path: str
    at: datetime


def write_mail(mail: Mail, sender: str, base_url: str | None) -> EmailMessage:
    """Write mail as it is handed to a mail server. The link is that of the address the school's
    server was started for; without one there is none. Breaks in a subject are blanks.
    """
    message = EmailMessage()
    message["From"] = sender
    message["To"] = mail.address
    message["Subject"] = " ".join(mail.subject.split())
    message["Date"] = format_datetime(mail.at)
    message["Message-ID"] = f"<{mail.key}@{sender.rpartition('@')[2] or 'localhost'}>"
    message["Auto-Submitted"] = "auto-generated"
    message.set_content(body_of(mail, base_url))
    return message


def body_of(mail: Mail, base_url: str | None) -> str:
    """Give the text of mail, with the link to the page that it is about."""
    if base_url is None:
        return mail.text
    return f"{mail.text}\n\n{base_url.rstrip('/')}{mail.path}"
