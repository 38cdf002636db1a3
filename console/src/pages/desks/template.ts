/** What a new sheet begins with: the smallest one that can be used. */
export const TEMPLATE = `# A desk sheet. docs/desk-sheets.md shows how to write one, docs/reference/desk-sheet.md everything it can say.
sheet: 2
desk: a-desk
vendor: a-vendor
name: A desk

kinds:
  - {need: fault, routes: [support]}
  - {need: question, routes: [support]}

questions:
  - id: what
    ask: What happens?
    form: long
    guide: What is seen, since when, what changed before, what was tried.
    to: What happens
    required: true
    min_length: 20
    prefill: packet.note

  - id: contact
    ask: Whom shall they speak to?
    form: person
    to: {name: Contact, phone: Telephone}
    required: true
    prefill: [login.person, site.contact]

attachments: {max_files: 5, max_size: 10 MB, max_total: 30 MB, endings: [.log, .txt]}

write:
  format: mail
  subject: "{packet.title} ({asset.serial})"
  body:
    Our number: "{packet.number}"
    Serial: "{asset.serial}"

send: {channel: mail}

replies:
  arrive: mail
  read: labels
  reference: $.case
  our_number: $.our_number
  status: $.status
  statuses: {open: lodged, asks: asked, solved: answered, closed: settled}
  messages: {list: $, id: $.mail.id, text: $.text, at: $.mail.date, asks: $.answer_wanted}
  refusals:
    list: $
    code: $.reason_code
    text: $.reason_words
    remedies:
      unknown_serial: {remedy: Compare the serial with the label., act: mend_asset}
`;
