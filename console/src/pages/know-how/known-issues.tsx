/** Known issues: what a line of a log means, and what to do. */
import { useState } from "react";
import { Link } from "wouter";
import { useKnownIssues, usePutKnownIssue, useRemoveKnownIssue } from "../../api/knowledge";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { Forget, Line, Shelf } from "./shelf";

const FIELDS: FieldSpec[] = [
  { name: "key", title: "Key", kind: "mono", needed: true, hint: "mirror-link" },
  { name: "title", title: "Title", kind: "text", needed: true },
  { name: "pattern", title: "Pattern", kind: "mono", needed: true, hint: "RE2 that its lines have" },
  { name: "packet", title: "Taught by", kind: "mono", hint: "a settled packet" },
  { name: "vendor", title: "Only things of", kind: "vendor" },
  { name: "models", title: "Models", kind: "list", hint: "with commas; empty: any" },
  { name: "fixed_in", title: "Fixed in", kind: "mono", hint: "a version" },
  { name: "link", title: "Our note", kind: "mono", hint: "a link" },
  { name: "meaning", title: "What it means", kind: "long", rows: 3 },
  { name: "advice", title: "What to do", kind: "long", rows: 3 },
];

export function KnownIssuesPage({ roles }: { roles: string[] }) {
  const issues = useKnownIssues();
  const [writing, setWriting] = useState<Values | null>(null);
  const mayWrite = roles.includes("preparer");
  return (
    <Shelf
      title="Known issues"
      about="Every log that is added is searched for them; its summary says what they mean."
      nothing="No known issues yet. A settled packet can teach one."
      roles={roles}
      read={issues}
      add={mayWrite ? "Add one" : undefined}
      onAdd={() => setWriting({})}
      dialogs={writing && <Write values={writing} onClose={() => setWriting(null)} />}
    >
      {issues.data?.map((one) => (
        <Line
          key={one.key}
          title={one.title}
          mono={one.pattern}
          beside={
            one.packet ? (
              <Link href={`/packets/${one.packet}`} className="link">
                from {one.packet}
              </Link>
            ) : (
              one.vendor
            )
          }
          onOpen={mayWrite ? () => setWriting({ ...one, packet: "" }) : undefined}
        >
          {[one.advice || one.meaning, one.fixed_in && `fixed in ${one.fixed_in}`].filter(Boolean).join(" · ")}
        </Line>
      ))}
    </Shelf>
  );
}

function Write({ values, onClose }: { values: Values; onClose: () => void }) {
  const put = usePutKnownIssue();
  const remove = useRemoveKnownIssue();
  const known = values.key ? String(values.key) : "";
  const text = (given: Values, name: string) => String(given[name] ?? "");
  return (
    <FormDialog
      title={known ? `Change ${known}` : "A known issue"}
      fields={FIELDS}
      values={values}
      fixed={known ? ["key"] : []}
      act="Save"
      busy={put.isPending}
      problem={put.error}
      onClose={onClose}
      onSubmit={(given) =>
        put.mutate(
          {
            key: known || text(given, "key"),
            body: {
              title: text(given, "title"),
              pattern: text(given, "pattern"),
              meaning: text(given, "meaning"),
              advice: text(given, "advice"),
              fixed_in: text(given, "fixed_in"),
              link: text(given, "link"),
              vendor: text(given, "vendor"),
              models: (given.models as string[] | null) ?? [],
              packet: text(given, "packet"),
            },
          },
          { onSuccess: onClose },
        )
      }
    >
      {known && (
        <div className="mb-3">
          <Forget problem={remove.error} onForget={() => remove.mutate(known, { onSuccess: onClose })} />
        </div>
      )}
    </FormDialog>
  );
}
