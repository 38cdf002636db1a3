/** Accounts: who may come in, as what; for administrators. */

import { useState } from "react";
import { type Account, useAccounts, useAddAccount, useChangeAccount, useSignOutEverywhere } from "../../api/accounts";
import { Badge } from "../../components/badge";
import { Button, TextButton } from "../../components/button";
import { Dialog } from "../../components/dialog";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { join } from "../../components/join";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";
import { NewToken } from "./new-token";
import { ReleaseRules } from "./release-rules";

const ROLES = ["admin", "keeper", "preparer", "releaser", "reader"] as const;

/** An account to add. */
type New = "new" | "program";

type Role = (typeof ROLES)[number];

const PASSWORD: FieldSpec = { name: "password", title: "Password", kind: "secret", hint: "12 characters and more" };

const FIELDS: FieldSpec[] = [
  { name: "name", title: "Name", kind: "text", needed: true },
  { name: "person", title: "Person", kind: "person" },
  { name: "roles", title: "Roles", kind: ROLES, many: true },
];

export function AccountsPage() {
  const accounts = useAccounts();
  const [changed, setChanged] = useState<Account | New | null>(null);
  const [leaving, setLeaving] = useState<Account | null>(null);
  const [holder, setHolder] = useState<string | null>(null);
  useKeys("accounts", { add: () => setChanged("new") });
  return (
    <PageMain width="wide">
      <div className="mb-3 flex items-baseline gap-3">
        <PageTitle>Accounts</PageTitle>
        <Button className="ml-auto" onClick={() => setChanged("program")}>
          Add a program
        </Button>
        <Button letter="+" onClick={() => setChanged("new")}>
          Add an account
        </Button>
      </div>
      <ProblemNote problem={accounts.error} />
      {accounts.isPending && !accounts.error && <Waiting label="Loading accounts" />}
      {accounts.data && (
        <PlainTable heads={["Account", "Person", "Roles", "Signed in", "Seen last", ""]}>
          {accounts.data.map((one) => (
            <Row
              key={one.name}
              account={one}
              change={() => setChanged(one)}
              leave={() => setLeaving(one)}
              makeToken={() => setHolder(one.name)}
            />
          ))}
        </PlainTable>
      )}
      <ReleaseRules />
      {changed && <Changing account={changed} onClose={() => setChanged(null)} />}
      {holder && <NewToken account={holder} onClose={() => setHolder(null)} />}
      {leaving && <Leaving account={leaving} onClose={() => setLeaving(null)} />}
    </PageMain>
  );
}

type Acts = { change: () => void; leave: () => void; makeToken: () => void };

function Row({ account, change, leave, makeToken }: { account: Account } & Acts) {
  const ways = [
    account.sessions && `${account.sessions} ${account.sessions === 1 ? "session" : "sessions"}`,
    account.tokens && `${account.tokens} ${account.tokens === 1 ? "token" : "tokens"}`,
  ].filter(Boolean);
  return (
    <tr className={join("border-t border-line align-baseline", !account.active && "text-soft")}>
      <th scope="row" className="px-4 py-2 font-normal">
        {account.name}
        {account.kind === "program" && (
          <>
            {" "}
            <Badge tone="plain">program</Badge>
          </>
        )}
        {!account.active && (
          <>
            {" "}
            <Badge tone="plain">disabled</Badge>
          </>
        )}
      </th>
      <td className="px-4">{account.person}</td>
      <td className="px-4">{account.roles.join(", ")}</td>
      <td className="px-4 text-soft">{ways.join(", ") || "nowhere"}</td>
      <td className="px-4 whitespace-nowrap text-soft">{sayMoment(account.seen_at) || "never"}</td>
      <td className="px-4 text-right whitespace-nowrap">
        {account.kind === "program" && account.active && (
          <button type="button" className="link mr-4" onClick={makeToken}>
            Make a token<Hidden> for {account.name}</Hidden>
          </button>
        )}
        <TextButton data-row onClick={change}>
          Change<Hidden> {account.name}</Hidden>
        </TextButton>
        <button type="button" className="link ml-4" onClick={leave}>
          {account.active ? "Disable or sign out" : "Enable"}
          <Hidden> {account.name}</Hidden>
        </button>
      </td>
    </tr>
  );
}

/** A new account, or another one's roles, person and password. */
function Changing({ account, onClose }: { account: Account | New; onClose: () => void }) {
  const add = useAddAccount();
  const change = useChangeAccount();
  const fresh = account === "new" || account === "program";
  const isProgram = account === "program" || (!fresh && account.kind === "program");
  const password = { ...PASSWORD, title: fresh ? "Password" : "New password", needed: fresh };
  const fields = isProgram ? FIELDS.filter((one) => one.name !== "person") : [...FIELDS, password];
  const submit = (given: Values) => {
    const done = { onSuccess: onClose };
    const roles = given.roles as Role[];
    const person = given.person as string | null;
    if (account === "program") {
      add.mutate({ name: String(given.name), kind: "program", roles }, done);
    } else if (account === "new") {
      add.mutate({ name: String(given.name), password: String(given.password ?? ""), roles, person }, done);
    } else {
      const password = given.password ? { password: String(given.password) } : {};
      // A person who is not shown here stays: the list knows the name only.
      change.mutate({ name: account.name, change: { roles, ...(person ? { person } : {}), ...password } }, done);
    }
  };
  return (
    <FormDialog
      title={account === "program" ? "Add a program" : fresh ? "Add an account" : `Change ${account.name}`}
      fields={fields}
      values={fresh ? {} : { name: account.name, roles: account.roles }}
      fixed={fresh ? [] : ["name"]}
      onSubmit={submit}
      onClose={onClose}
      act={fresh ? "Add it" : "Change it"}
      busy={add.isPending || change.isPending}
      problem={add.error ?? change.error}
    >
      {!fresh && !isProgram && (
        <p className="mb-3 text-soft">A new password ends everything that {account.name} is signed in with.</p>
      )}
    </FormDialog>
  );
}

/** Somebody leaves, or has lost a laptop. */
function Leaving({ account, onClose }: { account: Account; onClose: () => void }) {
  const change = useChangeAccount();
  const out = useSignOutEverywhere();
  const busy = change.isPending || out.isPending;
  const active = (to: boolean) => change.mutate({ name: account.name, change: { active: to } }, { onSuccess: onClose });
  return (
    <Dialog open onChange={(open) => !open && onClose()} title={account.name} className="p-5">
      <Soft>
        {account.active
          ? "A disabled account cannot sign in; after signing out, the password still works. Both end every session, token and calendar address at once."
          : "Nobody can come in by this account. Enabling lets them in again with the password."}
      </Soft>
      <div className="mt-3 empty:hidden">
        <ProblemNote problem={change.error ?? out.error} />
      </div>
      <div className="mt-4 flex flex-wrap gap-3">
        {account.active ? (
          <>
            <Button look="ink" disabled={busy} onClick={() => active(false)}>
              Disable
            </Button>
            <Button disabled={busy} onClick={() => out.mutate(account.name, { onSuccess: onClose })}>
              Sign out everywhere
            </Button>
          </>
        ) : (
          <Button look="ink" disabled={busy} onClick={() => active(true)}>
            Enable
          </Button>
        )}
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </Dialog>
  );
}
