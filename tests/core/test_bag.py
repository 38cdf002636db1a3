"""The bag: the same bytes for the same inputs, valid for others' tools, and no alteration goes unseen."""

from __future__ import annotations

import io
import json
import subprocess
import zipfile
from collections.abc import Callable
from pathlib import Path

import bagit
import pytest

from sealpacket.core.errors import Damaged, Invalid
from sealpacket.core.packet import BagFile, SealKey, SealKeys, verify_bag, write_bag

KEY = SealKey.from_seed(bytes(range(32)))
KEYS = SealKeys(KEY)
INFO = {"External-Identifier": "P-0001", "Bagging-Date": "2026-11-23", "Contact-Name": "marit"}
PAYLOAD = {
    "case.json": b'{"a":1}',
    "exhibits/controller.log": b"line\n" * 50_000,
    "exhibits/50% of it.cfg": b"x = 1\n",
}


def bag(
    payload: dict[str, bytes] | None = None, info: dict[str, str] | None = None, key: SealKey = KEY
) -> bytes:
    """A bag's bytes."""
    sink = io.BytesIO()
    files = [BagFile.of(path, content) for path, content in (payload or PAYLOAD).items()]
    write_bag(sink, "P-0001", info or INFO, files, key)
    return sink.getvalue()


@pytest.fixture
def path(tmp_path: Path) -> Path:
    """A bag on disk."""
    file = tmp_path / "P-0001.zip"
    file.write_bytes(bag())
    return file


def altered(
    path: Path, change: Callable[[str, bytes], bytes | None], add: dict[str, bytes] | None = None
) -> Path:
    """A copy of the bag with its files passed through `change`; None takes one out."""
    target = path.with_name("altered.zip")
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(target, "w") as new:
        for name in old.namelist():
            content = change(name, old.read(name))
            if content is not None:
                new.writestr(name, content)
        for name, content in (add or {}).items():
            new.writestr(name, content)
    return target


def test_the_same_inputs_give_the_same_bytes_signature_included() -> None:
    assert bag() == bag(dict(reversed(PAYLOAD.items())))


def test_a_whole_bag_verifies_with_the_public_key_alone(path: Path) -> None:
    public = SealKey.from_jwk(json.dumps(KEY.public_jwk()))
    verdict = verify_bag(path, SealKeys(public))
    assert verdict.holds, verdict.faults
    assert (verdict.name, verdict.files) == ("P-0001", 3)
    assert verdict.octets == sum(map(len, PAYLOAD.values()))
    assert verdict.info["Payload-Oxum"] == f"{verdict.octets}.3"


def test_others_tools_find_it_valid_too(path: Path, tmp_path: Path) -> None:
    path.write_bytes(bag({k: v for k, v in PAYLOAD.items() if "%" not in k}))
    zipfile.ZipFile(path).extractall(tmp_path)
    folder = tmp_path / "P-0001"
    assert bagit.Bag(str(folder)).validate()
    for manifest in ("manifest-sha256.txt", "tagmanifest-sha256.txt"):
        assert (
            subprocess.run(
                ["sha256sum", "--quiet", "-c", manifest], cwd=folder, check=False
            ).returncode
            == 0
        )


def test_a_percent_sign_in_a_name_is_encoded_as_rfc_8493_has_it(path: Path) -> None:
    with zipfile.ZipFile(path) as archive:
        assert (
            "data/exhibits/50%25 of it.cfg" in archive.read("P-0001/manifest-sha256.txt").decode()
        )
        assert "P-0001/data/exhibits/50% of it.cfg" in archive.namelist()


ALTERATIONS: dict[str, Callable[[str, bytes], bytes | None]] = {
    "a byte of an exhibit": lambda n, c: (
        c.replace(b"line", b"lime", 1) if n.endswith("controller.log") else c
    ),
    "the case": lambda n, c: b'{"a":2}' if n.endswith("case.json") else c,
    "a missing exhibit": lambda n, c: None if n.endswith("it.cfg") else c,
    "the manifest": lambda n, c: c + b"\n" if n.endswith("/manifest-sha256.txt") else c,
    "the description": lambda n, c: (
        c.replace(b"marit", b"teo") if n.endswith("bag-info.txt") else c
    ),
    "the tag manifest": lambda n, c: (
        c.replace(b"a", b"b", 1) if n.endswith("/tagmanifest-sha256.txt") else c
    ),
    "the seal": lambda n, c: c[:-4] + b"AAAA" if n.endswith(".jws") else c,
    "no seal": lambda n, c: None if n.endswith(".jws") else c,
    "an empty seal": lambda n, c: b"" if n.endswith(".jws") else c,
    "no tag manifest": lambda n, c: None if n.endswith("/tagmanifest-sha256.txt") else c,
    "an empty tag manifest": lambda n, c: b"" if n.endswith("/tagmanifest-sha256.txt") else c,
}


@pytest.mark.parametrize("name", ALTERATIONS)
def test_every_alteration_is_seen(path: Path, name: str) -> None:
    assert not verify_bag(altered(path, ALTERATIONS[name]), KEYS).holds


def test_a_file_slipped_in_is_seen(path: Path) -> None:
    verdict = verify_bag(altered(path, lambda _n, c: c, {"P-0001/data/more.txt": b"x"}), KEYS)
    assert verdict.faults == ["data/more.txt is in the bag but not in its manifest."]


