/** The thing that the packet is about, the kind of need, and the login that sends it. */

import { useEffect, useState } from "react";
import type { Need } from "../../api/coverage";
import { type Packet, useChangePacket, usePacketsOf, useUnlisted, useWithdraw } from "../../api/packets";
import { useSimilar, useSolved } from "../../api/similar";
import { Badge } from "../../components/badge";
import { Button } from "../../components/button";
import { Choice } from "../../components/choice";
import { Dialog } from "../../components/dialog";
import type { FieldSpec } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { Column, Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { ReasonField } from "../../components/reason-field";
import { Rows } from "../../components/rows";
import { Sheet } from "../../components/sheet";
import { Heading, Hidden, Soft } from "../../components/text";
import { NEED_WORDS, NEEDS } from "../../format/needs";
import { Around, TriedSheet } from "./asset-context";
import { AssetPicker } from "./asset-picker";
import { PacketRow } from "./packet-row";
import { SeenBefore } from "./seen-before";

export function AssetPart({ packet, mayNote }: { packet: Packet; mayNote: boolean }) {
  const change = useChangePacket(packet);
  const drafting = packet.life === "drafting";
  const [another, setAnother] = useState(false);

  return (
    <Column gap={4}>
      <Sheet title="Asset" className="pb-4">
        <div className="px-4 pt-2">
          {packet.asset && !another && (
            <Row gap={4} align="start" place="apart">
              <dl className="grid grid-cols-[90px_1fr] gap-y-1">
                <dt className="text-soft">Serial</dt>
                <dd>
                  <Mono>{packet.asset.serial}</Mono>
                </dd>
                <dt className="text-soft">Model</dt>
                <dd>{packet.asset.product}</dd>
                <dt className="text-soft">Vendor</dt>
                <dd>{packet.asset.vendor_name}</dd>
                <dt className="text-soft">Site</dt>
                <dd>{packet.asset.site ?? "none"}</dd>
                {packet.our_reference && (
                  <>
                    <dt className="text-soft">Our reference</dt>
                    <dd>
                      <Mono>{packet.our_reference}</Mono>
                    </dd>
                  </>
                )}
                {packet.ticket && (
                  <>
                    <dt className="text-soft">Our ticket</dt>
                    <dd>
                      <Mono>{packet.ticket}</Mono>
                      {packet.ticket_trouble && <span className="ml-2 text-ochre">{packet.ticket_trouble}</span>}
                    </dd>
                  </>
                )}
              </dl>
              {drafting && <Button onClick={() => setAnother(true)}>Another</Button>}
            </Row>
          )}
          {drafting && (!packet.asset || another) && (
            <AssetPicker
              asset={null}
              onPick={(asset) => {
                if (asset) change.mutate({ asset: asset.id }, { onSuccess: () => setAnother(false) });
              }}
            />
          )}
          {drafting && (!packet.asset || another) && <Unlisted packet={packet} onDone={() => setAnother(false)} />}
          <ProblemNote problem={change.error} />
        </div>
      </Sheet>
      <NoteSheet packet={packet} change={change} />
      {packet.asset && (
        <TriedSheet packet={packet} mayNote={mayNote && !["settled", "withdrawn"].includes(packet.life)} />
      )}
      {packet.asset && <Around asset={packet.asset.id} />}
      {packet.asset && <Logins packet={packet} change={change} />}
      <Desks packet={packet} change={change} />
      {packet.asset && <Others packet={packet} />}
      {drafting && <Known packet={packet} />}
      {["drafting", "sealed", "refused"].includes(packet.life) && <Withdraw packet={packet} />}
    </Column>
  );
}

/** What may have been solved before: one key ends the draft with a link to it. */
function Known({ packet }: { packet: Packet }) {
  const known = useSimilar("", "", undefined, packet.number);
  const solved = useSolved(packet.number);
  const found = known.data && { ...known.data, open: [] };
  if (!found || found.solved.length + found.articles.length === 0) return null;
  return (
    <Sheet title="Known already" className="pb-3">
      <div className="px-4 pt-1">
        <SeenBefore found={found} solve={(by) => solved.mutate(by)} />
        <ProblemNote problem={solved.error} />
      </div>
    </Sheet>
  );
}

const UNLISTED: FieldSpec[] = [
  { name: "vendor", title: "Whose it is", kind: "text", needed: true, hint: "a vendor’s name; a new one is added" },
  { name: "model", title: "Model", kind: "text", hint: "if known" },
  { name: "serial", title: "Serial", kind: "mono", hint: "if known" },
  { name: "name", title: "What you call it", kind: "text" },
  { name: "site", title: "Site", kind: "site" },
];

/** Something that is not in the register: what is known of it is added in one step. */
function Unlisted({ packet, onDone }: { packet: Packet; onDone: () => void }) {
  const add = useUnlisted(packet.number);
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button look="bare" onClick={() => setOpen(true)}>
        It is not in the register
      </Button>
      {open && (
        <FormDialog
          title="Not in the register"
          fields={UNLISTED}
          values={{}}
          act="Add it and go on"
          busy={add.isPending}
          problem={add.error}
          onSubmit={(values) =>
            add.mutate(
              {
                vendor: String(values.vendor ?? ""),
                model: String(values.model ?? ""),
                serial: String(values.serial ?? ""),
                name: String(values.name ?? ""),
                site: String(values.site ?? ""),
              },
              {
                onSuccess: () => {
                  setOpen(false);
                  onDone();
                },
              },
            )
          }
          onClose={() => setOpen(false)}
        >
          <p className="mb-3 text-soft">What is known is enough; a keeper completes it later.</p>
        </FormDialog>
      )}
    </>
  );
}

