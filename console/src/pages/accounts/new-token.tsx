/** A new token: what it is for and may do; shown once. */

import { useState } from "react";
import { useAddToken } from "../../api/accounts";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import { sayDay } from "../../format/dates";

const RIGHTS = ["read", "prepare", "send", "keep"] as const;

const FIELDS: FieldSpec[] = [
  { name: "purpose", title: "For", kind: "text", needed: true, hint: "What you will know it by" },
  {
    name: "rights",
    title: "It may",
    kind: RIGHTS,
    many: true,
    hint: "Read everything; prepare packets; send to vendors; keep the register and accounts. Never more than the account",
  },
  { name: "days", title: "Days", kind: "whole", needed: true, hint: "90 at most; 366 for a program" },
];

export function NewToken({ account, onClose }: { account: string; onClose: () => void }) {
  const add = useAddToken(account);
  if (add.data) {
    return (
      <Dialog open onChange={(open) => !open && onClose()} title={`Token of ${account}`} className="p-5">
        <Soft>It is shown this once. It ends on {sayDay(add.data.expires_at)}.</Soft>
        <p className="my-3 rounded-sheet border border-line bg-sheet px-3 py-2 break-all select-all">
          <Mono>{add.data.token}</Mono>
        </p>
        <Copy text={add.data.token} />
        <Button className="ml-3" onClick={onClose}>
          Done
        </Button>
      </Dialog>
    );
  }
  const submit = (given: Values) => {
    const rights = given.rights as (typeof RIGHTS)[number][];
    add.mutate({ purpose: String(given.purpose), rights, days: Number(given.days) });
  };
  return (
    <FormDialog
      title={`A token for ${account}`}
      fields={FIELDS}
      values={{ rights: [...RIGHTS], days: 90 }}
      onSubmit={submit}
      onClose={onClose}
      act="Make it"
      busy={add.isPending}
      problem={add.error}
    />
  );
}

function Copy({ text }: { text: string }) {
  const [copied, setCopied] = useState(false);
  const copy = () => void navigator.clipboard.writeText(text).then(() => setCopied(true));
  return (
    <Button look="ink" onClick={copy}>
      {copied ? "Copied" : "Copy"}
    </Button>
  );
}
