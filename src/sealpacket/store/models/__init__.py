"""All tables, by what they are about."""

from sealpacket.store.models.accounts import Account, ApiToken, Session, SignInTry
from sealpacket.store.models.ahead import Digest, Outlook
from sealpacket.store.models.base import Base
from sealpacket.store.models.custody import CustodyEntry
from sealpacket.store.models.desks import Desk, DeskSheet, PickedUp, Trial
from sealpacket.store.models.history import MergedRecord, RecordVersion
from sealpacket.store.models.intake import Intake, IntakeRow, IntakeSource
from sealpacket.store.models.order_document import OrderDocument
from sealpacket.store.models.packets import (
    Exhibit,
    MailCount,
    Message,
    Packet,
    PacketCase,
    TypedRecord,
)
from sealpacket.store.models.redaction import DrawnBox, RedactionDecision, RedactionPlan
from sealpacket.store.models.register import (
    Asset,
    AssetStay,
    Contract,
    ContractTerm,
    Entitlement,
    EntitlementAsset,
    LoginTie,
    Person,
    Product,
    Site,
    Vendor,
    VendorLogin,
)
from sealpacket.store.models.saved_views import View
from sealpacket.store.models.statement import Statement, StatementDifference
from sealpacket.store.models.system import LastingKey, SettledRequest

__all__ = [
    "Account",
    "ApiToken",
    "Asset",
    "AssetStay",
    "Base",
    "Contract",
    "ContractTerm",
    "CustodyEntry",
    "Desk",
    "DeskSheet",
    "Digest",
    "DrawnBox",
    "Entitlement",
    "EntitlementAsset",
    "Exhibit",
    "Intake",
    "IntakeRow",
    "IntakeSource",
    "LastingKey",
    "LoginTie",
    "MailCount",
    "MergedRecord",
    "Message",
    "OrderDocument",
    "Outlook",
    "Packet",
    "PacketCase",
    "Person",
    "PickedUp",
    "Product",
    "RecordVersion",
    "RedactionDecision",
    "RedactionPlan",
    "Session",
    "SettledRequest",
    "SignInTry",
    "Site",
    "Statement",
    "StatementDifference",
    "Trial",
    "TypedRecord",
    "Vendor",
    "VendorLogin",
    "View",
]
