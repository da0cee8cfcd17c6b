"""A stand-in for a mail server: it takes everything. What it took is read in the outbox."""

from __future__ import annotations

from jade_ladder.formats.mail import Mail


class SimulatedMailer:
    """Takes mail and keeps none: the outbox shows it as the receiver would get it."""

    def send(self, mail: Mail) -> None:
        """Take mail."""
