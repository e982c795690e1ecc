"""What comes from outside: damaged, huge, hostile. Each ends in a finding or one plain error, soon, and nothing else happens."""

from __future__ import annotations

import contextlib
import json
import os
import re
import resource
import shlex
import shutil
import signal
import subprocess
import sys
import time
import tomllib
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar import formats, languages, selectors
from lemmar.basics.errors import IncompleteError
from lemmar.documents.merges import unfinished
from lemmar.formats import ReadOptions
from lemmar.inventory.aside import Aside
from lemmar.selectors import Pick
from lemmar.survey.draft import Draft, DraftCatalog, DraftClient, DraftSyntax, Question
from lemmar.survey.writing import charter_text
from lemmar.tags import Tag

from .conftest import DEEP, Repo, charter
from .test_rules import DE, EN, android, one, xml

BILLION = (
    '<!DOCTYPE r [<!ENTITY a "ha">'
    + "".join(f'<!ENTITY a{n} "{f"&a{n - 1 if n else str()};" * 10}">' for n in range(9))
    + "]>"
)
CASES: list[tuple[str, dict[str, str | bytes], list[str]]] = [
    ("empty", one({"app/w/de.json": b""}), ["catalog.unreadable"]),
    ("binary", one({"app/w/de.json": bytes(range(256)) * 40}), ["catalog.encoding"]),
    ("truncated", one({"app/w/de.json": DE[:-20]}), ["catalog.damaged"]),
    ("wrongly encoded", one({"app/w/de.json": DE.encode("utf-16")}), ["catalog.encoding"]),
    (
        "nested 100 levels",
        one({f"app/w/{tag}.json": '{"a": ' * 100 + f'"{tag}"' + "}" * 100 for tag in ("en", "de")}),
        [],
    ),
    ("hugely nested", one({"app/w/de.json": '{"a": ' * 100_000}), ["catalog.unreadable"]),
    ("hugely nested list", one({"app/w/de.json": "[" * 200_000}), ["catalog.unreadable"]),
    (
        "a line of two million characters",
        one({"app/w/de.json": DE.replace("Lager", "x" * 2_000_000)}),
        [],
    ),
    ("a folder where a file is meant", one({"app/w/fr.json/x": ""}), []),
    (
        "entity bomb",
        android(
            {
                "app/values/s.xml": xml('<string name="a">A</string>'),
                "app/values-de/s.xml": BILLION
                + "<resources><string name='a'>&a8;</string></resources>",
            }
        ),
        ["catalog.unreadable"],
    ),
    (
        "one large entity, often",
        android(
            {
                "app/values/s.xml": xml('<string name="a">A</string>'),
                "app/values-de/s.xml": f'<!DOCTYPE r [<!ENTITY b "{"x" * 1000}">]><resources><string name="a">{"&b;" * 1000}</string></resources>',
            }
        ),
        ["catalog.unreadable"],
    ),
    (
        "external entity",
        android(
            {
                "app/values/s.xml": xml('<string name="a">A</string>'),
                "app/values-de/s.xml": '<!DOCTYPE r [<!ENTITY x SYSTEM "file:///etc/passwd">]><resources><string name="a">&x;</string></resources>',
            }
        ),
        ["catalog.damaged"],
    ),
    (
        "an external entity that is only declared",
        android(
            {
                "app/values/s.xml": xml('<string name="a">A</string>'),
                "app/values-de/s.xml": '<!DOCTYPE r [<!ENTITY x SYSTEM "file:///etc/passwd">]><resources><string name="a">B</string></resources>',
            }
        ),
        [],
    ),
    (
        "xml without an end",
        android(
            {
                "app/values/s.xml": xml('<string name="a">A</string>'),
                "app/values-de/s.xml": "<resources>" + "<a '" * 100_000,
            }
        ),
        ["catalog.unreadable"],
    ),
    (
        "xml nested 50,000 deep",
        android(
            {
                "app/values/s.xml": xml('<string name="a">A</string>'),
                "app/values-de/s.xml": "<resources>" + "<a>" * 50_000,
            }
        ),
        ["catalog.unreadable"],
    ),
]


@pytest.mark.parametrize(
    ("files", "expected"),
    [pytest.param(files, expected, id=name) for name, files, expected in CASES],
)
def test_files(repo: Repo, files: dict[str, str | bytes], expected: list[str]) -> None:
    start = time.monotonic()
    findings = repo.write(files).audit()["findings"]
    assert [finding["rule"] for finding in findings if finding["severity"] == "error"] == expected
    assert time.monotonic() - start < 30
    assert "root:" not in json.dumps(findings)
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss < 1_500_000


