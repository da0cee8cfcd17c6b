"""The teachers of the school, and the links by which they set their passwords."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.people import colleagues as service
from jade_ladder.service.people.colleagues import Account, NewColleague
from jade_ladder.store.people.people import Person
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsAdministrator, AsTeacher
from jade_ladder.web.shared.fields import Text, YesNo

router = router_of("colleagues", "/colleagues")


class ColleagueOut(BaseModel):
    """A teacher of the school, as colleagues see them."""

    id: int
    name: str

    @classmethod
    def of(cls, person: Person) -> ColleagueOut:
        """Show a colleague."""
        return cls(id=person.id, name=person.name)


class TaughtClassOut(BaseModel):
    """A class somebody teaches; `alone` where nobody else does."""

    id: int
    name: str
    responsible: bool
    alone: bool


class UntaughtClassOut(BaseModel):
    """A class that nobody teaches any more."""

    id: int
    name: str
    set_aside: bool


class AccountOut(BaseModel):
    """A teacher's account, as an administrator sees it; `joined` once there is a password."""

    id: int
    name: str
    sort_name: str
    email: str
    administrator: bool
    joined: bool
    ended_at: datetime | None
    classes: list[TaughtClassOut]

    @classmethod
    def of(cls, account: Account) -> AccountOut:
        """Show an account."""
        row = account.row
        return cls(
            id=row.id,
            name=row.name,
            sort_name=row.sort_name,
            email=row.email,
            administrator=row.administrator,
            joined=row.joined,
            ended_at=row.ended_at,
            classes=[
                TaughtClassOut(
                    id=one.class_id, name=one.name, responsible=one.responsible, alone=one.alone
                )
                for one in account.classes
            ],
        )


class NewColleagueIn(BaseModel):
    """What is said of a teacher who is added."""

    given_name: Text
    family_name: Text
    email: Text


class NewColleaguesIn(BaseModel):
    """One or several teachers."""

    people: list[NewColleagueIn]


class InvitedOut(BaseModel):
    """Somebody who was added, with the secret of their link, which is shown once."""

    id: int
    name: str
    token: str


class LinkOut(BaseModel):
    """The secret of a link, which is shown once."""

    token: str


class AdministratorIn(BaseModel):
    """Whether a teacher is an administrator."""

    administrator: YesNo


class EndedIn(BaseModel):
    """Whether an account is ended."""

    ended: YesNo


@router.get("")
def read_colleagues(caller: AsTeacher) -> list[ColleagueOut]:
    """List those who teach at the school, to be chosen for a class."""
    return [ColleagueOut.of(one) for one in service.colleagues(caller)]


@router.get("/accounts")
def read_accounts(caller: AsAdministrator) -> list[AccountOut]:
    """List the accounts of all teachers, ended ones too."""
    return [AccountOut.of(one) for one in service.accounts(caller)]


@router.get("/classes-without-teacher")
def read_untaught_classes(caller: AsAdministrator) -> list[UntaughtClassOut]:
    """List the classes whose teachers have all left."""
    return [
        UntaughtClassOut(id=one.id, name=one.name, set_aside=one.set_aside)
        for one in service.untaught_classes(caller)
    ]


@router.post("", status_code=201)
def add_colleagues(body: NewColleaguesIn, caller: AsAdministrator) -> list[InvitedOut]:
    """Add teachers, all or none."""
    people = [NewColleague(one.given_name, one.family_name, one.email) for one in body.people]
    return [
        InvitedOut(id=person.id, name=person.name, token=token)
        for person, token in service.add_colleagues(caller, people)
    ]


@router.post("/{person_id:int}/link", status_code=201)
def make_link(person_id: int, caller: AsAdministrator) -> LinkOut:
    """Make another link for a teacher; earlier ones lead nowhere then."""
    return LinkOut(token=service.new_link(caller, person_id))


@router.put("/{person_id:int}/administrator", status_code=204)
def set_administrator(person_id: int, body: AdministratorIn, caller: AsAdministrator) -> None:
    """Make a teacher an administrator, or no longer."""
    service.set_administrator(caller, person_id, body.administrator)


@router.put("/{person_id:int}/ended", status_code=204)
def end_account(person_id: int, body: EndedIn, caller: AsAdministrator) -> None:
    """End an account, with everything kept, or restore it."""
    if body.ended:
        service.end_account(caller, person_id)
    else:
        service.restore_account(caller, person_id)