def test_a_payload_swapped_with_its_manifest_is_seen_by_the_seal(path: Path) -> None:
    other = bag({**PAYLOAD, "case.json": b'{"a":2}'}, key=SealKey.generate())
    forged = path.with_name("forged.zip")
    forged.write_bytes(other)
    assert any("seal is not that of key" in fault for fault in verify_bag(forged, KEYS).faults)


@pytest.mark.parametrize("name", ["P-0001/../evil", "P-0001/data/../../evil", "P-0001/data\\evil"])
def test_names_that_lead_out_of_the_bag_are_seen(path: Path, name: str) -> None:
    assert not verify_bag(altered(path, lambda _n, c: c, {name: b"x"}), KEYS).holds


def test_two_folders_at_the_top_are_no_bag(path: Path) -> None:
    with pytest.raises(Damaged):
        verify_bag(altered(path, lambda _n, c: c, {"other/file": b"x"}), KEYS)


@pytest.mark.parametrize("content", [b"", b"no zip at all", b"PK\x03\x04 broken"])
def test_what_is_no_zip_is_said_to_be_none(tmp_path: Path, content: bytes) -> None:
    file = tmp_path / "x.zip"
    file.write_bytes(content)
    with pytest.raises(Damaged) as caught:
        verify_bag(file, KEYS)
    assert caught.value.remedy


def test_a_truncated_bag_is_not_taken(path: Path) -> None:
    path.write_bytes(path.read_bytes()[:-200])
    with pytest.raises(Damaged):
        verify_bag(path, KEYS)


def test_an_exhibit_that_changed_since_its_check_is_not_sealed() -> None:
    file = BagFile("exhibits/a.log", lambda: iter([b"changed"]), "0" * 64)
    with pytest.raises(Damaged, match="has changed since it was checked"):
        write_bag(io.BytesIO(), "P-0001", INFO, [file], KEY)


def test_what_a_person_typed_cannot_add_a_line_to_the_description(path: Path) -> None:
    path.write_bytes(bag(info={**INFO, "External-Description": "slow\nContact-Name: someone else"}))
    verdict = verify_bag(path, KEYS)
    assert verdict.holds
    assert verdict.info["External-Description"] == "slow Contact-Name: someone else"
    assert verdict.info["Contact-Name"] == "marit"


def test_keys_are_read_and_written_as_json_web_keys() -> None:
    again = SealKey.from_jwk(KEY.private_jwk())
    assert again.name == KEY.name
    assert again.sign(b"x") == KEY.sign(b"x")
    public = KEY.public_jwk()
    assert "d" not in public
    assert (public["kty"], public["crv"], public["kid"]) == ("OKP", "Ed25519", KEY.name)


@pytest.mark.parametrize(
    "text", ["", "{}", "[]", '{"kty":"RSA"}', '{"kty":"OKP","crv":"X25519","x":"AAAA"}', "nonsense"]
)
def test_what_is_no_seal_key_is_refused(text: str) -> None:
    with pytest.raises(Invalid) as caught:
        SealKey.from_jwk(text)
    assert caught.value.code == "seal-key"


def test_signatures_hold_only_for_their_payload_and_key() -> None:
    signature = KEY.sign(b"payload")
    assert KEY.holds(b"payload", signature)
    assert not KEY.holds(b"payloae", signature)
    assert not SealKey.generate().holds(b"payload", signature)
    head, _, tail = signature.split(b".")
    for forged in (
        b"",
        b"..",
        b"a.b.c",
        head + b".." + tail[:-2] + b"AA",
        b"eyJhbGciOiJub25lIn0.." + tail,
    ):
        assert not KEY.holds(b"payload", forged)


def test_the_header_names_algorithm_and_key_as_rfc_8037_has_it() -> None:
    import base64

    head = KEY.sign(b"x").split(b".")[0]
    assert json.loads(base64.urlsafe_b64decode(head + b"==")) == {"alg": "EdDSA", "kid": KEY.name}


def test_bags_of_a_former_key_are_verified_with_the_set(path: Path) -> None:
    renewed = SealKeys(KEY).renewed()
    public = SealKeys.read(json.dumps(renewed.public_set()))
    verdict = verify_bag(path, public)
    assert (verdict.holds, verdict.key) == (True, KEY.name)
    path.write_bytes(bag(key=renewed.current))
    assert (verify_bag(path, public).holds, verify_bag(path, public).key) == (
        True,
        renewed.current.name,
    )
    assert not verify_bag(path, KEYS).holds


def test_a_former_key_is_kept_without_its_private_part() -> None:
    kept = json.loads(SealKeys(KEY).renewed().private_set())["keys"]
    assert ["d" in key for key in kept] == [True, False]
    assert SealKeys.read(json.dumps({"keys": kept})).former[0].name == KEY.name


@pytest.mark.parametrize(
    "text", ['{"keys": []}', '{"keys": 5}', '{"keys": [1]}', "[]", "x", "[" * 100_000]
)
def test_what_is_no_set_of_keys_is_refused(text: str) -> None:
    with pytest.raises(Invalid):
        SealKeys.read(text)


def test_a_key_that_is_not_known_is_told_from_a_wrong_seal(path: Path) -> None:
    """A newer key of the service looks like this until its keys are fetched again."""
    newer = SealKey.generate()
    path.write_bytes(bag(PAYLOAD, key=newer))
    (fault,) = verify_bag(path, KEYS).faults
    assert newer.name in fault
    assert "fetch its keys again" in fault
