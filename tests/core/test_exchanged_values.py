"""Where one value goes, another of its kind goes too: every value of the hard lines is exchanged for others in other forms.

A line that is found because its value has a lucky form (a host with a number, a password with a sign, a telephone number
with blanks) tells nothing of the next line; this does.
"""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path

import pytest

from sealpacket.core.redact import Catalogue, Outcome, Placeholders, redact
from sealpacket.core.redact.engine import Run
from tests.some import share_of, some_of

CATALOGUE = Catalogue.build(domains=["quillmere.example"])
PLACEHOLDER = re.compile(r"\[([a-z]+):[a-z2-7]{10}\]")
LINES = (Path(__file__).parent / "hard_lines.txt").read_text(encoding="utf-8").splitlines()

OTHERS = [
    ("ip", ["2001:db8:14:3::9", "203.0.113.77", "fe80::1ff:fe23:4567:890a"]),
    ("mac", ["02-5E-11-AA-BB-CC", "025e.11aa.bbcc", "02:5E:11:AA:BB:CC"]),
    (
        "phone",
        ["+44 1632 960771", "(01632) 960-771", "01632-960-771", "01632960771", "0431/5550-199"],
    ),
    ("mail", ["o'brien+lib@mail.quillmere.example", "x_y-z@sub.other.test"]),
    ("person", ["Priya Raghunathan", "Hans-Peter Müller"]),
    ("birth", ["14/03/1987", "14 March 1987", "Mar 14, 1987", "14.03.1987", "1987-03-14"]),
    ("iban", ["GB29 NWBK 6016 1331 9268 19", "DE89370400440532013000"]),
    ("reader", ["21160007731404"]),
    ("host", ["weir-lock.quillmere.example", "node3.lan"]),
]


def redacted(text: str) -> str:
    """The text as it goes out."""
    return (
        Run(CATALOGUE, Placeholders(b"k" * 32), Outcome())
        .text(text.encode())
        .decode("utf-8", "replace")
    )


@cache
def places() -> list[tuple[str, str, int, int]]:
    """Every value that is masked in the lines: its kind, its line, and where it stands there."""
    found = []
    for line in LINES:
        text = line.split(" ||| ")[0].replace("\\t", "\t")
        out = redacted(text)
        between = PLACEHOLDER.split(out)[::2]
        whole = re.fullmatch("(.+?)".join(re.escape(part) for part in between), text, re.DOTALL)
        if whole and not PLACEHOLDER.search(text):
            for group, placeholder in enumerate(PLACEHOLDER.finditer(out), 1):
                found.append((placeholder[1], text, *whole.span(group)))
    return found


@pytest.mark.parametrize(("kind", "others"), OTHERS, ids=[kind for kind, _ in OTHERS])
def test_another_value_of_its_kind_goes_as_well(kind: str, others: list[str]) -> None:
    tried, stayed = 0, []
    for found, text, start, end in places():
        if found != kind or (kind == "person" and " " not in text[start:end]):
            continue
        for other in others:
            tried += 1
            line = text[:start] + other + text[end:]
            if other in redacted(line):
                stayed.append(line)
    assert tried >= 30
    assert stayed == []


def test_what_is_known_goes_in_place_of_any_word() -> None:
    known = "zorrel7q"
    run = Run(CATALOGUE.with_values([("host", known.encode())]), Placeholders(b"k" * 32), Outcome())
    stayed = []
    for line in LINES[::3]:
        text = line.split(" ||| ")[0].replace("\\t", "\t")
        for word in re.finditer(r"(?<![\w%\\=.-])[A-Za-z][A-Za-z0-9]*(?:-[A-Za-z0-9]+)*\b", text):
            changed = text[: word.start()] + known + text[word.end() :]
            if known.encode() in run.text(changed.encode()):
                stayed.append(changed)
    assert stayed == []


WORDS = """\
password=THIS
password: THIS
SMTP_PASS=THIS
DB_PASS: THIS
{"password":"THIS"}
<password>THIS</password>
define('DB_PASSWORD', 'THIS');
PW: THIS
--password THIS
enable secret THIS
snmp-server community THIS RO
wpa_passphrase=THIS
The password is THIS.
The root password on srv-4 was changed to THIS last night.
We changed the admin password from THIS to Birch#45.
login odile pass THIS
vtp password THIS
net user odile THIS /add
requests.post(url, auth=('odile', 'THIS'))
expect "assword:" { send "THIS\\r" }
SSID quill-staff, key THIS, channel 6
Benutzer kvirtanen, Kennwort THIS
ansible_become_pass: THIS"""


