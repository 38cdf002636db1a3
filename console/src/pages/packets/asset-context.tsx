/** What is known around a packet's thing, and what was tried on it. */

import { type FormEvent, type ReactNode, useState } from "react";
import { Link } from "wouter";
import { type ThingContext, useAround, useTried, useUntry } from "../../api/around";
import type { Packet } from "../../api/packets";
import { Button, TextButton } from "../../components/button";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayDay, sayMoment } from "../../format/dates";

export function TriedSheet({ packet, mayNote }: { packet: Packet; mayNote: boolean }) {
  const around = useAround(packet.asset?.id ?? "");
  const untry = useUntry(packet.number);
  const steps = around.data?.tried ?? [];
  if (!mayNote && steps.length === 0) return null;
  return (
    <Sheet title="Steps tried" className="pb-4">
      <ul className="px-4 pt-1">
        {steps.map((one) => (
          <li key={one.id} className="grid grid-cols-[110px_1fr_auto] items-baseline gap-x-3 py-1">
            <Soft as="span">{sayMoment(one.at)}</Soft>
            <span>
              {one.step}
              {one.result && <Soft as="span">: {one.result}</Soft>}
              {one.exhibit && <Mono className="ml-2 text-soft">{one.exhibit}</Mono>}
            </span>
            <span className="flex items-baseline gap-3 text-soft">
              {one.by}
              {mayNote && one.packet === packet.number && (
                <TextButton aria-label={`Take back: ${one.step}`} onClick={() => untry.mutate(one.id)}>
                  Take back
                </TextButton>
              )}
            </span>
          </li>
        ))}
      </ul>
      <ProblemNote problem={around.error ?? untry.error} />
      {mayNote && <AddTried number={packet.number} />}
    </Sheet>
  );
}

function AddTried({ number }: { number: string }) {
  const tried = useTried(number);
  const [step, setStep] = useState("");
  const [result, setResult] = useState("");
  function submit(event: FormEvent) {
    event.preventDefault();
    tried.mutate(
      { step, result },
      {
        onSuccess: () => {
          setStep("");
          setResult("");
        },
      },
    );
  }
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3 px-4 pt-2">
      <label className="flex min-w-52 grow flex-col">
        <Soft as="span">Tried</Soft>
        <input
          className="field"
          required
          minLength={2}
          value={step}
          onChange={(event) => setStep(event.target.value)}
        />
      </label>
      <label className="flex min-w-52 grow flex-col">
        <Soft as="span">Result</Soft>
        <input className="field" value={result} onChange={(event) => setResult(event.target.value)} />
      </label>
      <Button type="submit" disabled={tried.isPending}>
        Note the step
      </Button>
      <ProblemNote problem={tried.error} />
    </form>
  );
}

/** Versions, recent changes and neighbours of a thing; what was tried, unless it is shown beside. */
export function Around({ asset, withTried }: { asset: string; withTried?: boolean }) {
  const around = useAround(asset);
  if (!around.data) return null;
  const parts = [...(withTried ? triedOf(around.data) : []), ...partsOf(around.data)];
  if (parts.length === 0) return null;
  return (
    <Sheet title="Around it" className="pb-4">
      <dl className="grid grid-cols-[90px_1fr] gap-y-1 px-4 pt-2">
        {parts.map(([name, rows]) => (
          <div key={name} className="contents">
            <dt className="text-soft">{name}</dt>
            <dd>{rows}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  );
}

const triedOf = (around: ThingContext): [string, ReactNode][] =>
  around.tried.length === 0
    ? []
    : [
        [
          "Tried",
          around.tried.map((one) => (
            <div key={one.id}>
              {one.step}
              <Soft as="span">
                {one.result && `: ${one.result}`} ({one.by}, {sayMoment(one.at)})
              </Soft>
            </div>
          )),
        ],
      ];

function partsOf(around: ThingContext): [string, ReactNode][] {
  const parts: [string, ReactNode[]][] = [
    [
      "Changed",
      around.changes.map((one) => (
        <div key={`${one.at}${one.field}`}>
          {sayDay(one.at.slice(0, 10))}: {one.field.replaceAll("_", " ")} {one.old || "nothing"} →{" "}
          {one.new || "nothing"} <Soft as="span">by {one.by}</Soft>
        </div>
      )),
    ],
    [
      "On it",
      around.carries.map((one) => (
        <div key={one.serial}>
          {one.product} <Mono>{one.software_version}</Mono>
        </div>
      )),
    ],
    [
      "Same site",
      around.neighbours.map((one) => (
        <div key={one.serial}>
          <Link href={`/assets/${encodeURIComponent(one.serial)}`} className="link">
            <Mono>{one.serial}</Mono>
          </Link>{" "}
          {one.name || one.product}
          {one.same_model && <Soft as="span"> same model</Soft>}
        </div>
      )),
    ],
  ];
  return parts.filter(([, rows]) => rows.length > 0);
}
