"""What is kept from one audit to the next, and what processes do side by side, changes no byte of any result."""

from __future__ import annotations

import json
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from lemmar.cache import Store, default_folder, key_of
from lemmar.cache import store as store_module

from .conftest import Ran, Repo, charter

LEMMAR = str(Path(sys.executable).with_name("lemmar"))
LOCALES = ("en", "de", "fr", "pl")
WORDS = (
    "Bunk",
    "Hut by the lake",
    "Room for {n} guests",
    "Stove",
    "Water from the spring",
    "Path {n}",
)


def texts(seed: int, locale: str, number: int = 6) -> dict[str, str]:
    """Some texts, now and then with a fault."""
    chance = random.Random(f"{seed}{locale}")
    found = {}
    for index in range(number):
        word = WORDS[index % len(WORDS)]
        if chance.random() < 0.1:
            continue
        if chance.random() < 0.1:
            word = word.replace("{n}", "{m}")
        found[f"key{index}"] = word if locale == "en" else f"{word} {locale}"
    return found


def monorepo(repo: Repo, seed: int) -> None:
    """Three clients in as many formats, and a shared catalog."""
    names = ("one", "two", "three")
    tables = []
    for name, kind in zip(names, ("json", "strings", "po"), strict=True):
        pattern = {
            "json": "w/{locale}.json",
            "strings": "{locale}.lproj/L.strings",
            "po": "po/{locale}.po",
        }[kind]
        platform = "lproj" if kind == "strings" else "browser"
        uses = '\nuses = ["common"]' if name != "two" else ""
        tables.append(
            f'[[client]]\nname = "{name}"\nkind = "web"\nroot = "{name}"\nplatform = "{platform}"{uses}\n'
            f'  [[client.catalog]]\n  files = "{pattern}"\n'
            '  [[client.claim]]\n  states = "supported"\n  file = "locales.json"\n  pointer = ""\n'
        )
        repo.write({f"{name}/locales.json": json.dumps(LOCALES)})
        for locale in LOCALES:
            write_catalog(
                repo, kind, f"{name}/{pattern.format(locale=locale)}", texts(seed, locale)
            )
    for locale in LOCALES:
        write_catalog(
            repo,
            "json",
            f"common/{locale}.json",
            {"common.yes": "Yes, please", "common.no": f"No {locale}"},
        )
    head = charter(shipping=" ".join(LOCALES)).split("[[client]]")[0]
    shared = '[[catalog]]\nname = "common"\nfiles = "common/{locale}.json"\n'
    repo.write(
        {
            "lemmar.toml": head + '[audience]\nde-AT = "agree"\n' + shared + "".join(tables),
            ".gitignore": "ignored/\n",
        }
    )


def write_catalog(repo: Repo, kind: str, file: str, held: dict[str, str]) -> None:
    """A catalog in the format *kind*."""
    if kind == "json":
        content = json.dumps(held, indent=1)
    elif kind == "strings":
        content = "".join(f'"{key}" = "{text}";\n' for key, text in held.items())
    else:
        content = 'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n\n' + "".join(
            f'msgid "{key}"\nmsgstr "{text}"\n\n' for key, text in held.items()
        )
    repo.write({file: content})


def audit(repo: Repo, *more: str) -> Ran:
    """The audit's whole output."""
    return repo.run("audit", "--format", "json", "--today", "2026-11-25", *more)


def aged(repo: Repo) -> None:
    """Makes every file and folder older than what is always looked at again; the times at which they were changed cannot be set, so time is."""
    old = time.time() - 3600
    for folder, _, files in os.walk(repo.root):
        for name in files:
            os.utime(Path(folder) / name, (old, old))
        os.utime(folder, (old, old))


@pytest.fixture
def later(monkeypatch: pytest.MonkeyPatch) -> None:
    """Every look at a folder is an hour from now, so that all that is there may be known by its facts."""
    real = time.time_ns
    monkeypatch.setattr(time, "time_ns", lambda: real() + 3600 * 10**9)


# ------------------------------------------------------------------------------------------------- after every change


