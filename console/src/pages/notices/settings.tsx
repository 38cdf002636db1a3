/** Of what one is notified, about which packets, and how. */
import { useState } from "react";
import {
  type NoticeKind,
  type NoticeSettings,
  useChooseNotices,
  useEndFeed,
  useEndNoticeWebhook,
  useNewFeed,
  useNoticeSettings,
  useSetNoticeWebhook,
} from "../../api/notices";
import { useSites, useVendors } from "../../api/records";
import { Button } from "../../components/button";
import { Mono } from "../../components/mono";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { NoticeTabs } from "./tabs";

type Choice = NoticeSettings["choices"][number];

const KINDS: Record<NoticeKind, string> = {
  asked: "A vendor asks something",
  refused: "A desk refuses a packet",
  overdue: "A vendor's promise is overdue",
  due_soon: "A vendor's promise is due within the hour",
  may_escalate: "A vendor is late, and its rules let you escalate",
  answered: "A vendor proposes an answer",
  by_hand: "Something has to be passed on by hand",
  access_overdue: "The time of a vendor's access is over",
  parcel_due: "A parcel is due within two days",
  handed_over: "A packet is handed over to you",
  replied: "A vendor writes",
  lodged: "A packet is lodged",
  settled: "A packet is settled",
  unplaced: "A mail or paper matches no packet",
  product_news: "News of products that you have",
  vendor_trouble: "A vendor reports trouble with what you have",
};
const SCOPES = { mine: "yours and nobody's", all: "all", none: "none" } as const;
const WAYS = { console: "Here", mail: "Mail", digest: "Digest", feed: "Feed", webhook: "Webhook" } as const;

export function NoticeSettingsPage() {
  const settings = useNoticeSettings();
  const choose = useChooseNotices();
  return (
    <PageMain width="wide" aside>
      <div>
        <NoticeTabs />
        <PageTitle>How you are notified</PageTitle>
        <Soft>“Here” is this console, at once. A digest is a mail a day with all that is still true.</Soft>
        <ProblemNote problem={settings.error ?? choose.error} />
        {settings.isPending && !settings.error && <Waiting label="Loading your settings" />}
        {settings.data && (
          <PlainTable heads={["When", "Of which packets", ...Object.values(WAYS)]} className="mt-3">
            {settings.data.choices.map((one) => (
              <ChoiceRow key={one.kind} choice={one} onChange={(choice) => choose.mutate({ choices: [choice] })} />
            ))}
          </PlainTable>
        )}
      </div>
      {settings.data && (
        <aside className="grid content-start gap-4">
          <Limits settings={settings.data} />
          <Mails settings={settings.data} />
          <Feed settings={settings.data} />
          <Webhook settings={settings.data} />
        </aside>
      )}
    </PageMain>
  );
}

function ChoiceRow({ choice, onChange }: { choice: Choice; onChange: (choice: Choice) => void }) {
  const words = KINDS[choice.kind];
  const off = choice.scope === "none";
  return (
    <tr className="border-t border-line">
      <th scope="row" className="px-4 py-1.5 font-normal">
        {words}
      </th>
      <td className="px-4">
        <select
          aria-label={`${words}: of which packets`}
          className="bg-transparent"
          value={choice.scope}
          onChange={(event) => onChange({ ...choice, scope: event.target.value as Choice["scope"] })}
        >
          {Object.entries(SCOPES).map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </select>
      </td>
      {(Object.keys(WAYS) as (keyof typeof WAYS)[]).map((way) => (
        <td key={way} className="px-4">
          <input
            type="checkbox"
            aria-label={`${words}: ${WAYS[way]}`}
            disabled={off}
            checked={!off && choice.ways.includes(way)}
            onChange={(event) =>
              onChange({
                ...choice,
                ways: event.target.checked ? [...choice.ways, way] : choice.ways.filter((one) => one !== way),
              })
            }
          />
        </td>
      ))}
    </tr>
  );
}

/** Sites and vendors that count; all, until somebody chooses. */
function Limits({ settings }: { settings: NoticeSettings }) {
  const choose = useChooseNotices();
  const vendors = useVendors();
  const sites = useSites();
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">Only of</h2>
      <ProblemNote problem={choose.error} />
      <Several
        name="Vendors"
        all={vendors.data ?? []}
        chosen={settings.vendors}
        onChange={(keys) => choose.mutate({ vendors: keys })}
      />
      <Several
        name="Sites"
        all={sites.data ?? []}
        chosen={settings.sites}
        onChange={(keys) => choose.mutate({ sites: keys })}
      />
    </Sheet>
  );
}