def test_links_and_pipes(repo: Repo, tmp_path_factory: pytest.TempPathFactory) -> None:
    outside = tmp_path_factory.mktemp("outside") / "de.json"
    outside.write_text(DE)
    repo.write(
        {
            "lemmar.toml": str(one()["lemmar.toml"]),
            "app/locales.json": '["en", "de"]',
            "app/w/en.json": EN,
        }
    )
    (repo.root / "app/w/de.json").symlink_to(outside)
    (repo.root / "app/w/fr.json").symlink_to("fr.json")
    os.mkfifo(repo.root / "app/w/it.json")
    assert repo.found() == ["roster.hollow app/locales.json:1:8 de"]
    assert "not a regular file" in repo.run("read", "app/w/it.json").out
    assert "cannot be read" in repo.run("read", "app/w/fr.json").out


def test_a_claim_does_not_leave_the_monorepo(
    repo: Repo, tmp_path_factory: pytest.TempPathFactory
) -> None:
    outside = tmp_path_factory.mktemp("outside") / "l.json"
    outside.write_text('["en", "de"]')
    files = one()
    (repo.write(files).root / "app/locales.json").unlink()
    (repo.root / "app/locales.json").symlink_to(outside)
    assert {line.split()[0] for line in repo.found()} == {"roster.unreadable-claim"}


@pytest.mark.skipif(os.geteuid() == 0, reason="root reads everything")
def test_a_file_without_permission(repo: Repo) -> None:
    (repo.write(one()).root / "app/w/de.json").chmod(0)
    assert [line.split()[0] for line in repo.found()] == ["catalog.unreadable"]


