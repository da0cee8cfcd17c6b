"""The server as a process: how it is started, what it answers to, and what it never opens."""

from __future__ import annotations

import http.client
import json
import os
import signal
import socket
import ssl
import subprocess
import sys
import time
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from io import BytesIO
from pathlib import Path

import pytest
from openpyxl import load_workbook

from jade_ladder.cli.serving import bind
from jade_ladder.outside import clock
from jade_ladder.service.people import accounts, sessions
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.files.contents import FOLDER
from jade_ladder.store.shared.connection import Database
from tests.builders import small
from tests.cli.conftest import run


@contextmanager
def serving(*options: str, port: int = 0) -> Iterator[tuple[subprocess.Popen[str], str]]:
    """Start jade-ladder; gives the process and host:port."""
    command = [sys.executable, "-m", "jade_ladder", *options, "--port", str(port)]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    try:
        assert process.stdout is not None
        line = next(one for one in process.stdout if one.startswith("Jade Ladder is at "))
        yield process, line.split("//")[1].strip()
    finally:
        process.terminate()
        process.wait(timeout=20)
        assert process.stdout is not None
        process.stdout.close()


def test_the_listening_socket_says_that_it_is_tcp() -> None:
    """Without it asyncio never sets TCP_NODELAY: every answer on a kept connection took 44 ms."""
    for host in ("127.0.0.1", "::1"):
        listening = bind(host, 0)
        assert listening.proto == socket.IPPROTO_TCP
        listening.close()


@pytest.fixture
def school(tmp_path: Path) -> Path:
    """A school's own data, with a class."""
    folder = tmp_path / "school"
    database = Database.in_folder(folder)
    teacher = accounts.NewTeacher("Ada", "Berg", "ada@school.example", "a long password")
    accounts.make_first_teacher(database, "School", "UTC", teacher)
    small(Administrator(database, 1, clock.now()))
    database.close()
    return folder


def test_the_demo_never_opens_a_schools_own_data(school: Path) -> None:
    done = run("demo", "--port", "0", "--data", str(school))
    assert done.code == 1
    assert "was not made by the demo" in done.stderr
    assert done.stderr.count("\n") == 1
    assert "ada@school.example" not in done.stdout + done.stderr


def test_https_by_itself(school: Path, tmp_path: Path) -> None:
    key, certificate = tmp_path / "key.pem", tmp_path / "certificate.pem"
    make = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2"]
    make += ["-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost,IP:127.0.0.1"]
    make += ["-keyout", str(key), "-out", str(certificate)]
    subprocess.run(make, check=True, capture_output=True)
    options = ["serve", "--data", str(school), "--certificate", str(certificate), "--key", str(key)]
    with serving(*options) as (_, address):
        context = ssl.create_default_context(cafile=str(certificate))
        body = json.dumps({"email": "ada@school.example", "password": "a long password"})
        for scheme, status in (("https", 204), ("http", 403)):
            headers = {"content-type": "application/json", "origin": f"{scheme}://{address}"}
            with closing(http.client.HTTPSConnection(address, context=context)) as connection:
                connection.request("POST", "/api/session", body, headers)
                answer = connection.getresponse()
                answer.read()
            assert answer.status == status
            assert ("Secure" in (answer.getheader("set-cookie") or "")) is (status == 204)


def test_the_address_people_open_and_the_proxy_that_may_speak_for_others(school: Path) -> None:
    url, port = "https://ladder.school.example", free_port()
    options = ["serve", "--data", str(school), "--url", url, "--proxy", "127.0.0.1"]
    with serving(*options, port=port) as (_, said):
        assert said == "ladder.school.example"
        for host, status in (("ladder.school.example", 204), ("127.0.0.1", 421)):
            body = json.dumps({"email": "ada@school.example", "password": "a long password"})
            headers = {
                "host": host,
                "origin": url,
                "content-type": "application/json",
                "x-forwarded-proto": "https",
                "x-forwarded-for": "10.1.2.3",
            }
            with closing(connected(port)) as connection:
                connection.request("POST", "/api/session", body, headers)
                answer = connection.getresponse()
                answer.read()
            assert answer.status == status
            if status == 204:
                assert "Secure" in (answer.getheader("set-cookie") or "")


