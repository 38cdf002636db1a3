"""Values that stand on another line, in another element or in another cell than what tells of them."""

from __future__ import annotations

import io
import zipfile

import openpyxl
import pytest

from sealpacket.core.redact import Catalogue, Placeholders
from sealpacket.core.redact.readers import Work, copy_file
from tests.core.seeds import make_zip
from tests.some import in_batches

CATALOGUE = Catalogue.build(domains=["quillmere.example"])
GOES: list[tuple[str, str, list[str]]] = [
    ("a.eml.txt", "The belt stops.\n\nBest regards,\nDorit Sallow\nDesk 4\n", ["Dorit Sallow"]),
    ("a.log", "Thanks!\n\nDorit\n", ["Dorit"]),
    ("a.log", "> Mit freundlichen Grüßen\r\n> Jörg Müller-Lüdenscheid\r\n", ["Jörg", "Lüdenscheid"]),
    ("a.log", "S: 334 VXNlcm5hbWU6\nC: b2RpbGU=\nS: 334 UGFzc3dvcmQ6\nC: a2VzdHJlbCE3Nw==\n", ["b2RpbGU=", "a2VzdHJlbCE3Nw=="]),
    ("a.log", "env:\n  - name: DB_PASSWORD\n    value: blue-Kettle9\n  - name: DB_USER\n    value: odile.m\n", ["blue-Kettle9", "odile.m"]),
    ("a.yaml", "env:\n  - name: DB_PASSWORD\n    value: blue-Kettle9\n", ["blue-Kettle9"]),
    ("a.json", '{"env":[\n {\n  "name": "DB_PASSWORD",\n  "value": "blue-Kettle9"\n }\n]}\n', ["blue-Kettle9"]),
    ("a.xml", "<dict>\n<key>password</key>\n<string>blue-Kettle9</string>\n<key>user</key>\n<string>odile</string></dict>\n", ["blue-Kettle9", "odile"]),
    ("a.xml", '<entry key="password">\n  blue-Kettle9\n</entry>\n', ["blue-Kettle9"]),
    ("a.xml", '<setting name="DbPassword" serializeAs="String">\n<value>blue-Kettle9</value>\n</setting>\n', ["blue-Kettle9"]),
    ("a.yaml", "password: |\n  blue-Kettle9\nuser: x\n", ["blue-Kettle9"]),
    ("a.yaml", "password: >-\n  blue-Kettle9\nuser: x\n", ["blue-Kettle9"]),
    ("a.ldif", "dn: uid=odile,ou=p\nuserPassword:: Ymx1ZS1LZXR0bGU5\nsn: Marchmont\ngivenName: Odile\n", ["Ymx1ZS1LZXR0bGU5", "Marchmont", "Odile"]),
    ("a.vcf", "BEGIN:VCARD\nN:Marchmont;Odile;;;\nFN:Odile Marchmont\nADR;TYPE=home:;;12 Fennel Lane;Quillmere;;QM1 3FD;\nBDAY:1987-03-14\nEND:VCARD\n",
     ["Marchmont", "Fennel Lane", "1987-03-14"]),
    ("a.log", "Password:\nblue-Kettle9\n", ["blue-Kettle9"]),
    ("a.log", "Authorization: Basic\n  b2RpbGU6Ymx1ZS1LZXR0bGU5\n", ["b2RpbGU6"]),
    ("a.log", "Enter password for odile: blue-Kettle9\n", ["blue-Kettle9", "odile"]),
    ("a.log", "[db]\nuser=odile\npassword=\n  blue-Kettle9\n", ["blue-Kettle9"]),
    ("a.html", "<tr><td>Name</td><td>Odile Marchmont</td></tr><tr><td>Password</td><td>blue-Kettle9</td></tr>\n", ["Marchmont", "blue-Kettle9"]),
    ("a.html", "<tr>\n<td>Password</td>\n<td>blue-Kettle9</td>\n</tr>\n", ["blue-Kettle9"]),
    ("a.html", "<dt>Password</dt><dd>blue-Kettle9</dd>\n", ["blue-Kettle9"]),
]  # fmt: skip
GOES += [
    ("a.html", "<table><tr><th>User</th><th>Password</th></tr>\n<tr><td>odile</td><td><code>blue-Kettle9</code></td></tr>\n<tr>\n<td>bruno</td>\n<td>green pan</td></tr></table>\n",
     ["odile", "blue-Kettle9", "bruno", "green pan"]),
    ("a.html", "<TABLE><TR><TH scope=col>Hostname<TH>Serial number<TH>State<TR><TD>qcl-sw1<TD>QX441189K<TD>up</TABLE>\n", ["qcl-sw1", "QX441189K"]),
]  # fmt: skip
GOES += [
    ('a.ini', '[mail]\nserver = smtp07\nuser = loans\npass = Heron!Lake7\n[sip]\nkey: 8f3b2a9c11\n', ['smtp07', 'loans', 'Heron!Lake7']),
    ('a.properties', 'db.url=jdbc:mysql://db02:3306/loans\ndb.user=tbrandt\ndb.pw=Heron\\!Lake7\nmail.smtp.password = Heron\\=Lake7\n', ['db02', 'tbrandt', 'Heron\\!Lake7', 'Heron\\=Lake7']),
    ('a.yaml', 'apiVersion: v1\nkind: Secret\nmetadata: {name: db}\ndata:\n  username: dGJyYW5kdA==\n  db-pass: SGVyb24hTGFrZTc=\nstringData:\n  token: Heron!Lake7\n', ['dGJyYW5kdA', 'SGVyb24hTGFrZTc', 'Heron!Lake7']),
    ('a.yaml', 'all:\n  hosts:\n    tiller04:\n      ansible_host: 10.20.3.14\n      ansible_become_pass: Heron!Lake7\n', ['10.20.3.14', 'Heron!Lake7']),
    ('a.json', '{"users":[{"login":"tbrandt","mail":"teo@quillmere.example","roles":["keeper"]},{"login":"iokoro"}],"smtp":{"host":"smtp07","auth":{"user":"loans","pass":"Heron!Lake7"}}}\n', ['tbrandt', 'teo@', 'iokoro', 'smtp07', 'loans', 'Heron!Lake7']),
    ('a.json', '{\n "version": 4,\n "outputs": {\n  "db_password": {\n   "value": "Heron!Lake7",\n   "type": "string",\n   "sensitive": true\n  }\n }\n}\n', ['Heron!Lake7']),
    ('a.json', '{"Env":["PATH=/usr/bin","DB_PASS=Heron!Lake7","TOKEN=8f3b2a9c11d4"],"Hostname":"tiller04","NetworkSettings":{"IPAddress":"10.20.3.14","MacAddress":"02:5e:11:22:33:44"}}\n', ['Heron!Lake7', '8f3b2a9c11d4', 'tiller04', '10.20.3.14', '02:5e']),
    ('a.json', '{"log":{"entries":[{"request":{"headers":[{"name":"Cookie","value":"sid=8f3b2a9c11d4"},{"name":"Authorization","value":"Bearer qwe123rty456"}],"postData":{"text":"user=tbrandt&password=Heron!Lake7"}}}]}}\n', ['8f3b2a9c11d4', 'qwe123rty456', 'tbrandt', 'Heron!Lake7']),
    ('a.xml', '<Server><Host>tiller04</Host><User>tbrandt</User><Pass>Heron!Lake7</Pass><Pass encoding="base64">SGVyb24hTGFrZTc=</Pass></Server>\n', ['tiller04', 'tbrandt', 'Heron!Lake7', 'SGVyb24hTGFrZTc']),
    ('a.xml', '<Event><System><Computer>TILLER04</Computer><Security UserID="S-1-5-21-1004336348-1177238915-682003330-512"/></System><EventData><Data Name="SubjectUserName">tbrandt</Data><Data Name="IpAddress">10.20.3.14</Data></EventData></Event>\n', ['TILLER04', '1004336348', 'tbrandt', '10.20.3.14']),
    ('a.xml', '<patron><personal><first_name>Teo</first_name><last_name>Brandt</last_name><birth_date>1987-03-14Z</birth_date></personal><identifiers><identifier type="barcode">21160009912345</identifier></identifiers><contact_info><addresses><address><line1>14 Weir Street</line1><postal_code>QM4 2LT</postal_code></address></addresses><phones><phone>01632 960477</phone></phones></contact_info></patron>\n', ['>Teo<', 'Brandt', '1987-03-14', '21160009912345', '14 Weir', 'QM4 2LT', '960477']),
    ('a.xml', '<WLANProfile><SSIDConfig><SSID><name>quill-staff</name></SSID></SSIDConfig><MSM><security><sharedKey><keyType>passPhrase</keyType><protected>false</protected><keyMaterial>Heron!Lake7</keyMaterial></sharedKey></security></MSM></WLANProfile>\n', ['Heron!Lake7']),
    ('a.xml', '<unattend><AutoLogon><Password><Value>Heron!Lake7</Value><PlainText>true</PlainText></Password><Username>tbrandt</Username></AutoLogon></unattend>\n', ['Heron!Lake7', 'tbrandt']),
    ('a.xml', '<configuration><connectionStrings><add name="L" connectionString="Data Source=db02;User ID=tbrandt;Password=Heron!Lake7"/></connectionStrings><appSettings><add key="SmtpPassword" value="Lake!Heron9"/></appSettings></configuration>\n', ['db02', 'tbrandt', 'Heron!Lake7', 'Lake!Heron9']),
    ('a.csv', 'Barcode,Surname,Forename,DOB,Email,Mobile\n21160009912345,Brandt,Teo,14/03/1987,teo@quillmere.example,07700 900461\n21160009912353,Okoro,Ines,02/11/1990,,07700 900462\n', ['21160009912345', 'Brandt', 'Teo', '14/03/1987', '900461', 'Okoro', 'Ines', '02/11/1990', '900462', '21160009912353']),
    ('a.csv', 'id;name;street;zip;city\n7;Teo Brandt;14 Weir Street;QM4 2LT;Quillmere\n8;Ines Okoro;3 Quay Road;QM1 2AB;Quillmere\n', ['Brandt', '14 Weir', 'QM4 2LT', 'Okoro', 'Quay Road', 'QM1 2AB']),
    ('a.csv', 'asset,serial_no,contract,owner\nA1,QX99120K,QC-2291-7,tbrandt\nA2,4401882,4401999,iokoro\n', ['QX99120K', 'QC-2291-7', 'tbrandt', 'iokoro', '4401882', '4401999']),
    ('a.csv', 'timestamp,src_ip,src_mac,user,action\n2026-11-26T08:40,10.20.3.14,02:5e:11:22:33:44,tbrandt,login\n', ['10.20.3.14', '02:5e', 'tbrandt']),
    ('a.csv', 'lat,lon,site\n51.50741,-0.12781,Weir\n', ['51.50741', '0.12781']),
    ('a.csv', 'card number,expiry,cvv,holder\n4111111111111111,04/28,123,T BRANDT\n', ['4111111111111111', 'BRANDT', '123']),
    ('a.conf', 'interface Gi0/1\n description uplink\n ip address 10.20.0.1 255.255.255.0\n!\nsnmp-server community Quill-ro7 RO\nusername tbrandt secret 5 $1$abc$Qm1zqk3fT0b0c1d2\nradius server R1\n address ipv4 10.20.0.9 auth-port 1812\n key Heron!Lake7\n!\n', ['10.20.0.1', 'Quill-ro7', 'tbrandt', 'Qm1zqk3f', '10.20.0.9', 'Heron!Lake7']),
    ('a.conf', 'config system admin\n    edit "tbrandt"\n        set password ENC AK1abcDEF234ghi\n    next\nend\nconfig user radius\n    edit "R1"\n        set server "10.20.0.9"\n        set secret ENC xyz987QRS\n', ['tbrandt', 'AK1abcDEF', '10.20.0.9', 'xyz987QRS']),
    ('a.conf', 'system {\n    host-name tiller04;\n    login { user tbrandt { authentication { encrypted-password "$6$abc$Qm1zqk3f"; } } }\n    radius-server { 10.20.0.9 secret "$9$Heron7Lake"; }\n}\n', ['tiller04', 'tbrandt', 'Qm1zqk3f', '10.20.0.9', 'Heron7Lake']),
    ('a.conf', 'network={\n  ssid="quill"\n  psk="Heron!Lake7"\n  identity="tbrandt"\n  password=hash:8846f7eaee8fb117ad06bdd830b7586c\n}\n', ['Heron!Lake7', 'tbrandt', '8846f7eaee']),
    ('a.conf', '[Interface]\nPrivateKey = yAnz5TF+lXXJte14tji3zlMNq+hd2rYUIgJBgB3fBmk=\nAddress = 10.20.9.2/32\n[Peer]\nPresharedKey = FpCyhws9cxwWoV4xELtfJvjJN+zQVRPISllRWgeopVE=\nEndpoint = vpn.quillmere.example:51820\n', ['yAnz5TF', '10.20.9.2', 'FpCyhws9', 'vpn.quill']),
    ('a.conf', 'machine files02\n  login tbrandt\n  password Heron!Lake7\n', ['tbrandt', 'Heron!Lake7', 'files02']),
    ('a.log', 'Traceback (most recent call last):\n  File "/home/tbrandt/app.py", line 3, in <module>\n    connect(host=\'db02\', user=\'loans\', password=\'Heron!Lake7\')\nOSError: [Errno 113] No route to host: \'db02\'\n', ['tbrandt', 'db02', 'loans', 'Heron!Lake7']),
    ('a.log', '> show ip arp\nProtocol  Address          Age (min)  Hardware Addr   Type   Interface\nInternet  10.20.3.14              12   025e.1122.3344  ARPA   Vlan20\n', ['10.20.3.14', '025e.1122']),
    ('a.log', '> show inventory\nNAME: "Chassis", DESCR: "LT200"\nPID: LT200 , VID: V01 , SN: QX99120K\n', ['QX99120K']),
    ('a.log', 'Handle 0x0001, DMI type 1\nSystem Information\n\tManufacturer: Lumen\n\tSerial Number: QX99120K\n\tUUID: 4c4c4544-0034\n\tSKU Number: 12\n', ['QX99120K']),
    ('a.log', 'Subject: Re: desk down\nFrom: Teo Brandt <teo@quillmere.example>\n\nHi Ines,\nthe password is Heron!Lake7 and my mobile is 07700 900461.\nCheers,\nTeo Brandt\n14 Weir Street\nQuillmere QM4 2LT\n', ['teo@', 'Brandt', 'Heron!Lake7', '900461', '14 Weir', 'QM4 2LT']),
    ('a.log', 'Name:     Teo Brandt\nPhone:    01632 960477\nAddress:  14 Weir Street\n          Quillmere\n          QM4 2LT\nCard:     21160009912345\n', ['Brandt', '960477', '14 Weir', 'QM4 2LT', '21160009912345']),
    ('a.log', '  uid:\n    tbrandt\n  pin:\n    4471\n', ['tbrandt', '4471']),
    ('a.log', '$ cat /etc/passwd\ntbrandt:x:1004:1004:Teo Brandt,,,:/home/tbrandt:/bin/bash\n$ id tbrandt\nuid=1004(tbrandt) gid=1004(tbrandt)\n$ last\ntbrandt  pts/0        10.20.3.14       Thu Nov 26 08:40   still logged in\n', ['tbrandt', 'Brandt', '10.20.3.14']),
    ('a.log', '$ getent shadow tbrandt\ntbrandt:$6$abc$Qm1zqk3fT0b0c1d2:19000:0:99999:7:::\n', ['tbrandt', 'Qm1zqk3f']),
    ('a.log', '$ net user tbrandt /domain\nUser name                    tbrandt\nFull Name                    Teo Brandt\nComment                      desk\nLocal Group Memberships      *Users\n', ['tbrandt', 'Brandt']),
    ('a.log', '$ systeminfo\nHost Name:                 TILLER04\nRegistered Owner:          Teo Brandt\nProduct ID:                00330-80000-00000-AA123\n[01]: 10.20.3.14\n', ['TILLER04', 'Brandt', '00330-80000-00000-AA123', '10.20.3.14']),
    ('a.log', '$ netsh wlan show profile name=quill key=clear\n    SSID name              : "quill"\n    Key Content            : Heron!Lake7\n', ['Heron!Lake7']),
    ('a.log', '$ cmdkey /list\n    Target: Domain:target=files02\n    User: QCL\\tbrandt\n', ['tbrandt', 'files02']),
    ('a.log', '$ kubectl get nodes -o wide\nNAME       STATUS   ROLES    AGE   INTERNAL-IP   OS-IMAGE\ntiller04   Ready    worker   12d   10.20.3.14    linux\n', ['10.20.3.14']),
    ('a.log', '$ arp -a\nInterface: 10.20.3.14 --- 0x5\n  Internet Address      Physical Address      Type\n  10.20.0.1             02-5e-11-22-33-44     dynamic\n', ['10.20.3.14', '10.20.0.1', '02-5e-11']),
    ('a.html', "<p>Dear <b>Teo Brandt</b>,</p><p>Your PIN is <code>4471</code>. Call 01632&nbsp;960477.</p><!-- tbrandt:Heron!Lake7 --><a href='mailto:teo%40quillmere.example'>x</a><input name=password value=Heron!Lake7>\n", ['Brandt', '4471', '960477', 'teo%40', 'value=Heron!Lake7']),
    ('a.html', '<table><tr><th>Patron</th><td>Teo Brandt</td></tr><tr><th>Card</th><td>21160009912345</td></tr></table>\n', ['Brandt', '21160009912345']),
    ('a.sql', "CREATE TABLE patron (id int, surname text, pin text);\nINSERT INTO patron VALUES (7,'Brandt','4471');\nINSERT INTO staff (login, pw_hash) VALUES ('tbrandt', '$2b$12$abcdefghijklmnopqrstuv'),\n ('iokoro', '$2b$12$zyxwvutsrqponmlkjihgfe');\nCOPY users (login, email) FROM stdin;\ntbrandt\tteo@quillmere.example\n\\.\n", ['Brandt', '4471', 'tbrandt', '$2b$12$abcdef', '$2b$12$zyxwv', 'teo@', 'iokoro']),
    ('a.ldif', 'dn: uid=tbrandt,ou=people,dc=quillmere,dc=example\nuid: tbrandt\ncn: Teo Brandt\nmail: teo@quillmere.example\nuserPassword: {SSHA}W6ph5Mm5Pz8GgiULbPgzG37mj9g2\ntelephoneNumber: 01632 960477\npostalAddress: 14 Weir Street$Quillmere$QM4 2LT\n', ['tbrandt', 'Brandt', 'teo@', 'W6ph5Mm5', '960477', '14 Weir', 'QM4 2LT']),
    ('a.ps1', "$cred = New-Object PSCredential('QCL\\tbrandt', (ConvertTo-SecureString 'Heron!Lake7' -AsPlainText -Force))\nInvoke-RestMethod -Uri https://api.quillmere.example/v1 -Headers @{ 'X-Api-Key' = '8f3b2a9c11d4' }\n", ['tbrandt', 'Heron!Lake7', 'api.quillmere', '8f3b2a9c11d4']),
    ('a.sh', 'export DB_PASS=\'Heron!Lake7\'\ncurl -s -u "tbrandt:$DB_PASS" https://files02/x\necho "Lake!Heron9" | kinit tbrandt\nmysql -u loans -p"Heron!Lake7" loans < dump.sql\n', ['Heron!Lake7', 'tbrandt', 'files02', 'Lake!Heron9', 'loans -p']),
    ("a.log", "NAME   SIZE SERIAL          MODEL\nsda  447.1G QX9NB0K123456   DISK A\nsdb  447.1G QX9NB0K123457   DISK A\n", ["QX9NB0K123456", "QX9NB0K123457"]),
    ("a.log", "> bios get serialnumber\r\nSerialNumber  \r\n7QX4TR2  \r\n\r\n> csproduct get identifyingnumber\r\nIdentifyingNumber  Version\r\nQX4TR2X            1\r\n", ["7QX4TR2"]),
    ("a.csv", "id;prénom;nom;né le;rue\n1;Odile;Marchmont;12/03/1984;Untere Gasse 3\n", ["Odile", "Marchmont", "12/03/1984", "Gasse 3"]),
    ("a.csv", "id,first,middle,last\n1,Odile,Fennimore,Quellmann\n", ["Odile", "Fennimore", "Quellmann"]),
    ("a.csv", "Vorname,Name,Ort\nOdile,Quellmann,Kiel\n", ["Odile", "Quellmann"]),
    ("a.yml", 'db:\n  command: ["--requirepass", "kestrel77"]\n', ["kestrel77"]),
    ('a.py', 'conn = psycopg.connect(host="db02", user="tbrandt", password="Heron!Lake7")\nSECRET = b\'8f3b2a9c11d4e5f6\'\nrequests.get(url, auth=(\'tbrandt\', \'Heron!Lake7\'))\nclient.login(\'tbrandt\', \'Heron!Lake7\')\n', ['db02', 'tbrandt', 'Heron!Lake7', '8f3b2a9c11d4e5f6']),
]  # fmt: skip
"""Whole files as people and programs write them."""
TABLES: list[tuple[str, str, list[str]]] = [
    ("a.csv", 'host,user,password,card\npc1,odile,blue-Kettle9,21160007731404\n"pc2","bruno","green, Pan8",21160007731412\n',
     ["pc1", "odile", "blue-Kettle9", "21160007731404", "pc2", "bruno", "Pan8", "21160007731412"]),
    ("a.csv", "First name;Last name;E-mail;Date of birth;Phone\nOdile;Marchmont;;14/03/1987;01632 960321\n", ["Odile", "Marchmont", "14/03/1987", "960321"]),
    ("a.tsv", "hostname\tserial\tip\nqcl-sw1\tQX441189K\t10.40.1.1\n", ["qcl-sw1", "QX441189K", "10.40.1.1"]),
    ("a.log", "| user  | password     |\n|-------|--------------|\n| odile | blue-Kettle9 |\n", ["blue-Kettle9", "odile"]),
    ("a.log", " username |   password   \n----------+--------------\n odile    | blue-Kettle9\n(1 row)\n", ["blue-Kettle9", "odile"]),
    ("a.log", "+-------+--------------+\n| user  | password     |\n+-------+--------------+\n| odile | blue-Kettle9 |\n+-------+--------------+\n", ["blue-Kettle9", "odile"]),
    ("a.log", "UserName     Password\n--------     --------\nodile        blue-Kettle9\nbruno        green-Pan8x\n", ["blue-Kettle9", "odile", "bruno", "green-Pan8x"]),
    ("a.log", "NAME        STATUS   NODE       USER\nloans-7d    Running  tiller04   odile\nloans-8e    Pending  tiller05   bruno\n\ndone\n", ["tiller04", "tiller05", "odile", "bruno"]),
    ("a.log", "Username         Port     From             Latest\nodile            pts/0    10.40.3.9        Mon Nov 23 08:40\nbruno                                      **Never logged in**\n", ["odile", "bruno", "10.40.3.9"]),
    ("a.log", "Slot\tSerial number\tState\r\n1\tQX441189K\tok\r\n2\tQX441190K\tok\r\n", ["QX441189K", "QX441190K"]),
]  # fmt: skip