def test_a_file_that_goes_away_while_it_is_read(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    from lemmar.trees.folder import FolderTree

    read = FolderTree.read

    def unreadable(self: FolderTree, file: str) -> object:
        if file.endswith("de.json"):
            raise PermissionError(13, "Permission denied")
        return read(self, file)  # type: ignore[arg-type]

    monkeypatch.setattr(FolderTree, "read", unreadable)
    data = repo.write(one()).audit()
    assert [finding["message"] for finding in data["findings"]] == [
        "app/w/de.json: the file cannot be read: Permission denied"
    ]


ESCAPES = "\x1b[2J\u202e\x07"


def test_terminal_escapes_come_out_inert(repo: Repo) -> None:
    repo.write(
        one(
            {
                "app/w/de.json": json.dumps({f"k{ESCAPES}": f"t{ESCAPES}"}),
                "app/w/en.json": json.dumps({f"z{ESCAPES}": f"s{ESCAPES}"}),
                f"app/w/fr{ESCAPES}.json": "{}",
            }
        )
    )
    for command in (
        ["audit"],
        ["grid"],
        ["client", "app"],
        ["read", "app/w/de.json"],
        ["read", "app/w/de.json", "--format", "markdown"],
        ["read", "app/w/de.json", "--format", "csv"],
    ):
        out = repo.run(*command).out
        assert not any(sign in out for sign in ESCAPES.replace("[2J", "")), command
    assert "\\x1b[2J\\u202e\\x07" in repo.run("audit").out


def test_formulas_and_markup_come_out_inert(repo: Repo) -> None:
    repo.write({"x.json": json.dumps({"=1+1": "@SUM(A1)", "a|b": "<b>x</b>"})})
    out = repo.run("read", "x.json", "--format", "csv").out
    assert "'=1+1" in out and "'@SUM(A1)" in out
    assert (
        "a\\|b" in repo.run("read", "x.json", "--format", "markdown").out
        and "\\<b\\>" in repo.run("read", "x.json", "--format", "markdown").out
    )


def test_names_and_texts_that_are_no_unicode(repo: Repo) -> None:
    repo.write(one({"app/w/en.json": '{"a": "x\\ud800"}', "app/w/de.json": "{}"}))
    (Path(os.fsdecode(os.fsencode(repo.root) + b"/app/w/fr\xff.json"))).write_text("{}")
    data = repo.audit()
    assert data["verdict"] == "hold"
    assert "fr\\xff.json" in repo.run("audit").out


OPEN, PART, CLOSE = "<<<<<<< a\n", "=======\n", ">>>>>>> b\n"


@pytest.mark.parametrize(
    "text",
    [
        OPEN * 200_000 + CLOSE,
        (OPEN + PART) * 100_000,
        OPEN * 20_000 + (PART + CLOSE) * 20_000,  # one in another
        (OPEN + "x\n" + PART + "y\n" + CLOSE) * 20_000,
        "<" * 1_000_000 + "\n" + CLOSE,
    ],
)
def test_merges_in_merges_end(text: str) -> None:
    found = unfinished(text.encode())
    if found is not None:
        assert len(found.ours) == len(found.theirs) == len(text)
    formats.load("properties").read(text.encode(), ReadOptions())


@given(
    st.lists(st.sampled_from([OPEN, PART, CLOSE, "||||||| c\n", "a=1\n", "b=2\r\n"]), max_size=12)
)
def test_a_merge_keeps_every_line_where_it_is(lines: list[str]) -> None:
    data = "".join(lines).encode()
    found = unfinished(data)
    for side in (found.ours, found.theirs) if found is not None else ():
        assert [len(line) for line in side.split(b"\n")] == [
            len(line) for line in data.split(b"\n")
        ]
        kept = [line for line in side.splitlines() if line.strip()]
        assert set(kept) <= set(data.splitlines())


# ------------------------------------------------------------------------------------------- what cannot be listed or read


def as_somebody_else(repo: Repo, *arguments: str) -> subprocess.CompletedProcess[str]:
    """A run as a user whom permissions bind."""
    command = [str(Path(sys.executable).with_name("lemmar")), *arguments]
    if os.geteuid() == 0:
        if shutil.which("setpriv") is None:
            pytest.skip("setpriv is not there, and root may read everything")
        somebody = ["setpriv", "--reuid=65534", "--regid=65534", "--clear-groups"]
        if subprocess.run([*somebody, command[0], "--version"], capture_output=True).returncode:
            pytest.skip("another user may not run the program here")
        command = [*somebody, *command]
    environment = os.environ | {"HOME": "/nonexistent"}
    return subprocess.run(command, cwd=repo.root, capture_output=True, text=True, env=environment)


@pytest.fixture
def open_repo(repo: Repo) -> Iterator[Repo]:
    """A monorepo that other users may read."""
    for folder in (repo.root, *repo.root.parents):
        if folder.stat().st_uid == os.geteuid() and folder != Path("/"):
            folder.chmod(folder.stat().st_mode | 0o755)
    yield repo
    for folder in repo.root.rglob("*"):
        if folder.is_dir() and not folder.is_symlink():
            folder.chmod(0o755)


@pytest.mark.parametrize("command", [["audit"], ["survey"], ["read", "app"]])
def test_a_folder_that_may_not_be_listed_is_told(open_repo: Repo, command: list[str]) -> None:
    open_repo.write(one({"app/w/more/x.json": "{}"}, files="w/**/{locale}.json"))
    open_repo.write({"app/w/en.json": EN, "app/w/de.json": DE})
    (open_repo.root / "app/w/more").chmod(0)
    done = as_somebody_else(open_repo, *command)
    assert done.returncode == 3, done
    assert "w/more cannot be listed: Permission denied" in done.stdout + done.stderr


def test_an_ignore_file_that_cannot_be_read_is_told(repo: Repo) -> None:
    repo.write(one())
    os.mkfifo(repo.root / ".gitignore")
    data = repo.audit()
    assert (data["complete"], repo.run("audit").code) == (False, 3)
    assert data["unfinished"] == ["the file .gitignore cannot be read: it is not a regular file"]


def test_a_root_that_leads_out_is_not_looked_into(
    repo: Repo, tmp_path_factory: pytest.TempPathFactory
) -> None:
    outside = tmp_path_factory.mktemp("outside")
    (outside / "w").mkdir(parents=True)
    (outside / "w" / "en.json").write_text('{"bunk": "secret"}')
    repo.write({"lemmar.toml": one()["lemmar.toml"], "other/w/en.json": EN})
    (repo.root / "app").symlink_to(outside)
    for command in (["audit"], ["peek", "bunk"], ["client", "app"], ["grid"], ["survey"]):
        ran = repo.run(*command)
        assert "secret" not in ran.out + ran.err, (command, ran)
        assert "the folder app leads out of the monorepo" in ran.err or ran.code in (2, 3), ran


@pytest.mark.parametrize("what", ["fifo", "device", "huge"])
def test_a_charter_that_is_no_plain_file(repo: Repo, what: str) -> None:
    path = repo.root / "lemmar.toml"
    if what == "fifo":
        os.mkfifo(path)
    elif what == "device":
        path.symlink_to("/dev/zero")
    else:
        with path.open("wb") as stream:
            stream.truncate(1 << 32)
    ran = repo.run("audit", "--charter", "lemmar.toml")
    assert ran.code == 2 and "lemmar.toml cannot be read: it is" in ran.err, ran


# ------------------------------------------------------------------------------------------------------------------- odd names


_any_text = st.text(st.characters(codec="utf-8"), max_size=20) | st.sampled_from(
    [
        'a\n[[waiver]]\nrule = "*"\nreason = "x"\n#',
        "'",
        '"',
        "\\",
        "]",
        "#",
        "\r\n",
        "\u202ex",
        "'\n'",
        "\x7f",
    ]
)


@given(name=_any_text, key=_any_text, words=_any_text)
def test_a_draft_s_charter_holds_what_was_meant_and_nothing_else(
    name: str, key: str, words: str
) -> None:
    catalog = DraftCatalog(name, {"files": name, "format": key}, (Tag("en"),), ("f",), 1, 1.0)
    client = DraftClient(
        name, "web", key, words, words, (catalog,), (), Tag("en"), doubts=(Question(key, words),)
    )
    syntax = DraftSyntax("own", words, (key, name))
    draft = Draft(
        (client,), Tag("en"), (Tag("en"),), {}, (), Tag("en"),
        questions=(Question(name, words),), aside=(Aside(words, key),), syntaxes=(syntax,),
        source_only=(name,), unfinished=(words,),
    )  # fmt: skip
    found = tomllib.loads(charter_text(draft))
    assert set(found) == {"charter", "roster", "chains", "gate", "messages", "syntax", "client"}
    assert found["charter"]["ignore"] == [words] and found["messages"]["source-only-keys"] == [name]
    (only,) = found["client"]
    assert (only["name"], only["root"]) == (name, key)
    assert only["catalog"] == [{"files": name, "format": key}]
    assert found["syntax"]["own"] == {"placeholder": words}


def test_a_survey_of_odd_names_draws_up_the_rest(repo: Repo) -> None:
    odd = [
        'a\n[[waiver]]\nrule = "*"\n#',
        "b[c]",
        "{locale}",
        "d\\e",
        "f\x1bg",
        "i'j\"k",
        "n?*o",
        "l" * 250,
    ]
    for name in odd:
        repo.write({f"{name}/w/{tag}.json": DE.replace("Lager", tag) for tag in ("en", "de", "fr")})
    name = os.fsdecode(b"m\xff")
    repo.write({f"{name}/w/{tag}.json": DE.replace("Lager", tag) for tag in ("en", "de", "fr")})
    ran = repo.run("survey", "--write")
    assert (ran.code == 0 and ran.out.isprintable()) or "\x1b" not in ran.out
    charter_ = tomllib.loads((repo.root / "lemmar.toml").read_text("utf-8"))
    assert {client["root"] for client in charter_["client"]} == {"i'j\"k", "l" * 250}
    assert "waiver" not in charter_ and "b[c]/w/" in ran.out
    repo.write({"lemmar.toml": charter(r"b\\[c\\]/w/{locale}.json", root=".", claim="")})
    assert "catalog.no-match" not in {each["rule"] for each in repo.audit()["findings"]}


# ----------------------------------------------------------------------------------------------------------------- streams


COMMANDS = [
    *(["audit"], ["survey"], ["grid"], ["chain"], ["landing", "de-CH"], ["peek", "bunk"], ["client"]),
    *(["rules"], ["rules", "roster.split"], ["charter"], ["charter", "--schema"], ["tag", "de"]),
    *(["read", "app/w/en.json"], ["demo", "--into", "made"], ["--help"], ["--version"], ["audit", "--help"]),
]  # fmt: skip
LEMMAR = str(Path(sys.executable).with_name("lemmar"))


REDIRECTED = (">&-", "2>&-", ">/dev/full", "2>/dev/full", ">&- 2>&-", "| head -c 1")


@pytest.mark.deep
@pytest.mark.parametrize(
    ("number", "command"), list(enumerate(COMMANDS)), ids=[" ".join(each) for each in COMMANDS]
)
def test_streams_that_are_closed_or_full(repo: Repo, number: int, command: list[str]) -> None:
    repo.write(one({"app/w/de.json": DE.replace("{{name}}", "")}))

    def run(redirected: str) -> subprocess.CompletedProcess[str]:
        shutil.rmtree(repo.root / "made", ignore_errors=True)
        line = f"{shlex.join([LEMMAR, *command])} {redirected}"
        return subprocess.run(["sh", "-c", line], cwd=repo.root, capture_output=True, text=True)

    plain = run("")
    for redirected in REDIRECTED if DEEP else REDIRECTED[number % 3 :: 3]:
        done = run(redirected)
        if redirected.startswith("|"):
            assert done.stderr == plain.stderr
        elif redirected.startswith("2"):
            assert (done.returncode, done.stdout) == (plain.returncode, plain.stdout)
        else:
            said = done.stderr.count("the output could not be written")
            assert (done.returncode, said) == (74, 0 if "2>" in redirected else 1)


@pytest.mark.parametrize(("number", "code"), [(signal.SIGINT, 130), (signal.SIGTERM, 143)])
@pytest.mark.parametrize("after", [0.0, 0.02, 0.05, 0.1, 0.2, 0.4])
def test_a_signal_at_any_moment_is_no_verdict(
    repo: Repo, number: signal.Signals, code: int, after: float
) -> None:
    """At the very first Python's own start may answer, by the same code, by the signal itself or with 1; a run that was through keeps its own."""
    many = {f"app/w/{tag}/{part}.json": EN for tag in ("en", "de") for part in range(400)}
    repo.write(one(dict(many), files="w/{locale}/{part}.json"))
    running = subprocess.Popen(
        [LEMMAR, "audit"], cwd=repo.root, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    time.sleep(after)
    running.send_signal(number)
    out, err = running.communicate(timeout=60)
    early = (
        "KeyboardInterrupt" in err and "/lemmar/cli/" not in err and not out
    )  # no line of ours but the package's first
    ended = (
        running.returncode in (code, -number)
        or "verdict:" in out
        or (early and running.returncode == 1)
    )
    assert ended, (running.returncode, err)
    ours = re.search(r"/(?:src|site-packages)/lemmar/(?!__init__\.py)", err)
    assert "Traceback" not in err or not ours, err  # the installer's script is not ours


# ------------------------------------------------------------------------------------------------------------- where output goes


def test_output_goes_through_links_and_devices_and_never_over_what_is_read(repo: Repo) -> None:
    repo.write(one())
    before = {path: path.read_bytes() for path in repo.root.rglob("*") if path.is_file()}
    for name in ("lemmar.toml", "app/w/de.json", "app/locales.json"):
        ran = repo.run("audit", "-o", name)
        assert ran.code == 2 and f"{name} was read for this" in ran.err
    (repo.root / "link.txt").symlink_to("app/w/de.json")
    assert repo.run("audit", "-o", "link.txt").code == 2
    assert {path: path.read_bytes() for path in before} == before
    (repo.root / "other.txt").symlink_to("made.txt")
    assert repo.run("audit", "-o", "other.txt").code == 0
    assert (repo.root / "other.txt").is_symlink() and "clear" in (
        repo.root / "made.txt"
    ).read_text()
    os.mkfifo(repo.root / "pipe")
    reader = subprocess.Popen(["cat", "pipe"], cwd=repo.root, stdout=subprocess.PIPE, text=True)
    assert repo.run("audit", "-o", "pipe").code == 0
    assert "verdict: clear" in reader.communicate(timeout=20)[0]
    assert repo.run("audit", "-o", "/dev/full").code == 2
    assert repo.run("audit", "-o", "/dev/null").code == 0 and Path("/dev/null").is_char_device()
    assert repo.run("audit", "-o", "made.txt").code == 0
    assert repo.run("audit", "--onto-input", "-o", "app/w/de.json").code == 0
    assert "verdict" in (repo.root / "app/w/de.json").read_text()


# ------------------------------------------------------------------------------------------------- encodings, depth, programs


NO_ENCODINGS = ["rot13", "hex", "zlib", "punycode", "idna", "undefined", "utf-7", "unicode_escape", "uu", "nosuch"]  # fmt: skip


@pytest.mark.parametrize("name", NO_ENCODINGS)
def test_what_is_no_encoding_of_texts_is_said_once(repo: Repo, name: str) -> None:
    head = f'msgid ""\nmsgstr "Content-Type: text/plain; charset={name}\\n"\n\n'
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", platform="posix", claim=""),
            "app/po/en.po": 'msgid "a"\nmsgstr "b"\n',
            "app/po/de.po": f'{head}msgid "a"\nmsgstr "c"\n',
        }
    )
    assert [each["rule"] for each in repo.audit()["findings"]] == ["catalog.encoding"]
    data = f'<?xml version="1.0" encoding="{name}"?><root><data name="a"><value>y</value></data></root>'
    repo.write(
        {
            "lemmar.toml": charter("r/{locale}.resx", platform="dotnet", claim=""),
            "app/r/en.resx": '<root><data name="a"><value>x</value></data></root>',
            "app/r/de.resx": data,
        }
    )
    assert "catalog.encoding" in {each["rule"] for each in repo.audit()["findings"]}
    repo.write({"lemmar.toml": charter("r/{locale}.resx", catalog=f'  encoding = "{name}"\n')})
    ran = repo.run("audit")
    assert ran.code == 2 and "is no encoding of texts that is known" in ran.err


