import type { ReactNode } from "react";
import { useWholeContract } from "../../api/contracts";
import { useHistory } from "../../api/records";
import { DayLanes } from "../../components/day-lanes";
import { Facts } from "../../components/facts";
import { HistoryList } from "../../components/history-list";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemPage } from "../../components/problem-page";
import { Rows } from "../../components/rows";
import { Sheet } from "../../components/sheet";
import { Heading, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { daysTo, sayDay } from "../../format/dates";
import { count, sayMoney } from "../../format/numbers";
import { PacketRow } from "../packets/packet-row";
import { AssetRow } from "./asset-row";
import { Renew } from "./contract-acts";
import { iso, lanes, range, type Whole } from "./contract-lanes";
import { EntitlementLine, LoginLine, OrderDocumentLine } from "./contract-lines";
import { Levels } from "./levels";
import { Passcode } from "./passcode";
import { RenewalSection } from "./renewal";

export function ContractPage({ handle, roles }: { handle: string; roles: string[] }) {
  const whole = useWholeContract(handle);
  if (whole.error) return <ProblemPage title="Contract" problem={whole.error} />;
  return (
    <PageMain width="wide" aside>
      {whole.data ? <Known whole={whole.data} roles={roles} /> : <Waiting label="Loading the contract" />}
    </PageMain>
  );
}

/** The term that runs today, or the latest. */
function runningTerm({ contract }: Whole) {
  const day = iso(new Date());
  return contract.former_terms.find((term) => term.starts_on <= day && day <= term.ends_on) ?? contract;
}

function factsOf(whole: Whole, roles: string[]): [string, ReactNode][] {
  const { contract } = whole;
  const running = runningTerm(whole);
  return [
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
}

function Known({ whole, roles }: { whole: Whole; roles: string[] }) {
  const { contract } = whole;
  const keeper = roles.includes("keeper");
  const history = useHistory("contracts", contract.id);
  const [since, until] = range(whole);
  const running = runningTerm(whole);
  const left = daysTo(running.ends_on);
  return (
    <>
      <div className="min-w-0">
        <Row gap={3} wrap align="center" place="apart">
          <PageTitle>{contract.title || `Contract ${contract.number}`}</PageTitle>
          {keeper && <Renew contract={contract} />}
        </Row>
        <Soft>
          <Mono>{contract.number}</Mono> · {whole.vendor_name} ·{" "}
          {left >= 0 ? `ends in ${count(left, "day")}` : `ended ${count(-left, "day")} ago`}
          {running !== contract && ", renewed already"}
        </Soft>
        <section className="mt-5">
          <h2 className="mb-2 text-[18px] leading-6">Over time</h2>
          <DayLanes since={since} until={until} lanes={lanes(whole)} label="Terms and entitlements over time" />
        </section>
        <section className="mt-6">
          <Heading level={2}>Entitlements</Heading>
          {whole.entitlements.map((item) => (
            <EntitlementLine key={item.id} item={item} keeper={keeper} />
          ))}
          {whole.entitlements.length === 0 && <Nothing>No entitlements.</Nothing>}
        </section>
        <RenewalSection handle={contract.id} roles={roles} />
        <Levels handle={contract.id} number={contract.number} />
        <section className="mt-6">
          <Heading level={2}>Assets</Heading>
          <Rows label="Assets">
            {whole.assets.map((asset) => (
              <AssetRow key={asset.id} asset={asset} />
            ))}
          </Rows>
          {whole.asset_count > whole.assets.length && (
            <Nothing>and {count(whole.asset_count - whole.assets.length, "more asset")}</Nothing>
          )}
          {whole.asset_count === 0 && <Nothing>No assets in the register.</Nothing>}
        </section>
        <section className="mt-6">
          <Heading level={2}>Packets</Heading>
          <Rows label="Packets">
            {whole.packets.map((packet) => (
              <PacketRow key={packet.number} packet={packet} />
            ))}
          </Rows>
          {whole.packets.length === 0 && <Nothing>None yet.</Nothing>}
        </section>
      </div>
      <aside className="flex flex-col gap-4">
        <Sheet className="p-4">
          <Facts facts={factsOf(whole, roles)} narrow />
        </Sheet>
        <Sheet title="Order documents" className="pb-3">
          <ul aria-label="Order documents" className="px-4">
            {whole.order_documents.map((order) => (
              <OrderDocumentLine key={order.id} order={order} keeper={keeper} />
            ))}
          </ul>
          {whole.order_documents.length === 0 && <p className="px-4 text-soft">None.</p>}
        </Sheet>
        <HistoryList history={history} />
      </aside>
    </>
  );
}
