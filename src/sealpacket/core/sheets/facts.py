"""The facts that a sheet may take: what we know of the packet, its thing, its site, its login and its cover."""

from __future__ import annotations

FACTS: dict[str, str] = {
    "packet.number": "our number of the packet, such as P-0012",
    "packet.title": "its title",
    "packet.note": "what was noted, in plain words",
    "packet.need": "the kind of need: fault, question, change, capacity, return, help, improvement, tie",
    "packet.noted_at": "when it was noted (RFC 3339)",
    "packet.began_at": "when it began, if somebody has said so (RFC 3339)",
    "packet.ticket": "its number at our own service desk",
    "packet.sealed_on": "the day on which it is sealed; today while it is a draft",
    "asset.serial": "the serial number of the thing",
    "asset.name": "what we call it",
    "asset.status": "in_use, spare, repair, …",
    "asset.product": "its part number or model",
    "asset.product_name": "the name of its model",
    "asset.software_version": "the version that it runs",
    "asset.host_name": "its first host name",
    "asset.shipped_on": "the day of shipment",
    "asset.installed_on": "the day of installation",
    "asset.registered_on": "the day of registration with the vendor",
    "asset.notes": "what the register notes of it",
    "thing.tried": "what was tried on it and what each step showed, a line each",
    "thing.carries": "what runs on it or sits in it, with versions, a line each",
    "thing.neighbours": "what stands beside it, a line each",
    "thing.changes": "what was changed of it in the last 90 days, a line each",
    "thing.open": "the packets that are open on it, a line each",
    "context.program": "the program that told of it, with its version",
    "context.system": "the system that the program works with",
    "context.user": "who was signed in there",
    "context.screen": "the screen or page",
    "context.message_code": "the code of the message that it showed",
    "context.message_text": "the text of that message",
    "context.stack": "its stack trace",
    "context.rights": "what the user was allowed to, a line each",
    "carrier.serial": "the serial of what it sits in or runs on",
    "vendor.name": "the vendor's name",
    "vendor.customer_number": "our customer number with the vendor",
    "site.key": "our short name of the site",
    "site.name": "the site's name",
    "site.address": "its street and number",
    "site.postcode": "its postcode",
    "site.town": "its town",
    "site.state": "its state or province",
    "site.country": "its country (ISO 3166-1 alpha-2)",
    "site.time_zone": "its time zone (IANA)",
    "site.mailing": "its whole address, as on an envelope",
    "site.shipping": "the address to which goods go: its second one, or else its own",
    "site.hours": "when somebody is there, such as Mo–Fr 08:30–17:00",
    "site.instructions": "what whoever comes should know",
    "site.contact": "the person in charge there",
    "login.name": "the name of the login that sends it",
    "login.person": "the person behind that login",
    "login.mailbox_read": "yes or no: whether someone reads its mailbox",
    "login.contracts": "the contracts tied to it, with commas",
    "contract.number": "the contract that the ruling chose",
    "entitlement.reference": "the entitlement that the ruling chose",
    "entitlement.level": "its level",
    "ruling.route": "support, warranty, units, paid or none",
    "house.name": "the name of our organisation",
}
"""By dotted path, what it is. Nothing else can be taken."""

WRITTEN: dict[str, str] = {
    "packet.title": "The title",
    "packet.note": "The note",
    "packet.ticket": "The ticket's number",
    "asset.name": "The asset's name",
    "asset.notes": "The asset's notes",
    "login.contracts": "The login's contracts",
    "thing.tried": "What was tried",
    "thing.carries": "What runs on it",
    "thing.neighbours": "What stands beside it",
    "thing.changes": "What was changed of it",
    "thing.open": "What is open on it",
    "context.program": "The program",
    "context.system": "The program's system",
    "context.user": "The program's user",
    "context.screen": "The screen",
    "context.message_code": "The message's code",
    "context.message_text": "The message's text",
    "context.stack": "The stack trace",
    "context.rights": "The rights",
}
"""The label of each fact."""
WRITTEN_FACTS = frozenset(WRITTEN)
"""Facts that are people's own words, or name more than the packet is about: they are redacted like any typed text."""

MESSAGE: dict[str, str] = {
    "message.text": "what we answer",
    "message.id": "a name of that answer, for ever the same",
    "message.reference": "the desk's reference of the case",
}
"""Facts available when an answer is sent."""

TOLD: dict[str, str] = {
    "act.level": "of severity: the level, as the desk calls it",
    "act.label": "of severity: the level, as people read it",
    "act.trigger": "of escalate: the rule by which it is allowed",
    "act.name": "of contact: the name of the person",
    "act.mail": "of contact: their mail address",
    "act.phone": "of contact: their telephone",
    "act.people": "of told: the mail addresses of all who are told",
    "act.rating": "of rate: from 1 (bad) to 5 (good)",
}
"""Further facts available when another act is sent."""

FILE: dict[str, str] = {
    "file.location": "where the desk has put it, or what it calls it",
    "file.name": "its name at the desk",
    "file.size": "its size in bytes",
    "file.sha256": "its SHA-256 in hex",
}
"""Facts of each file that was sent before the case."""

ALSO: dict[str, str] = {
    "severity.level": "the severity, answered or computed",
    "row.": "a column of the row that this case is about (split), or of a listed row",
    "item.": "a part of one item of a list (items)",
    "row.number": "the number of the row, from 1",
}
"""Values available other than facts and answers."""