def free_port() -> int:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        port: int = taken.getsockname()[1]
    return port


def connected(port: int) -> http.client.HTTPConnection:
    for _ in range(200):
        connection = http.client.HTTPConnection("127.0.0.1", port)
        try:
            connection.connect()
        except ConnectionRefusedError:
            connection.close()
            time.sleep(0.1)
        else:
            return connection
    raise AssertionError("the server did not start")


@pytest.mark.parametrize(
    ("options", "says"),
    [
        (["--certificate", "c.pem"], "both --certificate and --key"),
        (["--certificate", "c.pem", "--key", "k.pem"], "no file c.pem"),
        (["--url", "ladder.school"], "--url is an address"),
        (["--url", "https://a.example/path"], "--url is an address"),
        (["--url", "http://["], "--url is an address"),
        (["--port", "99999"], "port 99999"),
    ],
)
def test_a_wrong_option_is_one_line(tmp_path: Path, options: list[str], says: str) -> None:
    done = run("serve", "--data", str(tmp_path / "d"), *options)
    assert done.code == 1
    assert says in done.stderr
    assert done.stderr.count("\n") == 1


def test_who_is_locked_out_gets_another_password(school: Path) -> None:
    """It is given with an option here; a person is asked for it twice."""
    data = ["--data", str(school)]
    for email, password, says in (
        ("nobody@tern.example", "four winds and a kite", "No teacher signs in with"),
        ("ADA@school.example", "short", "at least 10 characters"),
    ):
        refused = run("reset-password", email, "--password", password, *data)
        assert (refused.code, says in refused.stderr) == (1, True)
    done = run("reset-password", "ADA@school.example", "--password", "four winds and a kite", *data)
    assert (done.code, "signs in with the new password" in done.stdout) == (0, True)
    database = Database.in_folder(school)
    assert sessions.check_password(database, "ada@school.example", "four winds and a kite")
    database.close()