def copied_bytes(name: str, data: bytes) -> bytes:
    target = io.BytesIO()
    copy_file(io.BytesIO(data), target, Work(CATALOGUE, Placeholders(b"k" * 32)), name)
    return target.getvalue()


def copied(name: str, text: str) -> str:
    return copied_bytes(name, text.encode()).decode()


@pytest.mark.parametrize("rows", in_batches([*GOES, *TABLES], 20))
def test_what_is_told_from_elsewhere_goes(rows: list[tuple[str, str, list[str]]]) -> None:
    for name, text, values in rows:
        copy = copied(name, text)
        assert [value for value in values if value in copy] == [], copy
        assert copy.count("\n") == text.count("\n"), "each line stays a line"


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("a.csv", "level,component,code\nINFO,replica,E0417\nWARN,cache,E3312\n"),
        ("a.csv", "at,value,unit\n2026-11-23T08:40:12Z,17,ms\n2026-11-23T08:40:13Z,18,ms\n"),
        ("a.csv", "12,13\n14,15\n"),
        ("a.log", "disk   state   errors\n----   -----   ------\nsda    ok      0\nsdb    failed  17\n"),
        ("a.log", "Filesystem      Size  Used  Avail  Mounted on\n/dev/sda1       20G   12G   8G     /\n"),
        ("a.log", "Module    Size    Used by\nnvme      4096    3\n"),
        ("a.log", "Thanks,\nTeam Circulation\nkind regards\nthe desk\n"),
        ("a.log", "User  Host  Password\n\nnothing here\n"),
        ("a.log", "Volume    Owner       State\nthe rest of this line is a sentence\nvol1      pool2       ok\n"),
        ("a.log", "| code | meaning |\n|---|---|\n| E0417 | reader dead |\n"),
        ("a.log", "name: cache\nvalue: 17\n"),
        ("a.log", "password:\n\nnothing follows\n"),
        ("a.html", "<td>Version</td><td>7.4.2</td>\n<dt>State</dt><dd>ready</dd>\n"),
    ],
)  # fmt: skip
def test_tables_that_tell_of_nothing_stay_as_they_are(name: str, text: str) -> None:
    assert copied(name, text) == text