BROKEN = [  # a format, a file, the kinds of its defects
    ("resx", '<root><data name="a"><value>&#xD800;</value></data></root>', {"unreadable"}),
    ("resx", '<?xml version="1.0" encoding="big5"?><!DOCTYPE root [<!ENTITY q "z">]><root><data name="a"><value>y</value></data></root>', set()),
    ("toml", "a = 'x'\nb = " + "9" * 5_000, {"damaged"}),
    ("toml", "a = 'x'\nb = " + "{c = " * 500 + "1" + "}" * 500, {"damaged"}),
    ("toml", "a = 'x'\nb = " + "{c = " * 100 + "1" + "}" * 100, set()),
    ("toml", "a = '1'\n[a.b]\nc = '2'\n", {"damaged"}),
    ("toml", "a = 'x'\n" + ".".join(["b"] * 30_000) + " = 1", {"damaged"}),
    ("toml", "a = 'x'\n[" + ".".join(["b"] * 30_000) + "]\nc = 1", {"damaged"}),
    ("toml", "a = 'x'\n" + ".".join(["b"] * 100) + " = 1", set()),
    ("strings", '<!DOCTYPE plist [<!ENTITY e SYSTEM "file:///etc/passwd">]><plist><dict><key>a</key><string>&e;</string></dict></plist>', {"damaged"}),
    ("strings", "<plist>" + "<dict><key>a</key>" * 3_000 + "</dict>" * 3_000 + "</plist>", {"unreadable"}),
    ("strings", '/* a map */ {\n"a" = "c";\n}\n', set()),
    ("code.php", "<?php return ['a' => 'x', $b => 'y', 'c'.'d' => 'z'];", {"computed"}),
    ("code.ts", "export default { a: 'x', [`b${c}`]: 'y', ['d']: 'z', '\u2026': 'w' };", {"computed"}),
    ("code.py", "T = {'a': 'x', f'b{c}': 'y'}", {"computed"}),
    ("code.dart", "const Map t = {'a': 'x', 'b$c': 'y'};", {"computed"}),
    ("sheet.csv", 'Key,en,de\na,A,"A\nb,B,B\nc,"C, x",C\nd,D,D\n', {"damaged"}),
    ("sheet.csv", 'Key,en,de\na,A,"A\nb,B,"B\nd,D,D\n', {"damaged"}),
    ("sheet.csv", 'Key,en,de\na,"A\nmore",B\nd,D,D\n', set()),
    ("sheet.csv", "Key," + "en," * 2_000 + "\n", {"unreadable"}),
    ("po", 'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-16\\n"\n\nmsgid "a"\nmsgstr "A"\n', {"encoding"}),
    ("properties", "a=b\n" * 6_000, {"duplicate-key"}),
    ("toml", "a = {" + "b." * 30_000 + "c = 1}\n", {"unreadable"}),
]  # fmt: skip