def test_backup_verify_and_restore_as_commands(school: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copies" / "monday.sqlite3"
    copy.parent.mkdir()
    data = ["--data", str(school)]
    with serving("serve", *data) as (_, _address):
        assert run("backup", str(copy), *data).code == 0
        assert run("verify", *data).code == 0
        running = run("restore", str(copy), *data)
        assert (running.code, "stop it first" in running.stderr) == (1, True)
    again = run("backup", str(copy), *data)
    assert (again.code, "is there already" in again.stderr) == (1, True)
    assert run("verify", "--file", str(copy)).code == 0
    put = run("restore", str(copy), *data)
    assert put.code == 0
    assert "is kept as" in put.stdout
    (tmp_path / "torn.sqlite3").write_bytes(copy.read_bytes()[:40_000])
    assert run("verify", "--file", str(tmp_path / "torn.sqlite3")).code == 2
    # What is cut says so before a file of work is copied.
    files = tmp_path / FOLDER / "ab"
    files.mkdir(parents=True)
    (files / ("ab" * 32)).write_bytes(b"a file of work")
    cut = run("restore", str(tmp_path / "torn.sqlite3"), "--data", str(tmp_path / "fresh"))
    assert (cut.code, "is not whole" in cut.stderr) == (1, True)
    assert not (tmp_path / "fresh" / FOLDER).exists()
    for command in (["verify"], ["backup", str(tmp_path / "x.sqlite3")]):
        none = run(*command, "--data", str(tmp_path / "nothing"))
        assert none.code == 1
        assert none.stderr.count("\n") == 1


def test_a_class_goes_out_by_command_as_by_the_server(school: Path, tmp_path: Path) -> None:
    data = ["--data", str(school), "--class", "chart room"]
    database = Database.in_folder(school)
    token = sessions.begin_session(database, 1, clock.now())
    database.close()
    with serving("serve", "--data", str(school)) as (_, address):
        assert run("export", str(tmp_path / "all.xlsx"), *data).code == 0
        task = ["--task", "1", "--decimal-comma"]
        assert run("export", str(tmp_path / "one.zip"), *data, *task).code == 0
        with closing(http.client.HTTPConnection(address, timeout=30)) as connection:
            headers = {"cookie": f"jade_ladder_session={token}"}
            connection.request("GET", "/api/classes/1/export", headers=headers)
            answer = connection.getresponse()
            served = answer.read()
            assert answer.status == 200
            assert "Chart%20Room%20" in answer.headers["content-disposition"]
    books = [load_workbook(one) for one in (tmp_path / "all.xlsx", BytesIO(served))]
    for sheet, same in zip(*books, strict=True):
        assert sheet.title == same.title
        if sheet.title != "About":
            assert list(sheet.values) == list(same.values)
    with zipfile.ZipFile(tmp_path / "one.zip") as archive:
        assert archive.namelist() == ["Marks.csv", "Remarks.csv", "Evidence.csv", "About.csv"]
        assert archive.read("Marks.csv").decode("utf-8-sig").startswith("Student;Identifier;")
    assert sorted(one.name for one in tmp_path.iterdir()) == ["all.xlsx", "one.zip", "school"]


@pytest.mark.parametrize(
    ("options", "says"),
    [
        (["x.ods", "--class", "1"], "by its ending"),
        (["x.xlsx", "--class", "2"], "There is no class 2. The classes are: 1 Chart Room"),
        (["x.xlsx", "--class", "1", "--task", "77"], "no such task"),
        (["x.xlsx", "--class", "1", "--as-of", "29 May"], "--as-of is a day like"),
        (["x.xlsx", "--class", "1", "--as-of", "2090-01-01"], "has not come yet"),
        (["no/x.xlsx", "--class", "1"], "No such file"),
    ],
)
def test_what_cannot_go_out_is_said_in_one_line(
    school: Path, tmp_path: Path, options: list[str], says: str
) -> None:
    done = run("export", str(tmp_path / options[0]), *options[1:], "--data", str(school))
    assert (done.code, says in done.stderr, done.stderr.count("\n")) == (1, True, 1), done.stderr
    assert [one.name for one in tmp_path.iterdir()] == ["school"]


def test_what_works_out_heavy_reads_may_be_killed(school: Path) -> None:
    """The call it was at is told to come again, the next one has a new worker; saves go on."""
    database = Database.in_folder(school)
    token = sessions.begin_session(database, 1, clock.now())
    database.close()
    with serving("serve", "--data", str(school)) as (process, address):
        headers = {"cookie": f"jade_ladder_session={token}"}

        def wall() -> tuple[int, str | None]:
            with closing(http.client.HTTPConnection(address)) as connection:
                connection.request("GET", "/api/classes/1/mastery", headers=headers)
                answer = connection.getresponse()
                answer.read()
            return answer.status, answer.getheader("retry-after")

        assert wall() == (200, None)
        for child in workers(process.pid):
            os.kill(child, signal.SIGKILL)
        answers = [wall() for _ in range(3)]
        assert answers[-1] == (200, None)
        assert set(answers) <= {(200, None), (503, "2")}
        left = workers(process.pid)
        assert left
        process.kill()
        process.wait()
        # However the server ends, its worker ends with it.
        for _ in range(100):
            if not any(runs(child) for child in left):
                break
            time.sleep(0.1)
        assert not any(runs(child) for child in left)


def runs(process: int) -> bool:
    """Whether a process is at work; one that ended may stand in the list until it is reaped."""
    folder = Path(f"/proc/{process}/fd")
    return folder.exists() and bool(os.listdir(folder))


def workers(server: int) -> list[int]:
    """Give the processes that a server started to work out heavy reads."""
    children = Path(f"/proc/{server}/task/{server}/children")
    threads = Path(f"/proc/{server}/task").glob("*/children")
    found = {int(number) for path in [children, *threads] for number in path.read_text().split()}
    return [
        number for number in found if b"spawn_main" in Path(f"/proc/{number}/cmdline").read_bytes()
    ]