def test_a_table_goes_on_over_the_end_of_a_block() -> None:
    row = "| odile{0:06d} | blue-Kettle{0:06d} | a row that fills the block a little more, and more |\n"
    text = "| user | password | note |\n|---|---|---|\n" + "".join(
        row.format(number) for number in range(20_000)
    )
    copy = copied("a.log", text)
    assert len(text) > 1_500_000
    assert "odile0" not in copy
    assert "blue-Kettle0" not in copy


def test_the_heads_of_a_workbook_tell_of_its_cells() -> None:
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.append(["Host", "Password", "Card number", "Code", "Born", "Date of birth"])
    sheet.append(["qcl-sw1", "blue-Kettle9", 21160007731404, "E0417", "x", "14/03/1987"])
    sheet.append(["qcl-sw2", "green pan", 21160007731412, "E0417", "y", "1987-03-15"])
    data = io.BytesIO()
    book.save(data)
    read = openpyxl.load_workbook(io.BytesIO(copied_bytes("a.xlsx", data.getvalue())))
    cells = [[str(cell) for cell in row] for row in read.active.values]
    text = " ".join(cell for row in cells for cell in row)
    gone = [
        "qcl-sw1",
        "qcl-sw2",
        "blue-Kettle9",
        "green pan",
        "21160007731404",
        "21160007731412",
        "1987",
    ]
    assert [value for value in gone if value in text] == []
    assert cells[0] == ["Host", "Password", "Card number", "Code", "Born", "Date of birth"]
    assert [row[3] for row in cells[1:]] == ["E0417", "E0417"]