def edits(repo: Repo, chance: random.Random) -> Callable[[], object]:
    """One change of many kinds to the monorepo."""
    root = repo.root
    files = sorted(path for path in root.rglob("*") if path.is_file() and ".git/" not in str(path))
    catalogs = [
        path
        for path in files
        if path.suffix in (".json", ".strings", ".po") and path.name != "locales.json"
    ]
    file = chance.choice(catalogs or files)
    number = chance.randrange(1000)

    def rewritten() -> None:
        facts = file.stat()
        data = file.read_bytes()
        place = chance.randrange(max(1, len(data)))
        file.write_bytes(
            data[:place] + bytes([97 + number % 26]) + data[place + 1 :]
        )  # of the same size
        if chance.random() < 0.5:
            os.utime(file, ns=(facts.st_atime_ns, facts.st_mtime_ns))  # and of the same time

    def added() -> None:
        folder = chance.choice(["one/w", "one/w/deep", "elsewhere", "two/es.lproj", "ignored/w"])
        (root / folder).mkdir(parents=True, exist_ok=True)
        name = (
            "L.strings"
            if folder.endswith("lproj")
            else chance.choice(["es.json", "it.json", "notes.txt"])
        )
        (root / folder / name).write_text(
            '"key0" = "Litera";' if name.endswith("s") else '{"key0": "Litera"}'
        )

    def in_charter() -> None:
        path = root / "lemmar.toml"
        text = path.read_text()
        path.write_text(
            chance.choice(
                [
                    text + f"\n# {number}\n",
                    f"# {number}\n" + text,
                    text.replace('"pl"]', '"pl", "es"]', 1),
                    text.replace('de-AT = "agree"', 'de-AT = "de"'),
                    text
                    + '\n[[waiver]]\nrule = "message.missing"\nuntil = 2027-01-01\nreason = "later"\n',
                ]
            )
        )

    def unlisted() -> None:
        (root / "one/locales.json").write_text(json.dumps(chance.sample(LOCALES, 3)))

    def ignored() -> None:
        (root / ".gitignore").write_text(
            chance.choice(["ignored/\n", "fr.json\n", "", "ignored/\n!ignored/w\n"])
        )

    def linked() -> None:
        link = root / "one/w/sv.json"
        link.unlink(missing_ok=True)
        link.symlink_to(
            chance.choice(["de.json", "../../common/fr.json", "/etc/hostname", "nowhere"])
        )

    def owned() -> None:
        place = root / chance.choice(["CODEOWNERS", "docs/CODEOWNERS", ".forge/CODEOWNERS"])
        place.parent.mkdir(exist_ok=True)
        place.write_text(chance.choice(["* @all\n", "*.po @po\none/ @one\n", "", "# nobody\n"]))

    def included() -> None:
        (root / "four").mkdir(exist_ok=True)
        (root / "four/lemmar-client.toml").write_text(
            f'[[client]]\nname = "four"\nkind = "web"\nroot = "."\nlike = "{chance.choice(["one", "two"])}"\n# {number}\n'
        )
        path = root / "lemmar.toml"
        path.write_text(
            path.read_text().replace(
                'source = "en"', 'source = "en"\ninclude = ["*/lemmar-client.toml"]', 1
            )
        )

    def merged() -> None:
        data = file.read_text("utf-8", "replace")
        file.write_text(f"<<<<<<< ours\n{data}=======\n{data}>>>>>>> theirs\n")

    return chance.choice(
        [
            rewritten,
            rewritten,
            added,
            in_charter,
            unlisted,
            ignored,
            linked,
            owned,
            included,
            merged,
            file.unlink,
            file.touch,
            lambda: file.rename(file.with_name(f"{chance.choice(['sl', 'x', 'it'])}{file.suffix}")),
            lambda: file.write_bytes(b"\xff\xfe broken"),
            lambda: file.write_bytes(chance.choice(catalogs or files).read_bytes()),
            lambda: file.chmod(0o600 if number % 2 else 0o644),
        ]
    )


@pytest.mark.parametrize("seed", range(6))
def test_after_every_change_an_audit_that_remembers_is_one_that_does_not(
    repo: Repo, seed: int, later: None
) -> None:
    monorepo(repo, seed)
    chance = random.Random(seed)
    assert audit(repo) == audit(repo, "--no-cache")
    for step in range(25):
        edits(repo, chance)() if step else None
        try:
            warm = audit(repo)
        finally:
            fresh = audit(repo, "--no-cache")
        assert warm == fresh, f"step {step}"
        if step % 5 == 4:
            assert audit(repo) == fresh
            assert audit(repo, "--workers", "2") == fresh
            monorepo(repo, seed)  # as it was at the beginning: kept still