interface ChangeProps {
  packet: Packet;
  change: ReturnType<typeof useChangePacket>;
}

function NoteSheet({ packet, change }: ChangeProps) {
  const drafting = packet.life === "drafting";
  const [note, setNote] = useState(packet.note);
  useEffect(() => setNote(packet.note), [packet.note]);
  const [title, setTitle] = useState(packet.title);
  useEffect(() => setTitle(packet.title), [packet.title]);
  return (
    <Sheet title="Title, need and note" className="pb-4">
      <div className="flex flex-col gap-3 px-4 pt-2">
        <label className="flex flex-col gap-1">
          <Soft as="span">In one line</Soft>
          <input
            className="field"
            readOnly={!drafting}
            maxLength={200}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
            onBlur={() => title !== packet.title && change.mutate({ title }, { onError: () => setTitle(packet.title) })}
          />
        </label>
        <label className="flex items-center gap-3">
          <Soft as="span">Kind of need</Soft>
          <select
            className="field w-auto"
            disabled={!drafting}
            value={packet.need}
            onChange={(event) => change.mutate({ need: event.target.value as Need })}
          >
            {NEEDS.map((need) => (
              <option key={need} value={need}>
                {NEED_WORDS[need]}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col gap-1">
          <Soft as="span">What happened, in plain words</Soft>
          <textarea
            className="field min-h-24"
            readOnly={!drafting}
            value={note}
            onChange={(event) => setNote(event.target.value)}
            onBlur={() => note !== packet.note && change.mutate({ note })}
          />
        </label>
      </div>
    </Sheet>
  );
}

function Logins({ packet, change }: ChangeProps) {
  return (
    <Sheet title={`Login at ${packet.vendor}`} className="pb-3">
      <fieldset disabled={packet.life !== "drafting"} className="px-4 pt-2">
        <Hidden as="legend">Which login sends it</Hidden>
        {packet.logins.length === 0 && <Soft>You have no login at this vendor. Add one to the register.</Soft>}
        {packet.logins.map((login) => (
          <Choice
            key={login.name}
            name="login"
            label={login.name}
            isChosen={login.chosen}
            choose={() => change.mutate({ login: login.name })}
          >
            <Badge tone={login.tied ? "moss" : "ochre"}>
              {login.tied ? "tied" : `not tied to ${packet.ruling?.contract ?? "the contract"}`}
            </Badge>
          </Choice>
        ))}
      </fieldset>
    </Sheet>
  );
}

/** The desks to which it can go: the vendor's, and by hand. */
function Desks({ packet, change }: ChangeProps) {
  if (packet.desks.length < 2) return null;
  return (
    <Sheet title={`Desk of ${packet.vendor}`} className="pb-3">
      <fieldset className="px-4 pt-2">
        <Hidden as="legend">To which desk it goes</Hidden>
        {packet.desks.map((desk) => (
          <Choice
            key={desk.key}
            name="desk"
            label={desk.name}
            isChosen={desk.key === packet.desk}
            choose={() => change.mutate({ desk: desk.key })}
          >
            {!desk.takes && <Badge tone="ochre">does not take {NEED_WORDS[packet.need as Need]}</Badge>}
          </Choice>
        ))}
      </fieldset>
    </Sheet>
  );
}

function Others({ packet }: { packet: Packet }) {
  const others = usePacketsOf(packet.asset?.id ?? "");
  const rest = (others.data ?? []).filter((other) => other.number !== packet.number);
  if (rest.length === 0) return null;
  return (
    <section>
      <Heading level={2} size="small">
        Also on this asset
      </Heading>
      <Rows label="Also on this asset">
        {rest.map((other) => (
          <PacketRow key={other.number} packet={other} />
        ))}
      </Rows>
    </section>
  );
}

/** Giving the packet up, as long as the desk does not have it. */
function Withdraw({ packet }: { packet: Packet }) {
  const withdraw = useWithdraw(packet.number);
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  return (
    <div>
      <Button look="bare" onClick={() => setOpen(true)}>
        Withdraw the packet
      </Button>
      <Dialog open={open} onChange={setOpen} title={`Withdraw ${packet.number}?`} className="p-5">
        <form
          className="flex flex-col gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            withdraw.mutate(reason, { onSuccess: () => setOpen(false) });
          }}
        >
          <Soft>The packet is given up for good; it stays readable.</Soft>
          <ReasonField reason={reason} setReason={setReason} longest={1000} />
          <ProblemNote problem={withdraw.error} />
          <Row gap={3} place="end">
            <Button onClick={() => setOpen(false)}>Cancel</Button>
            <Button look="ink" type="submit" disabled={withdraw.isPending}>
              Withdraw it
            </Button>
          </Row>
        </form>
      </Dialog>
    </div>
  );
}
