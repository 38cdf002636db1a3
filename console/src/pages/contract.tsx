/** One contract with everything that belongs to it. */
import type { ReactNode } from "react";
import { Link } from "wouter";
import type { Schemas } from "../api/client";
import { useContractPasscode } from "../api/order-documents";
import { useHistory, useWholeContract } from "../api/register";
import {
  Badge,
  count,
  daysTo,
  Facts,
  Mono,
  Nothing,
  ProblemNote,
  ProblemPage,
  Sheet,
  sayDay,
  sayMoment,
  sayMoney,
  Waiting,
} from "../parts/basics";
import { HistoryList } from "../parts/history";
import { AssetRow, PacketRow, Rows } from "../parts/rows";
import { type Bar, DayLanes, type Lane, sayDays } from "../parts/timeline";
import { Amend, Renew } from "./contract-acts";

type Whole = Schemas["WholeContract"];

export function ContractPage({ handle, roles }: { handle: string; roles: string[] }) {
  const whole = useWholeContract(handle);
  if (whole.error) return <ProblemPage title="Contract" problem={whole.error} />;
  return (
    <main className="mx-auto grid w-full max-w-[1180px] grid-cols-[minmax(0,1fr)_320px] content-start gap-x-9 gap-y-6 px-6 py-7 max-lg:grid-cols-1 max-sm:px-3">
      {whole.data ? <Known whole={whole.data} roles={roles} /> : <Waiting label="The contract is being read" />}
    </main>
  );
}

const iso = (day: Date) => day.toISOString().slice(0, 10);

/** From the first term's start to the end, with some room after it. */
function range(whole: Whole): [string, string] {
  const starts = [whole.contract.starts_on, ...whole.contract.former_terms.map((term) => term.starts_on)].sort();
  const last = new Date(whole.contract.ends_on);
  last.setUTCDate(last.getUTCDate() + 120);
  return [starts[0] ?? whole.contract.starts_on, iso(last)];
}

function lanes(whole: Whole): Lane[] {
  const terms: Bar[] = [...whole.contract.former_terms, whole.contract].map((term) => ({
    from: term.starts_on,
    to: term.ends_on,
    tone: "ink",
    words: `Term: ${sayDays(term.starts_on, term.ends_on)}`,
  }));
  const gaps: Bar[] = whole.gaps.map((gap) => ({
    from: iso(new Date(Date.parse(gap.after) + 86_400_000)),
    to: iso(new Date(Date.parse(gap.before) - 86_400_000)),
    tone: "gap",
    words: "It did not run",
  }));
  const byReference = new Map<string, Lane>();
  for (const item of whole.entitlements) {
    const lane = byReference.get(item.reference) ?? { name: item.reference, beside: item.level, bars: [] };
    const to = item.replaced_on ? iso(new Date(Date.parse(item.replaced_on) - 86_400_000)) : item.ends_on;
    lane.bars.push({ from: item.starts_on, to, tone: "moss", words: `${item.level}: ${sayDays(item.starts_on, to)}` });
    byReference.set(item.reference, lane);
  }
  return [{ name: whole.contract.number, beside: "its terms", bars: [...terms, ...gaps] }, ...byReference.values()];
}