def test_what_has_not_changed_is_not_read(
    repo: Repo, later: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    from lemmar.trees import folder

    monorepo(repo, 1)
    first = audit(repo)
    read = []
    from lemmar.trees.opening import regular_file as real

    def noted(path: str, *more: int) -> object:
        read.append(path)
        return real(path, *more)

    monkeypatch.setattr(folder, "regular_file", noted)
    assert audit(repo) == first and not read
    (repo.root / "one/w/de.json").write_text("{}")
    changed = audit(repo)
    assert changed != first and {Path(path).name for path in read} <= {
        "en.json",
        "fr.json",
        "pl.json",
        "de.json",
        "locales.json",
    }
    assert not any("two" in path or "three" in path for path in read)


def test_a_young_file_is_always_read(repo: Repo) -> None:
    monorepo(repo, 1)
    first = audit(repo)
    file = repo.root / "one/w/de.json"
    facts, data = file.stat(), file.read_bytes()
    file.write_bytes(data.replace(b"{", b"(").replace(b"(", b"{", 1))  # of the same size
    os.utime(file, ns=(facts.st_atime_ns, facts.st_mtime_ns))
    assert audit(repo) == audit(repo, "--no-cache") != first


def test_another_clone_of_the_same_files_reads_them_and_parses_none(
    repo: Repo, tmp_path_factory: pytest.TempPathFactory
) -> None:
    monorepo(repo, 2)
    first = audit(repo)
    other = Repo(tmp_path_factory.mktemp("clone") / "there")
    shutil.copytree(repo.root, other.root)
    code = (
        "import sys; sys.argv = ['lemmar', 'audit', '--format', 'json', '--today', '2026-11-25']\n"
        "from lemmar.cli import main\n"
        "try:\n    main()\nfinally:\n    print(*(name for name in sys.modules if name.startswith('lemmar.formats')), file=sys.stderr)"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], cwd=other.root, capture_output=True, text=True
    )
    assert (done.stdout, done.stderr.strip()) == (first.out, "")