@pytest.mark.parametrize("word", ["otterpond", "Lantern", "KESTREL", "77heron"])
def test_a_password_may_be_a_plain_word(word: str) -> None:
    lines = [line.replace("THIS", word) for line in WORDS.splitlines()]
    assert [line for line in lines if word in redacted(line)] == []


MACHINES = """\
hostname=HERE
"hostname":"HERE"
host=HERE user=odile
server: HERE
{"deviceName":"HERE"}
Server=HERE;Database=loans
ssh odile@HERE
psexec \\\\HERE -u odile cmd
//HERE/loans /mnt cifs credentials=/etc/c 0 0
PING HERE (10.20.3.14) 56(84) bytes of data.
Received: from HERE (unknown [10.40.3.7]) by mx1.quillmere.example
Received: from pc-1 (unknown [10.40.3.7]) by HERE (Postfix) with ESMTPA id 4F2B1
fatal: [HERE]: UNREACHABLE!
scp x.tar HERE:/tmp
ssh: connect to host HERE port 22: Connection refused
Connecting as loans_app to HERE:5432
Host HERE resolves to 10.20.4.17
10.40.3.7 HERE
tcp 0 0 10.20.30.40:445 HERE:5123 ESTABLISHED
description Uplink to HERE Te1/1/4
Access denied for user 'odile'@'HERE' (using password: YES)"""


@pytest.mark.parametrize("name", ["fennel", "SRVAPP01", "ab-core-sw2"])
def test_a_machine_may_be_called_by_a_plain_word(name: str) -> None:
    lines = [line.replace("HERE", name) for line in MACHINES.splitlines()]
    assert [line for line in lines if name in redacted(line)] == []


@pytest.mark.parametrize(
    "line",
    [
        "The password is outdated and must be changed.",
        "The password was reset by the helpdesk.",
        "Enter the new password twice.",
        "PASS: objcopy of sections",
        "second pass: breakpoint in first file",
        "'type': ['text', 'password', 'checkbox', 'radio']",
        "Server: Apache",
        "host: localhost, level: info",
        "node is not ready",
        "server=production",
        "the server was rebooted",
    ],
)
def test_words_about_passwords_and_machines_stay(line: str) -> None:
    assert redacted(line) == line