function Known({ whole, roles }: { whole: Whole; roles: string[] }) {
  const { contract } = whole;
  const keeper = roles.includes("keeper");
  const history = useHistory("contracts", contract.id);
  const [since, until] = range(whole);
  const day = iso(new Date());
  const running = contract.former_terms.find((term) => term.starts_on <= day && day <= term.ends_on) ?? contract;
  const left = daysTo(running.ends_on);
  const facts: [string, ReactNode][] = [
    ["Vendor", whole.vendor_name],
    ["Term", `${sayDay(running.starts_on)} to ${sayDay(running.ends_on)}`],
    ...(running === contract
      ? []
      : [["Next term", `${sayDay(contract.starts_on)} to ${sayDay(contract.ends_on)}`] as [string, ReactNode]]),
    ["Notice by", contract.notice_on ? sayDay(contract.notice_on) : "not noted"],
    ["Grace", contract.grace_days ? count(contract.grace_days, "day") : "none"],
    ["Cost", sayMoney(contract.cost_minor, contract.currency) || "not noted"],
    ["Passcode", contract.has_passcode ? <Passcode key="passcode" handle={contract.id} roles={roles} /> : "none"],
    [
      "Logins tied",
      whole.logins.length ? whole.logins.map((login) => <LoginLine key={login.id} login={login} />) : "none",
    ],
  ];
  return (
    <>
      <div className="min-w-0">
        <div className="flex flex-wrap items-center justify-between gap-3">
          <h1 className="text-[24px] leading-8">{contract.title || `Contract ${contract.number}`}</h1>
          {keeper && <Renew contract={contract} />}
        </div>
        <p className="text-soft">
          <Mono>{contract.number}</Mono> · {whole.vendor_name} ·{" "}
          {left >= 0 ? `ends in ${count(left, "day")}` : `ended ${count(-left, "day")} ago`}
          {running !== contract && ", renewed already"}
        </p>
        <section className="mt-5">
          <h2 className="mb-2 text-[18px] leading-6">Over time</h2>
          <DayLanes since={since} until={until} lanes={lanes(whole)} label="Terms and entitlements over time" />
        </section>
        <section className="mt-6">
          <h2 className="text-[18px] leading-6">Entitlements</h2>
          {whole.entitlements.map((item) => (
            <EntitlementLine key={item.id} item={item} keeper={keeper} />
          ))}
          {whole.entitlements.length === 0 && <Nothing>It grants nothing that is noted here.</Nothing>}
        </section>
        <section className="mt-6">
          <h2 className="text-[18px] leading-6">What it covers</h2>
          <Rows label="What it covers">
            {whole.assets.map((asset) => (
              <AssetRow key={asset.id} asset={asset} />
            ))}
          </Rows>
          {whole.asset_count > whole.assets.length && (
            <Nothing>and {count(whole.asset_count - whole.assets.length, "more asset")}</Nothing>
          )}
          {whole.asset_count === 0 && <Nothing>No asset in the register.</Nothing>}
        </section>
        <section className="mt-6">
          <h2 className="text-[18px] leading-6">Packets that went by it</h2>
          <Rows label="Packets that went by it">
            {whole.packets.map((packet) => (
              <PacketRow key={packet.number} packet={packet} />
            ))}
          </Rows>
          {whole.packets.length === 0 && <Nothing>None yet.</Nothing>}
        </section>
      </div>
      <aside className="flex flex-col gap-4">
        <Sheet className="p-4">
          <Facts facts={facts} narrow />
        </Sheet>
        <Sheet title="Order documents" className="pb-3">
          <ul aria-label="Order documents" className="px-4">
            {whole.order_documents.map((order) => (
              <OrderDocumentLine key={order.id} order={order} keeper={keeper} />
            ))}
          </ul>
          {whole.order_documents.length === 0 && <p className="px-4 text-soft">None was entered for it.</p>}
        </Sheet>
        <HistoryList history={history} />
      </aside>
    </>
  );
}

function Passcode({ handle, roles }: { handle: string; roles: string[] }) {
  const reveal = useContractPasscode(handle);
  if (reveal.data) return <Mono>{reveal.data}</Mono>;
  if (!roles.includes("keeper") && !roles.includes("preparer")) return "kept, encrypted";
  return (
    <>
      kept, encrypted ·{" "}
      <button
        type="button"
        className="link"
        onClick={() => reveal.mutate()}
        title="The custody log keeps that you asked"
      >
        show
      </button>
      <ProblemNote problem={reveal.error} />
    </>
  );
}

function OrderDocumentLine({ order, keeper }: { order: Schemas["OrderDocumentBrief"]; keeper: boolean }) {
  return (
    <li className="border-b border-line py-1.5">
      {keeper ? (
        <Link className="link" href={`/order-documents/${order.id}`}>
          {order.name}
        </Link>
      ) : (
        order.name
      )}
      <span className="block text-soft">
        entered {sayMoment(order.entered_at)} by {order.entered_by}
      </span>
    </li>
  );
}

function LoginLine({ login }: { login: Schemas["LoginShown"] }) {
  return (
    <span className="block">
      <span className="break-all">{login.name}</span>
      {login.mailbox_read === false && <span className="text-ochre"> · mailbox not read</span>}
    </span>
  );
}

function EntitlementLine({ item, keeper }: { item: Schemas["EntitlementShown"]; keeper: boolean }) {
  const listed = [...(item.serials ?? []), ...(item.listings ?? []).map((one) => one.serial)];
  const about = listed.length ? listed.join(", ") : (item.products ?? []).join(", ") || "everything of this vendor's";
  const over = item.replaced_on ? item.replaced_on <= iso(new Date()) : item.ends_on < iso(new Date());
  return (
    <div className="border-b border-line py-2">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <Mono>{item.reference}</Mono>
        <span className="font-semibold">{item.level}</span>
        <span className="text-soft">{item.hours}</span>
        {over && <Badge tone="plain">{item.replaced_on ? "replaced" : "ended"}</Badge>}
        <span className="ml-auto text-soft">
          {sayDay(item.starts_on)} to {sayDay(item.ends_on)}
        </span>
        {keeper && !over && <Amend item={item} />}
      </div>
      <p className="text-soft">
        Takes {item.needs.join(", ")}. Covers <Mono className="break-words">{about}</Mono>
        {item.sites?.length ? ` at ${item.sites.join(", ")}` : ""}.
      </p>
    </div>
  );
}