def read(name: str, text: str) -> formats.Reading:
    """The reading of a file of the format *name*, which may have a suffix."""
    name, _, suffix = name.partition(".")
    reader = formats.load(name)
    options = ReadOptions(layout=reader.layouts[0], suffix=f".{suffix}" if suffix else "")
    return reader.read(text.encode(), options)


@pytest.mark.parametrize(("name", "text", "kinds"), BROKEN)
def test_each_of_these_is_told(name: str, text: str, kinds: set[str]) -> None:
    reading = read(name, text)
    assert {defect.kind for defect in reading.defects} == kinds
    assert all("passwd" not in (text or "") for column in reading.columns for text in column.texts)


def test_a_computed_key_is_no_entry_and_more_defects_than_anyone_reads_are_counted() -> None:
    (column,) = read("code.ts", "export default { a: 'x', [`b${c}`]: 'y', '\u2026': 'w' };").columns
    assert list(column.keys) == ["a", "\u2026"]
    *_, last = read("properties", "a=b\n" * 6_000).defects
    assert last.detail.endswith("with the same text (999 more after it)")


def test_a_place_after_a_break_is_the_place_of_the_thing() -> None:
    text = "<resources>\n<string name='a'>A</string>\n<string name='b'>B & C</string>\n<string name='c'>C</string>\n</resources>"
    sites = formats.load("android-xml").locate(text.encode(), ReadOptions(), [(None, "c")])
    assert sites[None, "c"].line == 4
    text = 'Key,en\na,"A\nb,"B\nc,C\n'
    sites = formats.load("sheet").locate(
        text.encode(), ReadOptions(layout="columns"), [("en", "c")]
    )
    assert sites["en", "c"].line == 4


