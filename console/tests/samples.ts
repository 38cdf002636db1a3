/** Things of the demo world as the service gives them; a test says what is different. */

import type { Message } from "../src/api/following";
import type { Packet, PacketBrief, Question } from "../src/api/packets";
import type { Difference, Statement } from "../src/api/statements";

export const brief = (number: string, more: Partial<PacketBrief> = {}): PacketBrief => ({
  ...{ number, title: "Volumes are slow", life: "drafting", turn: "ours", need: "fault", vendor: "Tarnfell Storage" },
  ...{ asset: null, reference: null, status_text: "2 stops left", owner: "marit" },
  ...{ our_reference: "", ticket: "", turn_since: "2026-11-20T07:40:00Z" },
  ...{ created_at: "2026-11-20T07:40:00Z", updated_at: "2026-11-20T08:00:00Z", stops: null },
  ...{
    severity: "",
    contract: "",
    attention: "waiting",
    due_at: null,
    due_what: "",
    due_zone: "",
    escalate_at: null,
    exhibits: 0,
    messages: 0,
    questions: 0,
  },
  ...{ last_word: "", last_word_from: "", last_word_at: null },
  ...more,
});

/** What the packet of the samples is about. */
export const asset: NonNullable<Packet["asset"]> = {
  ...{ id: "a1", serial: "TN9-1", name: "Array A", product: "TN9", vendor: "tarnfell" },
  ...{ vendor_name: "Tarnfell Storage", site: "Book store", retired: false },
};

/** Where the packet of the samples is found. */
export const PATH = "/api/v1/packets/P-0042";

export const packet = (more: Partial<Packet> = {}): Packet => ({
  ...brief("P-0042"),
  ...{ version: 3, note: "", began_at: null, began_read: null, noted_by: "marit", login: null, logins: [] },
  ...{ desk: "tarnfell-support", desk_name: "Tarnfell Support", sheet_version: 1, ruling: null },
  ...{ questions: [], questions_hidden: [], known: {}, people: [], exhibits: [], checks: [], messages: [] },
  ...{ later_bags: [], consequences: [], units: [], limits: [], cures: [], asks_for: null, release: null },
  ...{ seal: null, lodge_state: null, lodge_status_text: "", lodged_at: null, legend_destroyed_at: null },
  ...{ desk_status: "", followed_at: null, follow_state: null, follow_status_text: "", refusals: [], cases: [] },
  ...{ severity: null, evidence: [], sheet_waiting: null, settled_by: null, takes_files: 5, by_hand: false },
  ...{ next_try_at: null, waits_because: "", acts: [], access: [], shipments: [], follows: null, followed_by: [] },
  ...{
    cause: "",
    cure: "",
    desks: [],
    foreseen: [],
    informed: [],
    handed: null,
    told_of_shipment: { carrier: "", tracking: "", serial: "", return_by: null },
    kit_runs: [],
    ticket: "",
    ticket_trouble: "",
    context: null,
  },
  ...more,
});

const unanswered = (id: string): Question["answer"] => ({
  ...{ question: id, shown: true, required: true, value: null, typed: false, source: null, fact: "", fixed: false },
  because: "",
});

export const question = (id: string, more: Partial<Question> = {}): Question => ({
  ...{ id, ask: `What is ${id}?`, form: "text", guide: "", min_length: 0, max_length: 200, max_items: 9, example: "" },
  ...{ wording: "", units: [], components: [], columns: [], options: [], suggested: [], choices: [], place: 1 },
  ...{ shown_when: true, required_when: true, answer: unanswered(id), fault: null },
  ...more,
});

export const choice = (path: string, more: Partial<Question["choices"][number]> = {}) => ({
  ...{ path, label: path, meaning: "", duties: [], above: [], needs: [] },
  ...more,
});

export const caseShown = (label: string, more: Partial<Packet["cases"][number]> = {}): Packet["cases"][number] => ({
  ...{ label, reference: `TS-${label}`, desk_status: "", life: "lodged", turn: "vendor", desk_facts: {} },
  ...more,
});

export const message = (id: string, more: Partial<Message> = {}): Message => ({
  ...{ id, direction: "in", text: "", asks: false, by: "Tarnfell Support", case: "", at: "2026-11-21T09:00:00Z" },
  ...{
    answered: false,
    sent: true,
    mail: false,
    sender: "",
    stranger: false,
    failure: "",
    how: "desk",
    act: "",
    about: "",
  },
  ...{ outside_hours: false, mail_asked: false, unwished: false },
  ...{ outgoing: null, taken_back: false, can_take_back: false, questions: [], files: [], received: [] },
  ...more,
});

export const statement = (more: Partial<Statement> = {}): Statement => ({
  ...{
    id: "s1",
    vendor: "tarnfell",
    vendor_name: "Tarnfell Storage",
    as_of: "2026-11-01",
    name: "cover.csv",
    size: 900,
  },
  ...{
    state: "ready",
    status_text: "",
    headings: [],
    mapping: {},
    undecided: 3,
    by: "marit",
    at: "2026-11-02T10:00:00Z",
  },
  counts: { agreeing: 12, only_ours: 1, only_theirs: 1, differs: 1, mistyped: 0 },
  ...more,
});

export const difference = (number: number, more: Partial<Difference> = {}): Difference => ({
  ...{
    number,
    sort: "differs",
    serial: `TN9-${number}`,
    asset_id: null,
    ours: null,
    theirs: null,
    fields: [],
    slips: [],
  },
  ...{ sentence: `TN9-${number} ends on another day`, decision: null, reason: "", decided_by: null, decided_at: null },
  ...{ packet: null, before: null },
  ...more,
});