# Labels of fields as systems have them; each in the forms below.
LABELS = {
    "Morwenna Ives": """
        customer client patient cardholder cardholderName cardholder_name patient_name patientName client_name
        clientName guest beneficiary payee payer debtor creditor tenant lessee policyholder policy_holder insured
        next_of_kin nextOfKin emergency_contact emergencyContact kontakt name legal_name legalName birth_name
        nickname preferred_name preferredName known_as teacher pupil student attendee organizer organiser speaker
        chair driver courier visitor passenger lender donor member responsible account_manager accountManager
        sales_rep manager line_manager lineManager operator clerk cashier recipient recipientName addressee
        consignee attn attention signature signatory witness reviewer editor maintainer uploader submitter creator
        translator fullName full_name displayName display_name realname real_name gecos cn commonName personName
        person_name person who whom reportedBy reported_by owner ownerName caller callerName caller_name
        requestedFor requested_for billingName billing_name shippingName shipping_name contactName contact_name
        techContact admin_contact adminContact registrant registrantName lastUser borrowerName patronName
        readerName loanedTo loaned_to lent_to issued_to issuedTo assignedTo assigned_to sender from_name fromName
        to_name toName author authorName lastModifiedBy last_modified_by modifiedBy createdBy signedBy signed_by
        approvedBy supervisor foreman teamlead team_lead engineer technician fieldEngineer title_name accountName
        account_name accountHolder account_holder bankAccountHolder iban_holder licensee registeredOwner
        registered_owner RegisteredOwner organizerName Teilnehmer Kunde Kundin Kundenname Ansprechpartner
        Bearbeiter Absender Auftraggeber Inhaber Kontoinhaber client_nom destinataire titulaire contacto cliente
        titular destinatario klant ontvanger contactpersoon
    """,
    "jharrow": """
        user username userName user_name user-name login loginName login_name userid user_id userId uid account
        accountName account_name acct samAccountName sAMAccountName upn principal owner actor creator createdBy
        created_by modifiedBy updated_by updatedBy requestedBy assignee reporter operatorId operator_id
        clerk cashier staff staffId initiator impersonator run_as runAs runas db_user dbUser DB_USER DATABASE_USER
        MYSQL_USER POSTGRES_USER PGUSER SMTP_USER smtpUser mail_user ftp_user ftpUser ssh_user sshUser REMOTE_USER
        remoteUser LOGNAME SUDO_USER USER USERNAME ansible_user become_user adminUser admin_user ldap_user
        bind_user bindUser serviceAccount service_account serviceUser sa_user proxy_user proxyUser httpUser
        auth_user authUser webuser sqluser oracle_user ORACLE_USER jdbc.username spring.datasource.username
        mail.username clientUser subjectUserName SubjectUserName TargetUserName targetUser CallerUser AccountName
        LogonUser logon Benutzer Benutzername Anmeldename utilisateur identifiant usuario gebruiker
    """,
    "fennel": """
        host hostname hostName host_name host-name server serverName server_name servername machine machineName
        machine_name computer computerName computer_name ComputerName workstation WorkstationName workstation_name
        node nodeName node_name nodename deviceName device_name targetHost target_host remote_host remoteHost
        remotehost src_host srcHost dst_host dstHost source_host client_host clientHost origin_host db_host dbHost
        DB_HOST DATABASE_HOST PGHOST MYSQL_HOST REDIS_HOST redis_host SMTP_HOST smtp_host mailhost mail_host
        mailserver ldap_host ldapServer LDAP_HOST ntp_server dns_server nameserver proxy_host proxyHost proxy
        PROXY relay relayhost fqdn sysname sysName vm vmName vm_name esx_host hypervisor agent.hostname
        beat.hostname HOSTNAME COMPUTERNAME logonServer kdc dest_host dhost shost dvchost peer_host broker
        broker_host Rechner Rechnername Hostname serveur servidor equipo
    """,
    "otterpond": """
        password passwd pwd pw passphrase passcode secret secretKey secret_key api_key apiKey apikey token
        authToken auth_token access_token accessToken refresh_token client_secret clientSecret db_password
        dbPassword DB_PASSWORD DB_PASS PGPASSWORD MYSQL_PWD MYSQL_ROOT_PASSWORD SMTP_PASSWORD SMTP_PASS
        smtpPassword mailPassword ftp_pass ftpPassword ssh_password sshpass ansible_password
        ansible_become_password become_pass ldap_password bindPassword bind_pw bindpw bindCredential adminPassword
        admin_password rootpw root_password ROOT_PASSWORD userPassword user_password unicodePwd keystorePassword
        keystore_password truststorePassword storepass keypass trustStorePassword javax.net.ssl.keyStorePassword
        encryption_key encryptionKey master_key masterKey shared_secret sharedSecret psk wpa_psk wpa_passphrase
        preSharedKey pre_shared_key PreSharedKey community snmpCommunity snmp_community rocommunity privPassword
        authPassword priv_password auth_password private_key privateKey passwort kennwort Kennwort wachtwoord
        motdepasse mot_de_passe contraseña senha proxyPassword proxy_pass http_password webhook_secret
        signing_secret jwt_secret JWT_SECRET cookie_secret SECRET_KEY session_secret AWS_SECRET_ACCESS_KEY
        azure_client_secret credential credentials spring.datasource.password
    """,
    "CZ29430QRT": """
        serial serialNumber serial_number serialNo serial_no SerialNumber SERIAL sn SN S/N Serial-Number
        ServiceTag service_tag serviceTag assetTag asset_tag AssetTag assetNumber asset_no asset inventoryNumber
        inventory_no chassisSerial chassis_serial chassisSerialNumber systemSerial system_serial boardSerial
        diskSerial disk_serial driveSerial drive_serial deviceSerial device_serial unitSerial hwSerial
        productSerial machineSerial printerSerial imei IMEI udid equipmentNumber equipment Seriennummer
        Gerätenummer Inventarnummer numéro_de_série numeroSerie serienummer
    """,
    "21160007719304": """
        card cardNumber card_number cardnumber cardNo patron patronId patron_id patronBarcode patron_barcode
        barcode borrower borrowerId borrower_number borrowernumber reader readerId reader_id member memberId
        member_id memberNumber customer customerId customer_id customerNumber client_id userBarcode user_barcode
        libraryCard library_card Lesernummer Kundennummer Ausweisnummer client klantnummer
    """,
    "01632 960771": """
        phone phoneNumber phone_number phoneNo tel telephone telephoneNumber mobile mobilePhone mobile_phone cell
        cellPhone fax faxNumber homePhone home_phone workPhone businessPhone contactNumber contact_number callerId
        caller_id msisdn from_number to_number dialed calledNumber calling Telefon Telefonnummer Handy Mobil Fax
        téléphone telefono telefoon
    """,
    "1971-09-30": """
        dob DOB dateOfBirth date_of_birth birthDate birth_date birthdate birthday born geburtsdatum Geburtstag
        geboortedatum date_de_naissance fecha_nacimiento dobDate patron_dob
    """,
    "4 Sedge Row": """
        address addressLine1 address_line_1 address1 street streetAddress street_address addr line1 home_address
        homeAddress shippingAddress shipping_address billingAddress billing_address postalAddress postal_address
        deliveryAddress delivery_address location Anschrift Adresse Strasse straße adresse direccion adres
        residence
    """,
    "SC-2024-118": """
        contract contractNumber contract_number contractNo contract_no ContractId contract_id agreement
        agreementNumber agreement_no entitlement entitlementId entitlement_id supportContract support_contract
        subscription subscriptionId maintenanceContract orderNumber order_no purchaseOrder poNumber po_number
        invoiceNumber invoice_no customerRef Vertragsnummer contrat contrato contractnummer
    """,
}
OF_PROGRAMS = [
    "$cfg['%s'] = '%s';",
    'cfg.set("%s", "%s")',
    "lend --%s '%s'",
    "java -D%s='%s' -jar a.jar",
]
FORMS = [
    *OF_PROGRAMS,
    "%s: %s", '{"%s": "%s"}', "%s=%s", "<%s>%s</>", "%s = '%s'", "GET /x?a=1&%s=%s&b=2 HTTP/1.1", "%s            : %s",
    "**%s:** %s", "%s: <%s>",
    '<%s value="%s"/>', "%s := %s", "(%s: %s)", '"%s" => "%s",', '{"name":"%s","value":"%s"}', "%s\t%s",
]  # fmt: skip


