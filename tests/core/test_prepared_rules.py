"""Rules that were prepared before are used as they are, and never where anybody else could have written them."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from sealpacket.core.redact.rules import REGISTRY
from sealpacket.core.redact.rules.loading import loaded
from sealpacket.core.redact.rules.parts import parts_of

SAID = b"lhm#83-cO"


@pytest.fixture
def cache(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """An empty cache of a user."""
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    return tmp_path / "sealpacket"


def kept(cache: Path) -> Path:
    (file,) = cache.glob("rules-*.json")
    return file


def poison(cache: Path) -> None:
    """Have what was prepared say nothing of secrets."""
    file = kept(cache)
    file.write_text(json.dumps([row for row in json.loads(file.read_text()) if row[2] != "secret"]))


def test_what_was_prepared_is_the_same_as_what_the_rules_say(cache: Path) -> None:
    made = loaded()
    again = loaded()
    assert [(one.family, one.rule) for one in again] == [(one.family, one.rule) for one in made]
    for before, after in zip(made, again, strict=True):
        one, other = before.detector, after.detector
        assert (one.kind, one.name, one.whole, one.anchors, one.sure, one.lines, one.canonical) == (
            other.kind, other.name, other.whole, other.anchors, other.sure, other.lines, other.canonical
        )  # fmt: skip
        assert other.parts == parts_of(one)
        assert (one.accept is None) == (other.accept is None)
        assert one.accept is None or other.accept is not None
        if one.accept and other.accept and one.kind == "secret":
            assert one.accept(SAID) == other.accept(SAID)
    assert kept(cache).stat().st_mode & 0o777 == 0o600
    assert len(made) == len(REGISTRY) + 1


def test_a_file_of_the_users_own_is_read(cache: Path) -> None:
    loaded()
    poison(cache)
    assert not [one for one in loaded() if one.detector.kind == "secret"]


@pytest.mark.parametrize("way", ["file", "folder", "link", "broken", "foreign", "empty"])
def test_a_file_that_may_be_anybodys_is_not_read(cache: Path, tmp_path: Path, way: str) -> None:
    loaded()
    poison(cache)
    file = kept(cache)
    if way == "file":
        file.chmod(0o666)
    elif way == "folder":
        cache.chmod(0o777)
    elif way == "link":
        file.rename(tmp_path / "elsewhere.json")
        file.symlink_to(tmp_path / "elsewhere.json")
    elif way == "broken":
        file.write_text(file.read_text()[:-10])
    elif way == "foreign":
        file.write_text(json.dumps([["secret"], 7]))
    else:
        file.write_text("{}")
    assert [one for one in loaded() if one.detector.kind == "secret"]


def test_rules_that_changed_are_prepared_anew(cache: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    loaded()
    before = kept(cache)
    monkeypatch.setattr("sealpacket.core.redact.rules.loading._digest", lambda: "other")
    assert loaded()
    assert kept(cache) != before


def test_nowhere_to_keep_them_is_no_fault(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "file").write_text("")
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "file"))
    assert loaded()
