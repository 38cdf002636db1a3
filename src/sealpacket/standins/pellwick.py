"""Pellwick's desk, simulated: XML over HTTP, checked against its own schema; files only under its own certificate.

It behaves like a strict desk written by someone else. Run it with

    python -m sealpacket.standins.pellwick --port 8504 --folder var/pellwick --token-file secret

Its certificate lies in its folder as certificate.pem. Its `/control` is not part of the desk.
"""

from __future__ import annotations

import argparse
import hmac
import json
import re
import threading
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import rsa
from cryptography.hazmat.primitives.serialization import pkcs7
from cryptography.x509.oid import NameOID
from flask import Flask, Response, request
from lxml import etree
from werkzeug.exceptions import RequestEntityTooLarge
from werkzeug.serving import make_server

from sealpacket.standins.control import OPEN, add_control

NAMESPACE = "urn:pellwick:intake:3"
LARGEST_FILE = 25_000_000
MOST_FILES = 10
STATES = {"received", "assigned", "asked", "proposed", "done"}
LICENCES = {"PW-LIC-5520": "PW-7781"}
UNIT_CONTRACTS = {"PW-7790"}
RANKS = {"stopped": "A", "endangered": "B", "hindered": "C", "none": "D"}
"""The desk sets the severity itself, from impact."""
XSD = """<?xml version="1.0" encoding="UTF-8"?>
<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns="urn:pellwick:intake:3"
           targetNamespace="urn:pellwick:intake:3" elementFormDefault="qualified">
  <xs:simpleType name="line"><xs:restriction base="xs:string"><xs:minLength value="1"/><xs:maxLength value="120"/></xs:restriction></xs:simpleType>
  <xs:simpleType name="prose"><xs:restriction base="xs:string"><xs:minLength value="40"/><xs:maxLength value="6000"/></xs:restriction></xs:simpleType>
  <xs:simpleType name="version"><xs:restriction base="xs:string"><xs:pattern value="[0-9]+\\.[0-9]+(\\.[0-9]+)?"/></xs:restriction></xs:simpleType>
  <xs:simpleType name="mail"><xs:restriction base="xs:string"><xs:pattern value="[^@ ]+@[^@ ]+"/></xs:restriction></xs:simpleType>
  <xs:simpleType name="phone"><xs:restriction base="xs:string"><xs:pattern value="\\+[0-9]{7,15}"/></xs:restriction></xs:simpleType>
  <xs:simpleType name="impact"><xs:restriction base="xs:string">
    <xs:enumeration value="stopped"/><xs:enumeration value="endangered"/><xs:enumeration value="hindered"/><xs:enumeration value="none"/>
  </xs:restriction></xs:simpleType>
  <xs:simpleType name="component"><xs:restriction base="xs:string">
    <xs:enumeration value="server"/><xs:enumeration value="agent"/><xs:enumeration value="store"/><xs:enumeration value="console"/>
  </xs:restriction></xs:simpleType>
  <xs:element name="intake">
    <xs:complexType>
      <xs:sequence>
        <xs:element name="yourNumber" type="line"/>
        <xs:element name="licence"><xs:simpleType><xs:restriction base="xs:string"><xs:pattern value="PW-LIC-[0-9]{4}"/></xs:restriction></xs:simpleType></xs:element>
        <xs:element name="contract" type="line"/>
        <xs:element name="contact">
          <xs:complexType>
            <xs:sequence>
              <xs:element name="name" type="line"/>
              <xs:element name="mail" type="mail"/>
              <xs:element name="phone" type="phone" minOccurs="0"/>
              <xs:element name="language" type="xs:language"/>
            </xs:sequence>
          </xs:complexType>
        </xs:element>
        <xs:element name="alsoTell" type="mail" minOccurs="0" maxOccurs="5"/>
        <xs:choice>
          <xs:element name="fault">
            <xs:complexType>
              <xs:sequence>
                <xs:element name="title" type="line"/>
                <xs:element name="area" type="line" maxOccurs="4"/>
                <xs:element name="impact" type="impact"/>
                <xs:element name="text" type="prose"/>
                <xs:element name="since" type="xs:dateTime"/>
                <xs:element name="productVersion" type="version"/>
                <xs:element name="component" minOccurs="0" maxOccurs="4">
                  <xs:complexType><xs:simpleContent><xs:extension base="version">
                    <xs:attribute name="name" type="component" use="required"/>
                  </xs:extension></xs:simpleContent></xs:complexType>
                </xs:element>
                <xs:element name="message" type="line" minOccurs="0"/>
                <xs:element name="step" type="xs:string" minOccurs="0" maxOccurs="20"/>
              </xs:sequence>
            </xs:complexType>
          </xs:element>
          <xs:element name="question">
            <xs:complexType><xs:sequence><xs:element name="title" type="line"/><xs:element name="text" type="prose"/></xs:sequence></xs:complexType>
          </xs:element>
          <xs:element name="units">
            <xs:complexType>
              <xs:sequence>
                <xs:element name="service"><xs:simpleType><xs:restriction base="xs:string">
                  <xs:enumeration value="help"/><xs:enumeration value="training"/><xs:enumeration value="on-site"/>
                </xs:restriction></xs:simpleType></xs:element>
                <xs:element name="days"><xs:simpleType><xs:restriction base="xs:integer"><xs:minInclusive value="1"/><xs:maxInclusive value="10"/></xs:restriction></xs:simpleType></xs:element>
                <xs:element name="wanted" type="xs:date"/>
                <xs:element name="text" type="prose"/>
                <xs:element name="place" type="xs:string" minOccurs="0"/>
              </xs:sequence>
            </xs:complexType>
          </xs:element>
        </xs:choice>
      </xs:sequence>
    </xs:complexType>
  </xs:element>
</xs:schema>
"""  # noqa: E501 - as its publisher wrote it