def test_texts_that_sheets_share_are_told_by_the_heads_too() -> None:
    shared = "".join(
        f"<si><t>{text}</t></si>"
        for text in ("Password", "Code", "green pan", "E0417", "Card number")
    )
    sheet = "".join(
        f'<row r="{row}">'
        + "".join(f'<c r="{cell}{row}" t="s"><v>{number}</v></c>' for cell, number in cells)
        + "</row>"
        for row, cells in ((1, (("A", 0), ("B", 1), ("C", 4))), (2, (("A", 2), ("B", 3))))
    )
    sheet = sheet.removesuffix("</row>") + '<c r="C2"><v>21160007731404</v></c></row>'
    data = make_zip(**{
        "[Content_Types].xml": b"<Types xmlns='t'/>", "xl__sharedStrings.xml": f'<sst xmlns="m">{shared}</sst>'.encode(),
        "xl__worksheets__sheet1.xml": f'<worksheet xmlns="m"><sheetData>{sheet}</sheetData></worksheet>'.encode(),
    })  # fmt: skip
    with zipfile.ZipFile(io.BytesIO(copied_bytes("a.xlsx", data))) as archive:
        text = archive.read("xl/sharedStrings.xml").decode()
        cells = archive.read("xl/worksheets/sheet1.xml").decode()
    assert "green pan" not in text
    assert "E0417" in text
    assert "21160007731404" not in cells, "a number below a head that is shared"


