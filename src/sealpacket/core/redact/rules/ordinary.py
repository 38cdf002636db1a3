"""Words that stand in any manual, program and configuration, and so tell nothing when they stand somewhere else.

`password: string` is masked where it stands, since it may be one; that "string" stands in a thousand other places is no
leak, and masking it there would leave nothing to read. Small letters, three or more; no names of people.
"""

from __future__ import annotations

from sealpacket.core.redact import _native as native

_WORDS = """
abc able about above abs absolute accept accepted accepts access accessed according account across action actions
active actual actually add added adding addition additional addr address adds admin administrator after again
against agent alg algorithm algorithms alias aliases all allocated allow allowed allowing allows almost along
already also alternative always amount and annotations another any anything anyway api app appear appears append
appended applicable application applications applied applies apply appropriate april arbitrary archive are arg args
argument arguments argv around array arrays ascii assert asset assign assigned assignment associated assume assumed
async attached attempt attr attribute attributes attrs august auth authenticator author authorization authorizer
auto automatically automount available avoid await away axis back backend backends background backup backward
backwards bad base based basename bases basic battery bearer because becomes been before begin beginning behavior
behaviour being below best better between big bin binary bind bio bit bits blank blob block blocks body bool boolean
both bottom bound boundary break broken bucket buf buffer bug bugs build building built builtin builtins but byte
bytes cable cache cached calculate call callable callback callbacks called caller calling calls can cancel cannot
care case cases cast catch category cause causes cert certain certificate certs chain challenge change changed
changes changing char character characters charge chars check checked checking checks child children choice choose
class classes clean cleanup clear cli client clone close closed closing cloud cls cluster cmd cmp code codes coding
collect collection collections color colour column columns com combination come comes comma command commands comment
comments commit common compare comparison compat compatibility compatible compile compiled compiler complete
completion complex compliance component components compute computed condition conditions conf config configuration
configure configured connect connected connection consider considered consistent console const constant constants
constraints construct constructed constructor contain contained container containing contains content contents
context continue contributors control controller conversion convert converted copied copies copy copyright core
correct correctly corresponding could count counter country cover create created creates creating creation
credential credentials cross crypto ctx current currently custom customer cut cycle daemon data database dataclass
date datetime day deal debug debugging dec december decimal declared decode decorator deep def default defaults
define defined defines defining definition definitions del delete deleted deletes delta dependencies dependent
depending depends deprecated depth derived desc describe described describes description descriptor desired desk
dest destination destroy detail details detect detected determine determined determines determining dev device dict
dictionary did diff difference different digest digit digits dir direct direction directly directories directory
dirname disable disabled disconnected disk dispatch display displays dist distribute distributed distribution doc
docs docstring document documentation does doing domain done dot double down drive drop dsa dtype due dummy dump
dumps dup duplicate during dynamic each earlier early easier easily easy ecdsa edge edges edit effect efficient
either element elements else email embedded empty enable enabled enc encode encoded encoding end endpoint ends
engine enough ensure enter entire entity entries entry enum enumerate env environ environment equal equivalent err
error errors escape etc evaluate even evening event events every everything exact exactly example examples exc
except exception exceptions exclude exec executable execute executed execution exist existing exists exit exp expand
expect expected explicit explicitly export expr express expression expressions ext extend extended extension
extensions extern external extra extract facility fact factor factory fail failed fails failure fall fallback false
family fan far fast faster feature features february fetch few field fields file filename filenames files fill
filter filters final finally find finish finished firmware first fit fix fixed flag flags float floating floor flush
follow followed following follows for force form format formats formatted formatting forms forward found four frame
free friday from front full fully func function functionality functions further future gateway gecos gen general
generate generated generating generation generator generic get getpass gets getting git give given gives global
globals good got governing granted graph greater group groups guaranteed guest had half hand handle handled handler
handles handling happen happens hard has hash have having head header headers height help helper helpers here hereby
hex hidden high higher hint history hold holds hook host hostname hosts hour hours how html http https identifier
identifiers identity ids idx ifdef ignore ignored image immediately impl implement implementation implementations
implemented implements implicit implied import important imported imports include included includes including
incorrect indent independent index indicate indicates indicating indices individual inf infinite info information
inherit init initgroups initial initialize initialized inline inner input inputs insert insertion inside inspect
install installed instance instances instead instruction int integer integers intended interface interfaces internal
internally international interpreted interval into invalid invoice iso issue issuer issues item items iterable
iteration iterator its itself january job join json july june just keep keeps kept kernel key keys keyword keywords
kind know known kwargs label labels lambda language languages large larger last later latest leading least leave
left legacy len length less let level lexer lexers lib libraries library license licenses like likely limit
limitation limitations limited limits line linear lines link links list listed lists literal little load loaded
loading loads local located location locations lock log logger logging logic login long longer look looking looks
lookup loop low lower mac machine macro macros made magic main major make makes making manager manually many map
mapping maps march mark marked marker mask master match matched matches matching materials math matrices matrix max
maximum may maybe mean meaning means mechanism member members memory merge message messages met meta metadata method
methods might min minimal minimum minor minute minutes misc missing mod mode model models modes modification
modified modify module modules monday monitor month months more morning most move moved msg much mul multi multiline
multiple must name named names namespace nan national native necessary need needed needs negative nested net
netgroup netmask network networks never new newline next node nodes non nonce none nor normal normalize normalized
normally not note nothing notice november now null num number numbers numeric obj object objects obtain obtaining
occurred occurs october odd off offset often oid old older omitted once one ones only open operation operations
operator operators opt optimization option optional options opts order ordered ordering org orig origin original
other others otherwise our out output outside over overload overridden override overrides own owner pack package
packages packaging padding pagination pair pairs parallel param parameter parameters params parent parse parsed
parser parsing part partial particular partition parts pass passed passes passing passwd password passwords patch
path paths pattern patterns pdf pending per perform performance performed permission permissions permit permitted
person persons place placed plain platform platforms please plus point pointer pointers points policy pop port
portions pos position positive possible possibly post pragma pre precision preferred prefix prepare preproc present
preserve pretty prevent previous previously primary print printed printer printing prior priority private probably
problem problems process processed processing processor produce produced produces product products profile program
promote prompt proper properly properties property protected protocol provide provided providers provides proxy
pseudo ptr public publickey publish published pull punctuation purpose purposes push put pwd query queue quote
quoted rack raise raised raises random range rather raw read readable reader reading reads real really reason
reasons receive received recent recommended record records recursive redistribute reduce ref refer reference
references refresh regardless regex region register registered registry regular related relative release released
relevant remaining remote remove removed removes render repeat replace replaced replacement report reported
repository represent representation represented representing represents reproduce req request requested requests
require required requirements requires res reserve reserved reset resolve resolved resource resources respectively
response responses rest restore restriction result resulting results ret retain retrieve return returned returning
returns reverse reversed rfc right role room root round router routines row rows rpc rsa rule rules run running runs
runtime safe same sample saturday save scalar scanner scheduler schema scheme scope script scripts search sec second
seconds secret secrets section security see seen segment select selected selection self sell semantics send sense
sent sep separate separated separately separator september seq sequence sequences serial series server service
services session set sets setting settings setup setuptools several severity sha shadow shall shape share shared
shelf shell shift short should show shown shows side sig sign signal signature signed similar simple simplify simply
since single site size skip slot slots slow small smaller socket software some something sort sorted source sources
space spaces spec special specific specification specified specifies specify specifying split sqrt square src ssl
stable stack standard start started starting starts state statement statements states static station stats status
stderr stdin stdout step steps still stop storage store stored str stream strict strictly string strings strip
struct structure structures stuff style sub subclass subclasses subject sublicense subsequent subset substantial
success successful successfully such sudoers suffix suitable sum summary sunday super supplied supply support
supported supports suppress sure swap switch symbol symbols sync syntax sys system systems tab table tables tag
tagging tags take taken takes target targets task team tell temp temperature template temporary term terminal
terminate terminated terms test testing tests text than that the their them themselves then there therefore these
they thing things third this those though thread threading three through throw thursday thus ticket time timeout
times timestamp title tmp today together token tokens tomorrow too tools top total trace traceback track trailing
transfer transform translate treat treated tree trigger true try trying tuesday tuple tuples turn twice two txt type
typed typedef types typically typing unchanged undef undefined under underlying unexpected unicode uninstall union
unique unit unix unknown unless unquote unsigned unsupported until unused update updated updates upon upper uptime
uri url usage use used useful user username users uses using usr usually utf util utilities utility utils val valid
validate validation value values var variable variables variant various vars vector vendor verbose verify version
versions very via view virtual void voltage volume wait waiting walk want warn warning warnings warranty was way
ways web wednesday week weeks weight well were what whatever when where whether which while whitespace whole whom
bar bash baz eggs foo ipsum java javascript linux lorem perl php python qux ruby spam windows
whose why width will win window with within without word words work worker working works would wrap wrapped wrapper
wraps write writes writing written wrong www xml year years yesterday yet yield you your zero zeros zip
"""

ORDINARY = native.Ordinary(_WORDS.split())
"""Tells whether a value is made of nothing but such words: `string`, `Name.Variable`, `key_password`, `cfg.get(`."""


def is_ordinary(value: bytes) -> bool:
    """Whether a value is nothing but ordinary words, put together as names in programs are."""
    return ORDINARY.has(value)