interface SeveralProps {
  name: string;
  all: { key: string; name: string }[];
  chosen: string[];
  onChange: (keys: string[]) => void;
}

function Several({ name, all, chosen, onChange }: SeveralProps) {
  const said = all.filter((one) => chosen.includes(one.key)).map((one) => one.name);
  return (
    <details className="mt-1">
      <summary className="cursor-pointer">
        {name}: <span className="text-soft">{said.length ? said.join(", ") : "all"}</span>
      </summary>
      <fieldset className="mt-1 max-h-48 overflow-auto">
        <legend className="sr-only">{name}</legend>
        {all.map((one) => (
          <label key={one.key} className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={chosen.includes(one.key)}
              onChange={(event) =>
                onChange(event.target.checked ? [...chosen, one.key] : chosen.filter((key) => key !== one.key))
              }
            />
            {one.name}
          </label>
        ))}
      </fieldset>
    </details>
  );
}

const BY = { day: "one mail a day", site: "one for each site", vendor: "one for each vendor" } as const;

function Mails({ settings }: { settings: NoticeSettings }) {
  const choose = useChooseNotices();
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">Mail</h2>
      <ProblemNote problem={choose.error} />
      <p className="text-soft">
        {settings.mail ? `To ${settings.mail}.` : "Your account belongs to no person, so it has no mail address."} Mails
        hold numbers and links, nothing that somebody wrote.
      </p>
      {!settings.mail_configured && <p className="mt-1 text-ochre">No mail server is configured yet.</p>}
      {settings.mail_trouble && <p className="mt-1 text-wax">Not sent: {settings.mail_trouble}</p>}
      <label className="mt-2 flex items-center gap-2">
        <Soft as="span">Digest</Soft>
        <select
          className="field w-auto"
          value={settings.digest_by}
          onChange={(event) => choose.mutate({ digest_by: event.target.value as NoticeSettings["digest_by"] })}
        >
          {Object.entries(BY).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <label className="mt-2 flex items-center gap-2">
        <Soft as="span">at</Soft>
        <select
          className="field w-auto"
          value={settings.digest_hour}
          onChange={(event) => choose.mutate({ digest_hour: Number(event.target.value) })}
        >
          {Array.from({ length: 24 }, (_, hour) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the hours of a day are its index
            <option key={hour} value={hour}>
              {String(hour).padStart(2, "0")}:00
            </option>
          ))}
        </select>
      </label>
    </Sheet>
  );
}

function Feed({ settings }: { settings: NoticeSettings }) {
  const make = useNewFeed();
  const end = useEndFeed();
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">Feed</h2>
      <ProblemNote problem={make.error ?? end.error} />
      <p className="text-soft">
        {settings.feed
          ? "Your feed has a private address. A new one ends it."
          : "A private address shows notices in your feed reader."}
      </p>
      <div className="mt-2 flex gap-2">
        <Button disabled={make.isPending} onClick={() => make.mutate()}>
          {settings.feed ? "New address" : "Make an address"}
        </Button>
        {settings.feed && <Button onClick={() => end.mutate()}>End it</Button>}
      </div>
      {make.data && settings.feed && <Once>{make.data.address}</Once>}
    </Sheet>
  );
}

function Webhook({ settings }: { settings: NoticeSettings }) {
  const set = useSetNoticeWebhook();
  const end = useEndNoticeWebhook();
  const [address, setAddress] = useState("");
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">Webhook</h2>
      <ProblemNote problem={set.error ?? end.error} />
      {settings.webhook ? (
        <>
          <Mono className="break-all">{settings.webhook}</Mono>
          {settings.webhook_trouble && <p className="mt-1 text-wax">{settings.webhook_trouble}</p>}
          <div className="mt-2">
            <Button onClick={() => end.mutate()}>End it</Button>
          </div>
          {set.data && <Once>{set.data.secret}</Once>}
        </>
      ) : (
        <form
          className="grid gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            set.mutate(address.trim());
          }}
        >
          <label>
            <Hidden>Address</Hidden>
            <input
              className="field font-mono"
              placeholder="https://hooks.quillmere.example/you"
              value={address}
              onChange={(event) => setAddress(event.target.value)}
            />
          </label>
          <div>
            <Button type="submit" disabled={!address.trim() || set.isPending}>
              Post notices there
            </Button>
          </div>
        </form>
      )}
    </Sheet>
  );
}

/** A secret that is shown this once. */
function Once({ children }: { children: string }) {
  return (
    <p className="mt-2">
      <Mono className="break-all select-all">{children}</Mono>
      <Soft as="span" block>
        Shown this once. Keep it to yourself.
      </Soft>
    </p>
  );
}