def word(*rows: tuple[str, ...]) -> bytes:
    """A document with one table."""
    cells = "".join(
        "<w:tr>"
        + "".join(f"<w:tc><w:p><w:r><w:t>{cell}</w:t></w:r></w:p></w:tc>" for cell in row)
        + "</w:tr>"
        for row in rows
    )
    body = f'<w:document xmlns:w="http://w"><w:body><w:tbl>{cells}</w:tbl></w:body></w:document>'
    return make_zip(
        **{"[Content_Types].xml": b"<Types xmlns='t'/>", "word__document.xml": body.encode()}
    )


@pytest.mark.parametrize(
    ("rows", "gone", "stays"),
    [
        ([("User", "Password"), ("odile", "blue-Kettle9"), ("bruno", "green pan")], ["odile", "blue-Kettle9", "bruno", "green pan"], ["User", "Password"]),
        ([("Patron", "Odile Marchmont"), ("Password", "blue-Kettle9"), ("Error", "E0417")], ["Marchmont", "blue-Kettle9"], ["E0417", "Patron"]),
    ],
)  # fmt: skip
def test_the_heads_of_a_documents_table_tell_of_its_cells(
    rows: list[tuple[str, ...]], gone: list[str], stays: list[str]
) -> None:
    with zipfile.ZipFile(io.BytesIO(copied_bytes("a.docx", word(*rows)))) as archive:
        text = archive.read("word/document.xml").decode()
    assert [value for value in gone if value in text] == []
    assert [value for value in stays if value not in text] == []