@pytest.mark.parametrize("form", FORMS)
def test_a_label_tells_in_any_grammar(form: str) -> None:
    stayed = []
    labelled = [(value, label) for value, labels in LABELS.items() for label in labels.split()]
    for value, label in labelled:
        if not label.isascii() and form in OF_PROGRAMS:
            continue  # names of variables and options are plain
        if "--%s" in form and not label[:1].islower():
            continue
        written = value.replace(" ", "+") if form.startswith("GET") else value
        line = form.replace("</>", f"</{label}>") % (label, written)
        out = b"".join(
            redact([line.encode() + b"\n"], CATALOGUE, Placeholders(b"k" * 32), Outcome())
        )
        if written.encode() in out:
            stayed.append(line)
    assert stayed == []


QUOTED = {
    "> %s": 0.005,
    "+%s": 0.008,
    "-%s": 0.008,
    "app_1  | %s": 0.008,
    "/var/log/ils.log:12:%s": 0.01,
    "`%s`": 0.03,
    "**%s**": 0.035,
    "%s\r": 0.003,
    "%s   ": 0.003,
}
"""Forms, and how much of the values may stay in each: what only the beginning of a line tells of."""


@pytest.mark.parametrize(("form", "most"), QUOTED.items())
def test_a_line_that_was_quoted_changed_or_found_is_still_that_line(form: str, most: float) -> None:
    total, stayed = 0, []
    for line in some_of(LINES, 6, list(QUOTED).index(form)):
        text, *values = line.split(" ||| ")
        if not values:
            continue
        out = redacted(form % text.replace("\\t", "\t"))
        total += len(values)
        stayed += [(text, value) for value in values if value in out]
    assert total > 500
    assert len(stayed) <= share_of(total, most), stayed
