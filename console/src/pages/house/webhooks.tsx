/** Webhooks: addresses of ours to which events are posted; for administrators. */

import { useState } from "react";
import {
  type RefusedEvent,
  useAddWebhook,
  useRefusedEvents,
  useRemoveWebhook,
  useResendEvent,
  useWebhooks,
  type Webhook,
} from "../../api/webhooks";
import { Button, TextButton } from "../../components/button";
import { Dialog } from "../../components/dialog";
import type { FieldSpec } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";

const FIELDS: FieldSpec[] = [
  { name: "name", title: "Name", kind: "mono", needed: true, hint: "status-board" },
  { name: "address", title: "Address", kind: "mono", needed: true, hint: "https://hooks.quillmere.example/sealpacket" },
];

export function WebhooksPage() {
  const webhooks = useWebhooks();
  const [adding, setAdding] = useState(false);
  const [opened, setOpened] = useState<Webhook | null>(null);
  useKeys("webhooks", { add: () => setAdding(true) });
  return (
    <PageMain width="wide">
      <div className="mb-1 flex items-baseline gap-3">
        <PageTitle>Webhooks</PageTitle>
        <Button className="ml-auto" letter="+" onClick={() => setAdding(true)}>
          Add a webhook
        </Button>
      </div>
      <Soft>Each event is posted to these addresses, signed, in order, and again until it is taken.</Soft>
      <ProblemNote problem={webhooks.error} />
      {webhooks.isPending && !webhooks.error && <Waiting label="Loading webhooks" />}
      {webhooks.data?.length === 0 && <Nothing>No webhooks.</Nothing>}
      {webhooks.data && webhooks.data.length > 0 && (
        <PlainTable heads={["Name", "Address", "Waiting", "Refused", "State", ""]} className="mt-3">
          {webhooks.data.map((one) => (
            <Row key={one.name} webhook={one} open={() => setOpened(one)} />
          ))}
        </PlainTable>
      )}
      {adding && <Adding onClose={() => setAdding(false)} />}
      {opened && <Opened webhook={opened} onClose={() => setOpened(null)} />}
    </PageMain>
  );
}

function Row({ webhook, open }: { webhook: Webhook; open: () => void }) {
  const again = webhook.next_try_at ? ` It is tried again at ${sayMoment(webhook.next_try_at)}.` : "";
  return (
    <tr className="border-t border-line align-baseline">
      <th scope="row" className="px-4 py-2 font-normal">
        {webhook.name}
      </th>
      <td className="px-4">
        <Mono>{webhook.address}</Mono>
      </td>
      <td className="px-4">{webhook.waiting}</td>
      <td className="px-4">{webhook.refused}</td>
      <td className="px-4 text-soft">{webhook.trouble ? `${webhook.trouble}${again}` : "well"}</td>
      <td className="px-4 text-right whitespace-nowrap">
        <TextButton data-row onClick={open}>
          Open<Hidden> {webhook.name}</Hidden>
        </TextButton>
      </td>
    </tr>
  );
}

/** A new webhook; then its secret, once. */
function Adding({ onClose }: { onClose: () => void }) {
  const add = useAddWebhook();
  if (add.data)
    return (
      <Dialog open onChange={(open) => !open && onClose()} title={`${add.data.name} added`} className="p-5">
        <p className="mb-2">Its secret checks the signatures. It is shown this once:</p>
        <Mono>{add.data.secret}</Mono>
        <div className="mt-4 text-right">
          <Button onClick={onClose}>Close</Button>
        </div>
      </Dialog>
    );
  return (
    <FormDialog
      title="Add a webhook"
      fields={FIELDS}
      values={{}}
      act="Add it"
      busy={add.isPending}
      problem={add.error}
      onClose={onClose}
      onSubmit={(given) => add.mutate({ name: String(given.name ?? ""), address: String(given.address ?? "") })}
    />
  );
}

/** What a webhook has refused, each to be sent again; and its end. */
function Opened({ webhook, onClose }: { webhook: Webhook; onClose: () => void }) {
  const refused = useRefusedEvents(webhook.name);
  const resend = useResendEvent(webhook.name);
  const remove = useRemoveWebhook();
  return (
    <Dialog open onChange={(open) => !open && onClose()} title={webhook.name} className="p-5">
      <ProblemNote problem={refused.error ?? resend.error ?? remove.error} />
      {refused.data?.length === 0 && <Soft>It has refused nothing.</Soft>}
      <ul>
        {refused.data?.map((one) => (
          <Refused key={one.event.seq} refused={one} resend={() => resend.mutate(one.event.seq)} />
        ))}
      </ul>
      <div className="mt-4 flex justify-end gap-3">
        <Button disabled={remove.isPending} onClick={() => remove.mutate(webhook.name, { onSuccess: onClose })}>
          Remove it
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
    </Dialog>
  );
}

function Refused({ refused, resend }: { refused: RefusedEvent; resend: () => void }) {
  const { event } = refused;
  return (
    <li className="flex items-baseline gap-3 border-t border-line py-2">
      <span className="mr-auto">
        {event.action}, {event.subject} <Soft>{refused.reason}</Soft>
      </span>
      {refused.again ? (
        <Soft>is sent again</Soft>
      ) : (
        <TextButton onClick={resend}>
          Send again<Hidden> event {event.seq}</Hidden>
        </TextButton>
      )}
    </li>
  );
}