# What took minutes, gigabytes, or the process with it; each is a megabyte here: a format, what stands before, what is repeated, what after.
PUMPED = [
    ("strings", "", "// ", "\nx}"),
    ("strings", "{", "a;", "}"),
    ("po", "", "#", ""),
    ("po", "", "#. a\n", ""),
    ("po", 'msgid "a"\nmsgstr "b"\n\n', "# a\n\n", ""),
    ("properties", "", "# a\n", ""),
    ("android-xml", '<resources><string name="a"', "&amp;", ">x</string></resources>"),
    ("android-xml", '<resources><string name="a"', "a ", ">x</string></resources>"),
    ("sheet.csv", "", "en,", ""),
    ("sheet.csv", "Key,en,de\n", '"a"b,', ""),
    ("sheet.tsv", "Key\ten\tde\n", 'a,"\n', ""),
    ("json", "", "[", ""),
    ("json", '{"a":"x",', '"a":1,', '"z":1}'),
    ("json", "", '"', ""),
    ("toml", "a = {", "a.", "}"),
    ("toml", "", "a.", ""),
    ("code.ts", "", "a:{", ""),
    ("code.ts", "export default {a:", "// a\n", "};"),
    ("code.ts", "export default {a:", "/**/", "};"),
    ("code.ts", "", "'", ""),
    ("code.ts", "export default {", "a.", "};"),
    ("code.php", "<?php ", "{$a}", ""),
    ("code.py", "T = {'a':", "# a\n", "}"),
    ("code.ts", "", "{" * 3, ""),
]  # fmt: skip