def test_what_a_survey_has_read_an_audit_does_not_read_again(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    from lemmar.inventory.readings import Readings

    monorepo(repo, 12)
    (repo.root / "lemmar.toml").unlink()
    plain = repo.run("survey", "--no-cache")
    assert repo.run("survey", "--write").out.replace("wrote", "") and plain.code == 0
    read: list[object] = []
    real = Readings._read

    def noted(self: Readings, *more: Any) -> object:
        read.append(more)
        return real(self, *more)

    monkeypatch.setattr(Readings, "_read", noted)
    ran = audit(repo)
    assert not read and ran == audit(repo, "--no-cache") and read


def test_another_day_another_code_another_charter(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monorepo(repo, 3)
    waiver = '\n[[waiver]]\nrule = "message.missing"\nuntil = 2026-11-26\nreason = "soon"\n'
    (repo.root / "lemmar.toml").write_text((repo.root / "lemmar.toml").read_text() + waiver)
    for day in ("2026-11-25", "2026-11-26", "2026-11-27", "2026-11-25"):
        command = ("audit", "--format", "json", "--today", day)
        assert repo.run(*command) == repo.run(*command, "--no-cache")
    before = repo.run("audit", "--format", "json")
    from lemmar.incremental import memory

    monkeypatch.setattr(memory, "code_digest", lambda: b"another")
    judged: list[int] = []
    from lemmar.auditing.judging import Judge

    real = Judge.judge

    def noted(self: Judge, index: int) -> object:
        judged.append(index)
        return real(self, index)

    monkeypatch.setattr(Judge, "judge", noted)
    assert repo.run("audit", "--format", "json") == before and judged == [0, 1, 2]


def test_half_characters_and_names_that_are_no_unicode(repo: Repo, later: None) -> None:
    monorepo(repo, 11)
    for name in ("one", "two"):
        broken = {
            "key0": "Bunk \ud800 or two",
            "key1\udc00": "Hut by the lake",
            "key2": "Water from the spring",
        }
        for locale in ("en", "de"):
            repo.write(
                {
                    f"{name}/w/{locale}.json": json.dumps(broken).replace(
                        "Water", f"Water {name}" if locale == "de" else "Water"
                    )
                }
            )
    pattern = (
        (repo.root / "lemmar.toml")
        .read_text()
        .replace('files = "{locale}.lproj/L.strings"', 'files = "w/{locale}.json"')
    )
    (repo.root / "lemmar.toml").write_text(pattern)
    wanted = audit(repo, "--no-cache")
    assert wanted.code == 1 and "message.inconsistent" in wanted.out
    assert audit(repo) == audit(repo) == audit(repo, "--workers", "2", "--no-cache") == wanted
    odd = os.fsencode(repo.root / "one/w") + b"/fr\xff.json"
    with open(odd, "wb") as stream:
        stream.write(b'{"key0": "Lit"}')
    wanted = audit(repo, "--no-cache")
    assert audit(repo) == audit(repo) == audit(repo, "--workers", "2", "--no-cache") == wanted


# ------------------------------------------------------------------------------------------------------- the file itself


def cache_file() -> Path:
    """The cache's database."""
    return next(default_folder().glob("*.sqlite"))


def test_a_damaged_cache_is_begun_anew_and_changes_no_verdict(repo: Repo) -> None:
    monorepo(repo, 4)
    wanted = audit(repo, "--no-cache")
    audit(repo)
    file = cache_file()
    data = file.read_bytes()
    chance = random.Random(4)
    for _ in range(20):
        broken = bytearray(data)
        for _ in range(chance.randrange(1, 40)):
            broken[chance.randrange(len(broken))] ^= 1 << chance.randrange(8)
        for each in file.parent.glob(f"{file.name}-*"):
            each.unlink()
        file.write_bytes(bytes(broken[: chance.choice([len(broken), len(broken) // 2, 50])]))
        ran = audit(repo)
        assert (ran.code, ran.out) == (wanted.code, wanted.out)
        assert not ran.err or "the cache" in ran.err
    file.write_bytes(b"this is no database, and long enough to be looked at as one" * 20)
    ran = audit(repo)
    assert ran.out == wanted.out and "was damaged and is begun anew" in ran.err
    assert audit(repo) == wanted


def test_a_value_under_another_key_is_none() -> None:
    store = Store(default_folder())
    store.put("answer", key_of("a"), b"one")
    store.put("answer", key_of("b"), b"two")
    store.close()
    base = sqlite3.connect(cache_file())
    base.execute(
        "UPDATE kept SET value = (SELECT value FROM kept WHERE key = ?) WHERE key = ?",
        (key_of("b"), key_of("a")),
    )
    base.commit()
    base.close()
    told: list[str] = []
    store = Store(default_folder(), told.append)
    assert store.get("answer", key_of("a")) is None and store.get("answer", key_of("b")) == b"two"
    assert "damaged" in told[0]
    store.close()
    base = sqlite3.connect(cache_file())
    base.execute(
        "UPDATE kept SET value = 'a text of more than sixteen letters' WHERE key = ?",
        (key_of("b"),),
    )
    base.commit()
    base.close()
    assert Store(default_folder()).get("answer", key_of("b")) is None
    cache_file().chmod(0o666)
    store = Store(default_folder(), told.append)
    assert store.get("answer", key_of("a")) is None and "others may write to it" in told[-1]


def test_a_cache_that_cannot_be_used_is_done_without(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monorepo(repo, 5)
    wanted = audit(repo, "--no-cache")
    (repo.root.parent / "file").write_text("")
    for named in (repo.root.parent / "file" / "below", Path("/proc/none")):
        ran = audit(repo, "--cache", str(named))
        assert (ran.code, ran.out) == (
            wanted.code,
            wanted.out,
        ) and "this run does without it" in ran.err
    open_to_all = repo.root.parent / "open"
    open_to_all.mkdir()
    open_to_all.chmod(0o777)
    ran = audit(repo, "--cache", str(open_to_all))
    assert ran.out == wanted.out and "others may write to it" in ran.err
    ran = audit(repo, "--cache", "kept")
    assert ran.code == 2 and "lies in the monorepo, where a commit could forge it" in ran.err

    def full(*_: object) -> None:
        raise sqlite3.OperationalError("database or disk is full")

    monkeypatch.setattr(store_module.Store, "_evict", full)
    ran = audit(repo)
    assert ran.out == wanted.out and "database or disk is full" in ran.err
    assert audit(repo).out == wanted.out


def test_what_clients_say_is_judged_again_where_it_is_there_no_more(
    repo: Repo, later: None
) -> None:
    monorepo(repo, 13)
    for name in ("one", "two"):
        repo.write(
            {
                f"{name}/x/{locale}.json": json.dumps(
                    {
                        "said": f"The same words {name if locale == 'de' else locale}"
                        if locale != "en"
                        else "The same words"
                    }
                )
                for locale in LOCALES
            }
        )
    text = (repo.root / "lemmar.toml").read_text()
    more = '  [[client.catalog]]\n  files = "x/{locale}.json"\n'
    (repo.root / "lemmar.toml").write_text(
        text.replace("  [[client.claim]]", f"{more}  [[client.claim]]", 2)
    )
    first = audit(repo)
    assert "message.inconsistent" in first.out
    for damage in (
        "DELETE FROM kept WHERE kind = 'told'",
        "UPDATE kept SET value = zeroblob(40) WHERE kind = 'told'",
    ):
        base = sqlite3.connect(cache_file())
        base.execute(damage)
        base.execute("DELETE FROM kept WHERE kind = 'audit'")
        base.commit()
        base.close()
        assert audit(repo).out == first.out
        write_catalog(repo, "po", "three/po/de.po", {"key0": damage})
        changed = audit(repo)
        fresh = audit(repo, "--no-cache")
        assert changed.out == fresh.out and changed.code == fresh.code
        write_catalog(repo, "po", "three/po/de.po", texts(13, "de"))
        assert audit(repo).out == first.out


def test_what_is_old_or_too_much_goes(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(store_module, "MOST", 400_000)
    for day in range(30):
        store = Store(default_folder())
        store._today = day
        for number in range(10):
            store.put("answer", key_of(str(day), str(number)), bytes(5_000))
        store.get("answer", key_of("0", "0"))
        store.close()
    store = Store(default_folder())
    store._today = 30
    assert sum(kind.size for kind in store.kinds()) <= 450_000
    assert (
        store.get("answer", key_of("29", "9")) is not None
        and store.get("answer", key_of("0", "0")) is not None
    )
    assert store.get("answer", key_of("1", "1")) is None
    store.close()
    store = Store(default_folder())
    store._today = 200
    store.put("answer", key_of("new"), b"")
    store.close()
    assert [kind.number for kind in Store(default_folder()).kinds()] == [1]


def test_several_audits_at_once_and_one_that_is_killed(repo: Repo) -> None:
    monorepo(repo, 6)
    wanted = audit(repo, "--no-cache")
    command = [LEMMAR, "audit", "--format", "json", "--today", "2026-11-25"]
    for _ in range(3):
        running = [
            subprocess.Popen(command, cwd=repo.root, stdout=subprocess.PIPE, text=True)
            for _ in range(4)
        ]
        running[0].send_signal(signal.SIGKILL)
        assert [process.communicate()[0] for process in running[1:]] == [wanted.out] * 3
        running[0].communicate()


# ------------------------------------------------------------------------------------------------- processes side by side


def test_a_process_that_dies_is_followed_by_another(
    repo: Repo, monkeypatch: pytest.MonkeyPatch, tmp_path_factory: pytest.TempPathFactory
) -> None:
    from lemmar.auditing.judging import Judge

    monorepo(repo, 7)
    wanted = audit(repo, "--no-cache")
    once = tmp_path_factory.mktemp("died") / "once"
    real = Judge.judge

    def dying(self: Judge, index: int) -> object:
        if index == 1 and not once.exists():
            once.touch()
            os.kill(os.getpid(), signal.SIGKILL)
        return real(self, index)

    monkeypatch.setattr(Judge, "judge", dying)
    assert audit(repo, "--no-cache", "--workers", "2") == wanted and once.exists()

    def always(self: Judge, index: int) -> object:
        if index == 1:
            os._exit(9)
        return real(self, index)

    monkeypatch.setattr(Judge, "judge", always)
    ran = audit(repo, "--no-cache", "--workers", "2")
    assert (
        ran.code == 3
        and "client number 2 of lemmar.toml could not be judged: the process that judged it has died twice"
        in ran.err
    )


def test_no_result_is_written_over_what_others_have_read(repo: Repo, later: None) -> None:
    monorepo(repo, 14)
    before = (repo.root / "one/w/de.json").read_bytes()
    for more in (("--no-cache", "--workers", "2"), (), ()):
        ran = audit(repo, *more, "-o", "one/w/de.json")
        assert ran.code == 2 and "was read for this" in ran.err
        assert (repo.root / "one/w/de.json").read_bytes() == before


def test_what_processes_have_seen_is_known_to_the_next_audit(repo: Repo, later: None) -> None:
    monorepo(repo, 15)
    assert audit(repo, "--workers", "2") == audit(repo, "--no-cache")
    (repo.root / "one/w/es.json").write_text('{"key0": "Litera"}')
    (repo.root / "two/es.lproj").mkdir()
    (repo.root / "two/es.lproj/L.strings").write_text('"key0" = "Litera";')
    assert audit(repo) == audit(repo, "--no-cache")


def test_a_cluster_one_of_whose_workers_is_killed(
    repo: Repo, monkeypatch: pytest.MonkeyPatch, tmp_path_factory: pytest.TempPathFactory
) -> None:
    from distributed import LocalCluster

    from lemmar.incremental import cluster, workers

    monorepo(repo, 8)
    wanted = audit(repo, "--no-cache")
    linked = tmp_path_factory.mktemp("mount") / "there"
    linked.symlink_to(repo.root)
    with LocalCluster(n_workers=4, threads_per_worker=1, dashboard_address=None) as local:  # type: ignore[no-untyped-call]
        address = ("--scheduler", local.scheduler_address)
        assert audit(repo, "--no-cache", *address) == wanted
        os.kill(next(iter(local.workers.values())).process.pid, signal.SIGKILL)
        assert audit(repo, *address, "--shared", str(linked)) == wanted
        assert audit(repo) == wanted
        (repo.root / "one/w/de.json").write_text("{}")
        assert audit(repo, *address) == audit(repo, "--no-cache") != wanted
        ran = audit(repo, "--no-cache", *address, "--shared", str(repo.root.parent / "nowhere"))
        assert ran.code == 2 and "a worker does not see what is audited" in ran.err
        monkeypatch.setattr(workers, "contents_digest", lambda: b"another")
        ran = audit(repo, "--no-cache", *address)
        assert ran.code == 2 and "run another version of Lemmar" in ran.err
    monkeypatch.setattr(cluster, "_PATIENCE", 1)
    ran = audit(repo, "--no-cache", "--scheduler", "tcp://127.0.0.1:9")
    assert ran.code == 2 and "cannot be reached" in ran.err
    ran = audit(repo, "--shared", "there")
    assert ran.code == 2 and "name the cluster's --scheduler as well" in ran.err


# ----------------------------------------------------------------------------------------------------------- what is said


def test_the_cache_is_shown_and_cleared(repo: Repo) -> None:
    assert repo.run("cache").out == f"nothing is kept in {default_folder()}\n" and not list(
        default_folder().glob("*")
    )
    monorepo(repo, 9)
    audit(repo)
    ran = repo.run("cache", "--format", "json")
    assert {row["kind"]: row["number"] for row in ran.data["rows"]}["answer"] == 5
    assert (
        "3 MiB" not in repo.run("cache").out
        and "judgements, client by client" in repo.run("cache").out
    )
    ran = repo.run("cache", "--clear")
    assert (
        ran.code == 0
        and "removed" in ran.err
        and repo.run("cache").out.startswith("nothing is kept")
    )
    assert audit(repo, "--cache", str(repo.root.parent / "named")) == audit(repo, "--no-cache")
    assert "clients" in repo.run("cache", "--cache", str(repo.root.parent / "named")).out


def test_where_the_time_goes_is_shown_beside_the_result(repo: Repo) -> None:
    monorepo(repo, 10)
    plain = audit(repo)
    for more in ((), ("--no-cache",), ("--no-cache", "--workers", "2")):
        ran = audit(repo, "--timing", *more)
        assert ran.out == plain.out and "begin and end" in ran.err
        assert ("read files" in ran.err) == bool(more) == ("strings" in ran.err)