class Desk:
    """The desk's memory, its key and its schema."""

    def __init__(self, folder: Path, secret: str) -> None:
        self.folder, self.secret = folder, secret
        self.lock = threading.RLock()
        self.mood: dict[str, Any] = {"down": False, "slow": 0.0, "refuse": None}
        (folder / "files").mkdir(parents=True, exist_ok=True)
        self._file = folder / "desk.json"
        self.state: dict[str, Any] = {"next": 3310, "cases": {}}
        if self._file.exists():
            self.state = json.loads(self._file.read_text())
        self.key, self.certificate = _own_key(folder)
        self.schema = etree.XMLSchema(etree.fromstring(XSD.encode()))

    def keep(self) -> None:
        """Write the memory down."""
        part = self._file.with_suffix(".part")
        part.write_text(json.dumps(self.state))
        part.replace(self._file)


def _own_key(folder: Path) -> tuple[rsa.RSAPrivateKey, x509.Certificate]:
    key_file, certificate_file = folder / "key.pem", folder / "certificate.pem"
    if key_file.exists():
        key = serialization.load_pem_private_key(key_file.read_bytes(), None)
        assert isinstance(key, rsa.RSAPrivateKey)
        return key, x509.load_pem_x509_certificate(certificate_file.read_bytes())
    key = rsa.generate_private_key(public_exponent=65537, key_size=2048)
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Pellwick intake")])
    now = datetime.now(UTC)
    certificate = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=730))
        .sign(key, hashes.SHA256())
    )
    certificate_file.write_bytes(certificate.public_bytes(serialization.Encoding.PEM))
    key_file.touch(mode=0o600)
    key_file.write_bytes(
        key.private_bytes(
            serialization.Encoding.PEM,
            serialization.PrivateFormat.PKCS8,
            serialization.NoEncryption(),
        )
    )
    return key, certificate


def _xml(root: Any, status: int = 200) -> Response:
    return Response(
        etree.tostring(root, xml_declaration=True, encoding="UTF-8"),
        status,
        content_type="application/xml",
    )


def _no(status: int, *faults: tuple[str, str]) -> Response:
    root = etree.Element("refused")
    for code, words in faults:
        etree.SubElement(root, "fault", code=code).text = words
    return _xml(root, status)


def _shown(one: dict[str, Any]) -> Any:
    root = etree.Element(
        "intake", number=one["number"], state=one["state"], severity=one["severity"]
    )
    for remark in one["remarks"]:
        made = etree.SubElement(root, "remark", by=remark["by"], at=remark["at"], id=remark["id"])
        made.set("wants", "answer" if remark["wants"] else "nothing")
        made.text = remark["text"]
    return root


