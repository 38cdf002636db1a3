/** A desk that is reached by hand: every field in the desk's own order, ready to copy, and the reference at the end. */

import { type FormEvent, type KeyboardEvent, useState } from "react";
import { type HandBy, type HandGuide, useAction, useHandGuide, useTick } from "../../api/following";
import type { Packet } from "../../api/packets";
import { Button, TextButton } from "../../components/button";
import { join } from "../../components/join";
import { Column } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { saySize } from "../../format/numbers";
import { moveInRows } from "../../keyboard/rows";
import { Passcode } from "../register/passcode";

const TITLES = {
  form: "Enter it on the desk’s page",
  telephone: "Call the desk",
  mail: "Write it in a mail of your own",
  paper: "Write it on the form",
};

export function HandPart({ packet, mayEnter }: { packet: Packet; mayEnter: boolean }) {
  const [by, setBy] = useState<HandBy>("");
  const guide = useHandGuide(packet, by);
  if (guide.error && !guide.data) return <ProblemNote problem={guide.error} />;
  if (!guide.data) return <Waiting label="Loading what to enter" lines={8} />;
  return (
    <Column gap={4}>
      <Sheet title={TITLES[guide.data.by]}>
        {guide.data.where && <p className="px-4 pt-1 text-soft">{guide.data.where}</p>}
        {guide.data.passcode_of && (
          <p className="px-4 pt-1">
            <Soft as="span">Passcode of the contract: </Soft>
            <Passcode handle={guide.data.passcode_of} roles={mayEnter ? ["preparer"] : []} />
          </p>
        )}
        {guide.data.ways.length > 1 && <Ways guide={guide.data} choose={setBy} />}
        {guide.data.cases.map((one) => (
          <Fields key={one.label} packet={packet} guide={guide.data} one={one} by={by} mayEnter={mayEnter} />
        ))}
        <Files packet={packet} guide={guide.data} />
        {guide.data.closing && <p className="border-t border-line px-4 py-3">{guide.data.closing}</p>}
      </Sheet>
      {mayEnter &&
        guide.data.cases
          .filter((one) => !one.reference)
          .map((one) => <Reference key={one.label} packet={packet} guide={guide.data} label={one.label} />)}
    </Column>
  );
}

/** The other ways to the same desk, each chosen by a press. */
const Ways = ({ guide, choose }: { guide: HandGuide; choose: (by: HandBy) => void }) => (
  <p className="flex flex-wrap gap-x-4 px-4 pt-1">
    {guide.ways
      .filter((way) => way.by !== guide.by)
      .map((way) => (
        <TextButton key={way.by} title={way.where} onClick={() => choose(way.by)}>
          Or {TITLES[way.by].charAt(0).toLowerCase() + TITLES[way.by].slice(1)}
        </TextButton>
      ))}
  </p>
);

type Case = HandGuide["cases"][number];

interface FieldsProps {
  packet: Packet;
  guide: HandGuide;
  one: Case;
  by: HandBy;
  mayEnter: boolean;
}

function Fields({ packet, guide, one, by, mayEnter }: FieldsProps) {
  const tick = useTick(packet.number, by);
  const set = (field: string, done: boolean) => mayEnter && tick.mutate({ field, done, case: one.label });
  const done = one.fields.filter((field) => field.entered).length;
  return (
    <section aria-label={one.label || "Fields"}>
      <div className="flex items-baseline gap-3 px-4 pt-2 pb-1 text-soft">
        {one.label && <h3 className="text-[14px] text-ink">{one.label}</h3>}
        {one.reference && <Mono>{one.reference}</Mono>}
        <span aria-live="polite">
          {done} of {one.fields.length} entered
        </span>
      </div>
      {one.opening && <p className="mx-4 mb-2 border-l-3 border-ink pl-3 font-serif text-[16px]">“{one.opening}”</p>}
      <ProblemNote problem={tick.error} />
      <ul onKeyDown={moveInRows}>
        {one.fields.map((field) => (
          <Field key={field.label} field={field} spoken={guide.by === "telephone"} set={set} />
        ))}
      </ul>
    </section>
  );
}