@pytest.mark.parametrize(
    "row",
    [
        "('" * 200_000,
        "'" * 400_000,
        "(" * 400_000,
        "('a''" * 100_000,
        "('\\\\'" * 100_000,
        "(,,)" * 100_000,
    ],
)
def test_rows_of_a_statement_are_read_in_one_pass(row: str) -> None:
    """A pattern for quotes within quotes would never end on these."""
    copied("a.sql", "\n".join(["INSERT INTO users (login, password) VALUES", row, ""]))


def test_fields_of_rows_are_cut_where_sql_cuts_them() -> None:
    text = (
        "INSERT INTO t (id, login, note, password) VALUES\n (1, 'odile', 'it''s, (a) note', 'blue-Kettle9'),\n"
        " (2, 'bruno', concat('a', 'b'), 'green\\'Pan8'), (3, NULL, '', NULL);\n"
    )
    copy = copied("a.sql", text)
    assert "it''s, (a) note" in copy
    assert "concat('a', 'b')" in copy
    assert [value for value in ("odile", "bruno", "blue-Kettle9", "Pan8") if value in copy] == []


def test_a_list_of_accounts_with_their_passwords_goes_whole() -> None:
    name, text, values = (
        "a.yaml",
        "users:\n  - name: tbrandt\n    passwd: $6$abc$Qm1zqk3fT0b0c1d2\n    ssh_authorized_keys:\n      - ssh-ed25519 AAAAC3NzaC1lZDI1NTE5AAAAIEx teo@tiller04\nchpasswd:\n  list: |\n    tbrandt:Heron!Lake7\n    root:Lake!Heron9\n",
        ["Qm1zqk3f", "teo@", "tiller04", "Heron!Lake7", "Lake!Heron9"],
    )
    copy = copied(name, text)
    assert [value for value in values if value in copy] == [], copy


def test_what_opens_a_tunnel_goes_whole() -> None:
    key = "-----BEGIN Tunnel Static key V1-----\n6acef03f62675b4b1bbd03e53b187727\n-----END Tunnel Static key V1-----"
    copy = copied(
        "a.conf", f"<auth-user-pass>\nodile\nkestrel77\n</auth-user-pass>\n{key}\nverb 3\n"
    )
    assert not [value for value in ("odile", "kestrel77", "6acef03f") if value in copy]
    assert copy.startswith("<auth-user-pass>\n[secret:")
    assert copy.endswith("]\nverb 3\n")