def make_desk(folder: Path, secret: str) -> Flask:
    """The desk's web application."""
    app = Flask("pellwick")
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_FILE + 1000
    desk = Desk(folder, secret)

    @app.before_request
    def at_the_door() -> Response | None:
        if request.path in OPEN:
            return None
        if desk.mood["slow"]:
            time.sleep(float(desk.mood["slow"]))
        if desk.mood["down"]:
            return _no(503, ("closed", "Back soon."))
        given = request.headers.get("Authorization", "").removeprefix("Bearer ")
        if not hmac.compare_digest(given.encode(), desk.secret.encode()):
            return _no(401, ("token", "The token is not known."))
        return None

    @app.errorhandler(RequestEntityTooLarge)
    def too_large(_error: RequestEntityTooLarge) -> Response:
        return _no(413, ("file_too_large", "A file may have 25 MB."))

    _add_intakes(app, desk)
    _add_remarks(app, desk)
    _add_verdicts(app, desk)
    _add_files(app, desk)
    add_control(app, desk, lambda: desk.state["cases"], _steer)
    return app


def _add_intakes(app: Flask, desk: Desk) -> None:
    @app.post("/intakes")
    def take() -> Response:
        key = request.headers.get("Idempotency-Key", "")
        with desk.lock:
            before = next(
                (one for one in desk.state["cases"].values() if key and one["key"] == key), None
            )
            if before:
                return _xml(_shown(before))
            if desk.mood["refuse"]:
                code, desk.mood["refuse"] = desk.mood["refuse"], None
                return _no(422, (code, "Not taken."))
            faults, found = _read(desk, request.get_data())
            if faults or found is None:
                return _no(422, *faults)
            number = f"PWK-{desk.state['next']}"
            desk.state["next"] += 1
            severity = RANKS.get(found.findtext(f".//{{{NAMESPACE}}}impact") or "none", "D")
            one = {
                "number": number,
                "key": key,
                "state": "received",
                "severity": severity,
                "remarks": [],
                "files": {},
                "text": etree.tostring(found).decode(),
            }
            desk.state["cases"][number] = one
            desk.keep()
            return _xml(_shown(one), 201)


def _add_remarks(app: Flask, desk: Desk) -> None:
    @app.get("/intakes/<number>")
    def see(number: str) -> Response:
        with desk.lock:
            one = desk.state["cases"].get(number)
            return _xml(_shown(one)) if one else _no(404, ("unknown", f"There is no {number}."))

    @app.post("/intakes/<number>/remarks")
    def hear(number: str) -> Response:
        with desk.lock:
            one = desk.state["cases"].get(number)
            if one is None:
                return _no(404, ("unknown", f"There is no {number}."))
            root = _parsed(request.get_data())
            text = None if root is None else root.findtext(f"{{{NAMESPACE}}}text")
            ident = None if root is None else root.findtext(f"{{{NAMESPACE}}}id")
            if root is None or etree.QName(root).localname != "remark" or not text or not ident:
                return _no(422, ("schema", "A remark has an id and a text."))
            if all(remark["id"] != ident for remark in one["remarks"]):
                _remark(one, "you", text, wants=False, ident=ident)
                one["state"] = "assigned" if one["state"] == "asked" else one["state"]
                desk.keep()
            return _xml(_shown(one), 201)


VERDICTS = {"yes": "done", "no": "assigned"}


def _add_verdicts(app: Flask, desk: Desk) -> None:
    """A customer's verdict on a proposal, and escalation."""

    @app.post("/intakes/<number>/verdicts")
    @app.post("/intakes/<number>/escalations")
    def say(number: str) -> Response:
        root = _parsed(request.get_data())
        name = "" if root is None else etree.QName(root).localname
        ident = None if root is None else root.findtext(f"{{{NAMESPACE}}}id")
        with desk.lock:
            one = desk.state["cases"].get(number)
            if one is None:
                return _no(404, ("unknown", f"There is no {number}."))
            if root is None or not ident or name not in ("verdict", "escalation"):
                return _no(422, ("schema", "A verdict or an escalation has an id."))
            if ident in one.setdefault("acts", []):
                return _xml(_shown(one))
            if one["state"] == "done":
                return _no(409, ("done", "The intake is done; open another one."))
            if name == "verdict":
                solved = root.findtext(f"{{{NAMESPACE}}}solved") or ""
                if one["state"] != "proposed" or solved not in VERDICTS:
                    return _no(409, ("no_proposal", "Nothing is proposed."))
                one["state"] = VERDICTS[solved]
            else:
                one["escalated"] = root.findtext(f"{{{NAMESPACE}}}why")
            one["acts"].append(ident)
            desk.keep()
            return _xml(_shown(one))