@pytest.mark.deep
@pytest.mark.parametrize(("name", "before", "unit", "after"), PUMPED)
def test_a_megabyte_of_anything_ends(name: str, before: str, unit: str, after: str) -> None:
    """The bound is ten times what each takes, so that it tells a wrong way from a slow machine."""

    def stop(_number: int, _frame: object) -> None:
        raise AssertionError("it does not end")

    text = before + unit * ((1_000_000 if DEEP else 250_000) // len(unit)) + after
    kept = signal.signal(signal.SIGVTALRM, stop)
    signal.setitimer(signal.ITIMER_VIRTUAL, 60)
    try:
        read(name, text)
    except IncompleteError:
        pass
    finally:
        signal.setitimer(signal.ITIMER_VIRTUAL, 0)
        signal.signal(signal.SIGVTALRM, kept)


@pytest.mark.parametrize(
    "page", ["<script>" + "a:{" * 300_000, "<a onclick='" + "x(" * 300_000 + "'>"]
)
def test_the_script_of_a_page_has_the_bounds_of_scripts(page: str) -> None:
    with contextlib.suppress(IncompleteError):
        assert languages.parse(page.encode(), ".html") is not None


def test_names_in_code_that_are_all_different_are_found_in_one_pass() -> None:
    text = "export default {" + "".join(f"[a{number}]:1," for number in range(20_000)) + "};"
    assert {defect.kind for defect in read("code.ts", text).defects} == {"computed"}


@pytest.mark.parametrize("expression", [
    "//a" + "|//b" * 500, "//*[count(//*[count(//*[count(//*)>1])>1])>1]/@x", "//*/preceding::*/following::*", "//*[.//*[.//*]]", "//a | //b | //c",
])  # fmt: skip
def test_an_expression_of_too_many_steps_is_refused(expression: str) -> None:
    document = ("<r>" + "<a><b/></a>" * 3_000 + "</r>").encode()
    (defect,) = selectors.load("xpath").select(document, Pick(expression, suffix=".xml")).defects
    assert "too many steps in a document of 6,001 elements" in defect.detail
    small = selectors.load("xpath").select(b"<r><a x='1'/></r>", Pick(expression, suffix=".xml"))
    assert not small.defects


def test_a_path_from_the_root_is_evaluated_in_any_document() -> None:
    document = ("<r>" + "<a x='de'><b/></a>" * 100_000 + "</r>").encode()
    for expression in ("/r/a[b]/@x", "//a/@x"):
        found = selectors.load("xpath").select(document, Pick(expression, suffix=".xml"))
        assert len(found.values) == 100_000 and not found.defects


def test_a_plural_rule_that_is_a_program_is_told(repo: Repo) -> None:
    rule = "nplurals=2; plural=__import__('os').system('id');"
    forms = 'msgid "a"\nmsgid_plural "as"\nmsgstr[0] "c"\nmsgstr[1] "d"\n'
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", platform="posix", claim=""),
            "app/po/en.po": 'msgid "a"\nmsgid_plural "as"\nmsgstr[0] "x"\nmsgstr[1] "y"\n',
            "app/po/de.po": f'msgid ""\nmsgstr "Plural-Forms: {rule}\\n"\n\n{forms}',
        }
    )
    (finding,) = repo.audit()["findings"]
    assert finding["message"] == "the header's rule for plurals cannot be read"


