/** Diagnostic kits of the house: what each would do, and its text. */

import { useState } from "react";
import { useKit, useKits, usePutKit, useRetireKit } from "../../api/kits";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Row } from "../../components/layout";
import { ProblemNote } from "../../components/problem-note";
import { count } from "../../format/numbers";
import { KitFindings, KitSteps } from "../packets/kit-steps";
import { Line, Shelf } from "./shelf";

const FIRST = `kit: 1
name: a-kit
title: Diagnostics of a thing
vendor: ""
models: []
secrets: {}
user: ""
steps:
  - id: version
    what: model and release
    ssh: print model
`;

export function KitsPage({ roles }: { roles: string[] }) {
  const kits = useKits();
  const [shown, setShown] = useState("");
  const [text, setText] = useState<string | null>(null);
  const keeper = roles.includes("keeper");
  return (
    <Shelf
      title="Diagnostic kits"
      about="What to collect from a thing. They only read, and a person confirms exactly what is run."
      nothing="There is no kit yet."
      roles={roles}
      read={kits}
      add={keeper ? "Write one" : undefined}
      onAdd={() => setText(FIRST)}
      dialogs={
        <>
          {shown && (
            <Look name={shown} onClose={() => setShown("")} onWrite={keeper ? (kit) => setText(kit) : undefined} />
          )}
          {text !== null && <Write text={text} onClose={() => setText(null)} />}
        </>
      }
    >
      {kits.data?.map((one) => (
        <Line
          key={one.name}
          title={one.title}
          mono={one.name}
          beside={`version ${one.number}`}
          onOpen={() => setShown(one.name)}
        >
          {[one.vendor, one.models.join(", ") || "any model", count(one.steps, "step")].filter(Boolean).join(" · ")}
        </Line>
      ))}
    </Shelf>
  );
}

function Look({
  name,
  onClose,
  onWrite,
}: {
  name: string;
  onClose: () => void;
  onWrite?: ((text: string) => void) | undefined;
}) {
  const kit = useKit(name);
  const retire = useRetireKit();
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title={kit.data?.title ?? name}
      className="w-[min(96vw,760px)] p-5"
    >
      <ProblemNote problem={kit.error ?? retire.error} />
      {kit.data && (
        <>
          <KitSteps steps={kit.data.does} />
          <KitFindings findings={kit.data.findings} />
          {onWrite && (
            <div className="mt-4 flex gap-3">
              <Button
                onClick={() => {
                  onClose();
                  onWrite(kit.data.text);
                }}
              >
                Change it
              </Button>
              <Button onClick={() => retire.mutate(name, { onSuccess: onClose })}>Retire</Button>
            </div>
          )}
        </>
      )}
    </Dialog>
  );
}

function Write({ text, onClose }: { text: string; onClose: () => void }) {
  const put = usePutKit();
  const [typed, setTyped] = useState(text);
  return (
    <Dialog open onChange={(open) => !open && onClose()} title="A kit" className="w-[min(96vw,760px)] p-5">
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          put.mutate(typed, { onSuccess: onClose });
        }}
      >
        <textarea
          className="field min-h-[50vh] font-mono text-[12.5px]"
          aria-label="The kit, as YAML"
          spellCheck={false}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <ProblemNote problem={put.error} />
        <Row gap={3}>
          <Button look="ink" type="submit" disabled={put.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </Row>
      </form>
    </Dialog>
  );
}