interface FieldProps {
  field: Case["fields"][number];
  spoken: boolean;
  set: (field: string, done: boolean) => void;
}

/** One field: C copies it, ticks it and goes on to the next; Space ticks it. */
function Field({ field, spoken, set }: FieldProps) {
  const [copied, setCopied] = useState(false);
  async function copy() {
    await navigator.clipboard.writeText(field.value).catch(() => undefined);
    setCopied(true);
    set(field.label, true);
  }
  const press = (event: KeyboardEvent<HTMLLIElement>) => {
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "c" && !spoken) {
      copy();
      (event.currentTarget.nextElementSibling as HTMLElement | null)?.focus();
    } else if (event.key === " ") set(field.label, !field.entered);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <li
      data-row
      tabIndex={0}
      onKeyDown={press}
      className="grid grid-cols-[24px_150px_minmax(0,1fr)_auto] items-baseline gap-x-3 border-t border-line px-4 py-1 focus-visible:bg-paper max-md:grid-cols-[24px_minmax(0,1fr)_auto]"
    >
      <input
        type="checkbox"
        aria-label={`${field.label} is entered`}
        checked={field.entered}
        onChange={(event) => set(field.label, event.target.checked)}
        tabIndex={-1}
      />
      <span className={join("text-soft", field.entered && "line-through")}>{field.label}</span>
      <span className="min-w-0 whitespace-pre-wrap wrap-anywhere max-md:col-span-3">
        {field.value}
        {field.spelled && (
          <Soft as="span" block>
            {field.spelled}
          </Soft>
        )}
      </span>
      {!spoken && (
        <Button letter="c" className="py-0.5" onClick={copy}>
          {copied ? "Copied" : "Copy"}
        </Button>
      )}
    </li>
  );
}

function Files({ packet, guide }: { packet: Packet; guide: HandGuide }) {
  if (guide.files.length === 0) return null;
  return (
    <section aria-label="Files" className="border-t border-line px-4 py-3">
      <h3 className="mb-1 text-[14px]">Files to add there</h3>
      <ul>
        {guide.files.map((file) => (
          <li key={file.name} className="flex gap-3 py-0.5">
            <a
              className="link"
              download={file.name}
              href={`/api/v1/packets/${packet.number}/exhibits/${encodeURIComponent(file.exhibit)}/outgoing`}
            >
              <Mono>{file.name}</Mono>
            </a>
            <Soft as="span">{saySize(file.size)}, redacted</Soft>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Reference({ packet, guide, label }: { packet: Packet; guide: HandGuide; label: string }) {
  const enter = useAction(packet.number, "reference");
  const [reference, setReference] = useState("");
  const [who, setWho] = useState("");
  const [key] = useState(() => crypto.randomUUID());
  function submit(event: FormEvent) {
    event.preventDefault();
    enter.mutate({ body: { reference, case: label, spoke_to: who }, key: `${key}${reference}` });
  }
  return (
    <form onSubmit={submit} className="flex flex-col gap-2">
      <div className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col gap-1">
          <span className="font-semibold">
            The number that {packet.vendor} gave {label && `for ${label}`}
          </span>
          <input
            className="field w-56 font-mono"
            required
            placeholder={guide.reference_example}
            value={reference}
            onChange={(event) => setReference(event.target.value)}
          />
        </label>
        <label className="flex flex-col gap-1">
          <Soft as="span">By whom</Soft>
          <input className="field w-48" value={who} onChange={(event) => setWho(event.target.value)} />
        </label>
        <Button look="ink" type="submit" disabled={enter.isPending || !reference.trim()}>
          Save
        </Button>
      </div>
      <ProblemNote problem={enter.error} />
    </form>
  );
}
