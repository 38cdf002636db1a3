"""Which commands there are, and which module has each: known without loading any of them."""

from __future__ import annotations

from typing import NamedTuple

ABOUT = (
    "Keep the register of bought support, and send vendors packets that neither bounce nor leak."
)
EXIT_CODES = (
    "Exit codes: 0 done · 1 refused or failed · 2 wrong usage · 3 something stops it · "
    "4 does not verify · 5 the service cannot be reached"
)


class Command(NamedTuple):
    """A command or a group of commands: `attribute` of `module` is its function, its Typer, or a dict of Typers."""

    name: str
    module: str
    attribute: str
    help: str


GROUPS: tuple[tuple[str, tuple[Command, ...]], ...] = (
    (
        "Every day",
        (
            Command("today", "looking", "today", "What needs you now."),
            Command("find", "looking", "find", "Find assets and packets by whatever you know."),
            Command(
                "often-used", "looking", "used_app", "Assets, contacts and desks you use often."
            ),
            Command("packet", "packet_app", "app", "Note, answer, seal, lodge and follow packets."),
            Command("batch", "batches", "app", "Many packets from one file."),
            Command("exhibit", "exhibits", "app", "Add evidence and review what goes out."),
            Command("notice", "notices", "app", "Your notices, and how you are notified."),
            Command("tray", "tray", "app", "What came and has no packet yet."),
            Command(
                "coverage",
                "coverage",
                "coverage",
                "What covers an asset, and why nothing else does.",
            ),
            Command("overview", "overview", "overview", "How packets went, in numbers."),
            Command("ahead", "ahead", "app", "What ends, lapses, is paid twice or is not covered."),
        ),
    ),
    (
        "Register",
        (
            Command("vendor", "register", "KINDS", "Vendors."),
            Command("contract", "register", "KINDS", "Contracts and their terms."),
            Command("entitlement", "register", "KINDS", "Entitlements and what they grant."),
            Command("product", "register", "KINDS", "Products and models."),
            Command("asset", "register", "KINDS", "Assets and where they are."),
            Command("site", "register", "KINDS", "Sites."),
            Command("person", "register", "KINDS", "People."),
            Command("login", "register", "KINDS", "Vendor logins and their contracts."),
            Command("limit", "register", "KINDS", "Limits of vendors, and how much is used."),
            Command("level", "register", "KINDS", "Levels of service that contracts offer."),
            Command("lot", "register", "KINDS", "Prepaid units and their balance."),
            Command("price", "register", "KINDS", "Prices of services in units."),
            Command("licence", "register", "KINDS", "Licences, feature keys and certificates."),
            Command("release", "register", "KINDS", "Versions of products."),
            Command("import", "intake", "app", "Import a spreadsheet: preview, apply, undo."),
            Command(
                "export", "intake", "export", "Save the register as a file that can be imported."
            ),
            Command("archive", "intake", "archive", "Save all packets that ended in a year."),
            Command(
                "order-document",
                "order_documents",
                "app",
                "Order confirmations, and what is entered from them.",
            ),
            Command(
                "statement", "statements", "app", "Compare a vendor's own list with the register."
            ),
            Command("label", "labels", "app", "Read and print QR and bar codes."),
        ),
    ),
    (
        "Desks and redaction",
        (
            Command("desk", "desks", "desk_app", "Desks and their sheets."),
            Command(
                "redaction-plan", "redaction_plan", "plan_app", "The organisation's redaction plan."
            ),
            Command("article", "articles", "app", "What you have written down, in Markdown."),
            Command("kit", "kits", "app", "Diagnostic kits: what to collect from a thing."),
            Command("known", "known_issues", "app", "Known issues that logs are searched for."),
            Command("log", "log_summary", "app", "Summarise, cut and merge logs, offline."),
            Command("safe", "safe", "app", "Passwords and keys that kits use, by name."),
            Command("redact", "redacting", "redact", "Redact files and folders, offline."),
            Command("verify", "offline", "verify", "Verify a sealed bag, offline."),
            Command("seal-keys", "custody", "seal_keys", "The public keys that verify bags."),
            Command("custody", "custody", "custody_app", "The custody log: who did what."),
            Command("events", "custody", "events", "Show what happens, as it happens."),
            Command("release-rule", "releasing", "app", "When two people release a packet."),
            Command("webhook", "webhooks", "app", "Addresses to which events are posted."),
        ),
    ),
    (
        "Accounts",
        (
            Command("sign-in", "looking", "sign_in", "Sign in and keep a token."),
            Command("sign-out", "looking", "sign_out", "End the token and forget it."),
            Command("password", "accounts", "password", "Change your own password."),
            Command("token", "accounts", "token_app", "Your tokens."),
            Command("passkey", "accounts", "passkey_app", "Your passkeys."),
            Command(
                "account",
                "accounts",
                "account_app",
                "Accounts and their roles. For administrators.",
            ),
        ),
    ),
)
COMMANDS = {one.name: one for _, commands in GROUPS for one in commands}
