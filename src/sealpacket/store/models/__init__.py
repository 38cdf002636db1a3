"""All tables, by what they are about."""

from sealpacket.store.models.accounts import Account, ApiToken, Session, SignInTry
from sealpacket.store.models.ahead import Digest, Outlook
from sealpacket.store.models.base import Base
from sealpacket.store.models.custody import CustodyEntry
from sealpacket.store.models.desks import Desk, DeskSheet, PickedUp, Trial
from sealpacket.store.models.evidence import (
    DeviceReach,
    KitRecord,
    KitRun,
    KitVersion,
    SafeSecret,
    TriedStep,
)
from sealpacket.store.models.history import MergedRecord, RecordVersion
from sealpacket.store.models.intake import Intake, IntakeRow, IntakeSource
from sealpacket.store.models.knowledge import Article, KnownIssueRecord, Solution
from sealpacket.store.models.notices import (
    NewsFeed,
    Notice,
    NoticeSettings,
    PacketInformed,
    ProductNews,
)
from sealpacket.store.models.order_document import OrderDocument
from sealpacket.store.models.packet_lines import PacketLine
from sealpacket.store.models.packet_parts import (
    LaterBag,
    PacketConsequence,
    PacketDelivery,
    PacketFollowing,
    PacketLegend,
    PacketLook,
    PacketRefusal,
    PacketTicket,
    PacketTurn,
)
from sealpacket.store.models.packet_versions import (
    changed_packets,
    lock_drafts,
    lock_part,
    note_lock,
)
from sealpacket.store.models.packets import (
    AccessGrant,
    Asked,
    DeskHealth,
    Exhibit,
    MailboxMark,
    MailCount,
    Message,
    Packet,
    PacketCase,
    Shipment,
    TrayItem,
    TypedRecord,
    VendorFile,
)
from sealpacket.store.models.receivers import RefusedEvent, Webhook
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
from sealpacket.store.models.saved_views import Pin, View
from sealpacket.store.models.statement import Statement, StatementDifference
from sealpacket.store.models.system import LastingKey, RegisterChange, SettledRequest

__all__ = [
    "AccessGrant",
    "Account",
    "ApiToken",
    "Article",
    "Asked",
    "Asset",
    "AssetStay",
    "Base",
    "Contract",
    "ContractTerm",
    "CustodyEntry",
    "Desk",
    "DeskHealth",
    "DeskSheet",
    "DeviceReach",
    "Digest",
    "DrawnBox",
    "Entitlement",
    "EntitlementAsset",
    "Exhibit",
    "Intake",
    "IntakeRow",
    "IntakeSource",
    "KitRecord",
    "KitRun",
    "KitVersion",
    "KnownIssueRecord",
    "LastingKey",
    "LaterBag",
    "LoginTie",
    "MailCount",
    "MailboxMark",
    "MergedRecord",
    "Message",
    "NewsFeed",
    "Notice",
    "NoticeSettings",
    "OrderDocument",
    "Outlook",
    "Packet",
    "PacketCase",
    "PacketConsequence",
    "PacketDelivery",
    "PacketFollowing",
    "PacketInformed",
    "PacketLegend",
    "PacketLine",
    "PacketLook",
    "PacketRefusal",
    "PacketTicket",
    "PacketTurn",
    "Person",
    "PickedUp",
    "Pin",
    "Product",
    "ProductNews",
    "RecordVersion",
    "RedactionDecision",
    "RedactionPlan",
    "RefusedEvent",
    "RegisterChange",
    "SafeSecret",
    "Session",
    "SettledRequest",
    "Shipment",
    "SignInTry",
    "Site",
    "Solution",
    "Statement",
    "StatementDifference",
    "TrayItem",
    "Trial",
    "TriedStep",
    "TypedRecord",
    "Vendor",
    "VendorFile",
    "VendorLogin",
    "View",
    "Webhook",
    "changed_packets",
    "lock_drafts",
    "lock_part",
    "note_lock",
]