def _add_files(app: Flask, desk: Desk) -> None:
    @app.put("/intakes/<number>/files/<name>")
    def file(number: str, name: str) -> Response:
        with desk.lock:
            one = desk.state["cases"].get(number)
            if one is None:
                return _no(404, ("unknown", f"There is no {number}."))
            if not re.fullmatch(r"PF-[0-9]{2}-[A-Za-z0-9._-]{1,100}\.p7m", name):
                return _no(422, ("file_name", "A file is called PF-01-name.p7m."))
            if len({*one["files"], name}) > MOST_FILES:
                return _no(422, ("too_many_files", "Ten files at most."))
            try:
                clear = pkcs7.pkcs7_decrypt_der(request.get_data(), desk.certificate, desk.key, [])
            except (ValueError, TypeError):
                return _no(422, ("not_for_us", "The file is not encrypted to our certificate."))
            if not clear:
                return _no(422, ("empty_file", "The file is empty."))
            (desk.folder / "files" / f"{number}-{name}").write_bytes(clear)
            one["files"][name] = len(clear)
            desk.keep()
            return Response(status=204)


def _parsed(data: bytes) -> Any:
    try:
        return etree.fromstring(data, etree.XMLParser(resolve_entities=False, no_network=True))
    except etree.XMLSyntaxError:
        return None


def _read(desk: Desk, data: bytes) -> tuple[list[tuple[str, str]], Any]:
    """The desk's own reasons against a document, and the document."""
    root = _parsed(data)
    if root is None:
        return [("not_xml", "This is not XML.")], None
    if not desk.schema.validate(root):
        entries: Any = desk.schema.error_log
        said = [str(entry.message).replace(f"{{{NAMESPACE}}}", "") for entry in entries]
        return [("schema", one) for one in said[:10]], None
    licence = root.findtext(f"{{{NAMESPACE}}}licence") or ""
    contract = root.findtext(f"{{{NAMESPACE}}}contract") or ""
    if licence not in LICENCES:
        return [("unknown_licence", f"Licence {licence} is not known.")], None
    if root.find(f"{{{NAMESPACE}}}units") is not None:
        if contract not in UNIT_CONTRACTS:
            return [("no_units", f"Contract {contract} has no units.")], None
    elif LICENCES[licence] != contract:
        return [("not_covered", f"Licence {licence} is not on contract {contract}.")], None
    return [], root


def _remark(one: dict[str, Any], by: str, text: str, *, wants: bool, ident: str = "") -> None:
    now = datetime.now(UTC).isoformat(timespec="seconds")
    ident = ident or f"r{len(one['remarks']) + 1}"
    one["remarks"].append({"id": ident, "by": by, "at": now, "text": text, "wants": wants})


def _steer(one: dict[str, Any], wish: dict[str, Any]) -> None:
    if wish.get("state") in STATES:
        one["state"] = wish["state"]
    if "ask" in wish:
        one["state"] = "asked"
        _remark(one, "pellwick", wish["ask"], wants=True)
    if "say" in wish:
        _remark(one, "pellwick", wish["say"], wants=False)


def main() -> None:
    """Run the desk on loopback until interrupted."""
    parser = argparse.ArgumentParser(description="Pellwick's desk, simulated.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument("--token-file", type=Path, required=True)
    arguments, _ = parser.parse_known_args()
    app = make_desk(arguments.folder, arguments.token_file.read_text().strip())
    make_server("127.0.0.1", arguments.port, app, threaded=True).serve_forever()


if __name__ == "__main__":
    main()