def test_a_folder_that_is_gone_and_an_expression_without_end(repo: Repo) -> None:
    repo.write(one())
    deep = f'\n  [[client.claim]]\n  states = "offered"\n  file = "a.txt"\n  match = "{"(" * 5_000}{")" * 5_000}"\n'
    repo.write({"lemmar.toml": charter(more=deep), "app/a.txt": "en"})
    ran = repo.run("audit")
    assert ran.code == 2 and "nested too deeply" in ran.err
    (repo.root / "gone").mkdir()
    line = f"cd gone && rmdir ../gone && {LEMMAR} audit"
    done = subprocess.run(["sh", "-c", line], cwd=repo.root, capture_output=True, text=True)
    assert done.returncode == 2 and "the current folder is not there any more" in done.stderr


# ------------------------------------------------------------------------------------------------- what happens meanwhile


def test_a_file_that_changes_while_it_is_read_makes_the_audit_incomplete(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    from lemmar.trees.folder import FolderTree

    read = FolderTree.read

    def changing(self: FolderTree, file: str) -> object:
        data = read(self, file)  # type: ignore[arg-type]
        if file.endswith("de.json"):
            (repo.root / "app/w/de.json").write_text(DE + " ")
        return data

    repo.write(one())
    monkeypatch.setattr(FolderTree, "read", changing)
    data = repo.audit()
    words = "the file app/w/de.json changed while this ran; run it again"
    assert (data["complete"], data["unfinished"], data["verdict"]) == (False, [words], "hold")
    monkeypatch.undo()
    assert repo.audit()["complete"]


def test_a_client_that_may_not_be_looked_into_is_told(open_repo: Repo) -> None:
    open_repo.write(one())
    (open_repo.root / "app").chmod(0)
    done = as_somebody_else(open_repo, "audit", "--no-cache")
    assert done.returncode == 3
    assert done.stderr == (
        "lemmar: nothing could be audited: the folder app cannot be listed: Permission denied\n"
    )


def test_a_name_that_is_empty_or_does_something_to_a_terminal(repo: Repo) -> None:
    repo.write(one())
    for command in (["audit", "-o", ""], ["audit", "--charter", ""], ["survey", ""], ["read", ""]):
        ran = repo.run(*command)
        assert ran.code == 2 and ("the name is empty" in ran.err or "no file was named" in ran.err)
    ran = repo.run("demo", "--into", "made\x1b[31m")
    assert ran.code == 0 and "\x1b" not in ran.out + ran.err
    assert "files to made\\x1b[31m" in ran.err and "cd 'made\\x1b[31m'" in ran.out


def test_drawings_are_plain_where_the_stream_has_no_other_letters(repo: Repo) -> None:
    repo.write(one({"app/w/de.json": DE.replace("Lager", "Lager\u00fc")}))
    environment = os.environ | {"PYTHONIOENCODING": "ascii"}
    for command in ("grid", "audit"):
        done = subprocess.run(
            [LEMMAR, command], cwd=repo.root, capture_output=True, env=environment
        )
        assert b"\\u" not in done.stdout and b"----" in done.stdout
        assert done.stdout.isascii()


def test_a_demo_that_is_stopped_leaves_no_half_file(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    rename, count = Path.rename, []

    def stopping(self: Path, target: Path) -> Path:
        count.append(target)
        if len(count) == 3:
            raise KeyboardInterrupt
        return rename(self, target)

    monkeypatch.setattr(Path, "rename", stopping)
    assert repo.run("demo", "--into", "made").code == 130
    monkeypatch.undo()
    assert not (repo.root / "made/lemmar.toml").exists()
    assert repo.run("demo", "--into", "whole", "-q").code == 0
    for path in (repo.root / "made").rglob("*"):
        if path.is_file():
            there = repo.root / "whole" / path.relative_to(repo.root / "made")
            assert path.read_bytes() == there.read_bytes()


def test_a_value_that_is_nested_too_deeply_in_a_charter(repo: Repo) -> None:
    repo.write({"lemmar.toml": "a = " + "{b = " * 200 + "1" + "}" * 200})
    ran = repo.run("audit")
    assert ran.code == 2 and "nested deeper than 100 levels" in ran.err
