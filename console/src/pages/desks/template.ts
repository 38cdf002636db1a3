/** What a new sheet begins with: the smallest one that can be used. */
export const TEMPLATE = `# A desk sheet. Everything that it can say stands in docs/reference/desk-sheet.md.
sheet: 1
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
    required: true
    at_least: 20
    prefill: [{take: packet.note}]

  - id: contact
    ask: Whom shall they speak to?
    form: person
    required: true
    prefill: [{take: login.person}, {take: site.contact}]

attachments: {most: 5, each: 10000000, together: 30000000, endings: [.log, .txt]}

write:
  form: mail
  subject: "{packet.title} ({asset.serial})"
  body:
    Our number: {take: packet.number}
    Serial: {take: asset.serial}
    What happens: {take: answers.what}
    Contact: {text: "{answers.contact.name}, {answers.contact.phone}"}

send: {channel: mail}

replies:
  by: mail
  read: labels
  reference: $.case
  ours: $.our_number
  status: $.status
  words:
    open: {life: lodged, turn: vendor}
    asks: {life: lodged, turn: ours}
    solved: {life: answered, turn: ours}
    closed: {life: settled, turn: vendor}
  messages: {each: $, id: $.mail.id, text: $.text, at: $.mail.date, asks: $.answer_wanted}
  refusals:
    each: $
    code: $.reason_code
    text: $.reason_words
    cures:
      unknown_serial: {sentence: Compare the serial with the label., act: mend_asset}
`;
