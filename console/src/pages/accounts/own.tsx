/** What is one's own: the password, the tokens, and being signed out everywhere. */

import { type FormEvent, useState } from "react";
import { type Token, useChangePassword, useRevokeToken, useSignOutEverywhere, useTokens } from "../../api/accounts";
import { useMe } from "../../api/session";
import { Button, TextButton } from "../../components/button";
import { Nothing } from "../../components/nothing";
import { PageTitle } from "../../components/page-title";
import { HeadedTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayDay, sayMoment } from "../../format/dates";
import { NewToken } from "./new-token";
import { Passkeys } from "./passkeys";

export function OwnPage() {
  const me = useMe();
  return (
    <main className="mx-auto flex w-full max-w-3xl flex-col gap-4 px-6 py-7 max-sm:px-3">
      <div>
        <PageTitle>{me.data?.person}</PageTitle>
        <Soft>
          Signed in as {me.data?.name}: {me.data?.roles.join(", ")}
        </Soft>
      </div>
      <Password />
      <Passkeys />
      <Tokens account={me.data?.name ?? ""} />
      <Everywhere name={me.data?.name ?? ""} />
    </main>
  );
}

function Password() {
  const change = useChangePassword();
  const [current, setCurrent] = useState("");
  const [fresh, setFresh] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate({ current, new: fresh });
  };
  return (
    <Sheet title="Password" className="pb-4">
      <form onSubmit={submit} className="flex flex-col gap-3 px-4 pt-2">
        <Soft>Changing it ends everything that is signed in with it, this page too.</Soft>
        <div className="grid gap-3 sm:grid-cols-2">
          <label className="flex flex-col gap-1">
            <span>Password now</span>
            <input
              className="field"
              type="password"
              autoComplete="current-password"
              required
              value={current}
              onChange={(event) => setCurrent(event.target.value)}
            />
          </label>
          <label className="flex flex-col gap-1">
            <span>New password</span>
            <input
              className="field"
              type="password"
              autoComplete="new-password"
              required
              minLength={12}
              value={fresh}
              onChange={(event) => setFresh(event.target.value)}
            />
          </label>
        </div>
        <ProblemNote problem={change.error} />
        <Button look="ink" type="submit" className="self-start" disabled={change.isPending}>
          Change the password
        </Button>
      </form>
    </Sheet>
  );
}

function Tokens({ account }: { account: string }) {
  const [adding, setAdding] = useState(false);
  const tokens = useTokens();
  const revoke = useRevokeToken();
  return (
    <Sheet title="Tokens" className="pb-4">
      <div className="px-4 pt-1">
        <Soft>
          Command line and programs come in with these; <code>sealpacket sign-in</code> makes one too.
        </Soft>
        <Button className="my-2" disabled={!account} onClick={() => setAdding(true)}>
          Make a token
        </Button>
        {adding && <NewToken account={account} onClose={() => setAdding(false)} />}
        <ProblemNote problem={tokens.error ?? revoke.error} />
        {tokens.isPending && !tokens.error && <Waiting label="Loading tokens" lines={3} />}
        {tokens.data?.length === 0 && <Nothing>There is no token.</Nothing>}
      </div>
      {tokens.data && tokens.data.length > 0 && (
        <HeadedTable className="mt-2" heads={["For", "May", "Made", "Used last", "Ends", ""]}>
          {tokens.data.map((one) => (
            <Row key={one.id} token={one} busy={revoke.isPending} revoke={() => revoke.mutate(one.id)} />
          ))}
        </HeadedTable>
      )}
    </Sheet>
  );
}

function Row({ token, busy, revoke }: { token: Token; busy: boolean; revoke: () => void }) {
  return (
    <tr className="border-t border-line align-baseline">
      <th scope="row" className="px-4 py-1.5 font-normal">
        {token.purpose}
      </th>
      <td className="px-4 text-soft">{token.rights.join(", ")}</td>
      <td className="px-4 whitespace-nowrap text-soft">{sayDay(token.created_at)}</td>
      <td className="px-4 whitespace-nowrap text-soft">{sayMoment(token.seen_at) || "never"}</td>
      <td className="px-4 whitespace-nowrap text-soft">{sayDay(token.expires_at)}</td>
      <td className="px-4 text-right">
        <TextButton disabled={busy} onClick={revoke}>
          Revoke<Hidden> the token for {token.purpose}</Hidden>
        </TextButton>
      </td>
    </tr>
  );
}

function Everywhere({ name }: { name: string }) {
  const leave = useSignOutEverywhere();
  return (
    <Sheet title="Everywhere" className="pb-4">
      <div className="flex flex-col items-start gap-3 px-4 pt-1">
        <Soft>
          After a lost laptop, or to be sure: ends every session, token and calendar address of yours, this page too.
        </Soft>
        <ProblemNote problem={leave.error} />
        <Button
          disabled={leave.isPending || !name}
          onClick={() => leave.mutate(name, { onSuccess: () => window.location.assign("/") })}
        >
          Sign out everywhere
        </Button>
      </div>
    </Sheet>
  );
}
