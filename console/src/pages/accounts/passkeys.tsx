/** One's own passkeys: added on the device that one sits at. */

import { type FormEvent, useState } from "react";
import { type Passkey, useAddPasskey, usePasskeys, useRemovePasskey } from "../../api/passkeys";
import { useSignInWays } from "../../api/session";
import { Button, TextButton } from "../../components/button";
import { Nothing } from "../../components/nothing";
import { HeadedTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Hidden, Soft } from "../../components/text";
import { sayDay, sayMoment } from "../../format/dates";

export function Passkeys() {
  const ways = useSignInWays();
  const passkeys = usePasskeys();
  const remove = useRemovePasskey();
  if (!ways.data?.passkeys || !window.PublicKeyCredential) return null;
  return (
    <Sheet title="Passkeys" className="pb-4">
      <div className="px-4 pt-1">
        <Soft>Sign in with the lock of your device, without the password. A new password removes them all.</Soft>
        <Add />
        <ProblemNote problem={passkeys.error ?? remove.error} />
        {passkeys.data?.length === 0 && <Nothing>There is no passkey.</Nothing>}
      </div>
      {passkeys.data && passkeys.data.length > 0 && (
        <HeadedTable className="mt-2" heads={["Passkey", "Added", "Used last", ""]}>
          {passkeys.data.map((one) => (
            <Row key={one.id} passkey={one} busy={remove.isPending} remove={() => remove.mutate(one.id)} />
          ))}
        </HeadedTable>
      )}
    </Sheet>
  );
}

function Add() {
  const add = useAddPasskey();
  const [name, setName] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(name, { onSuccess: () => setName("") });
  };
  return (
    <form onSubmit={submit} className="my-2 flex flex-wrap items-end gap-3">
      <label className="flex flex-col gap-1">
        <span>This device</span>
        <input
          className="field"
          required
          maxLength={100}
          placeholder="Laptop"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <Button type="submit" disabled={add.isPending}>
        Add a passkey
      </Button>
      {add.error instanceof DOMException ? (
        <p role="alert">The browser made no passkey. Try again.</p>
      ) : (
        <ProblemNote problem={add.error} />
      )}
    </form>
  );
}

function Row({ passkey, busy, remove }: { passkey: Passkey; busy: boolean; remove: () => void }) {
  return (
    <tr className="border-t border-line align-baseline">
      <th scope="row" className="px-4 py-1.5 font-normal">
        {passkey.name}
      </th>
      <td className="px-4 whitespace-nowrap text-soft">{sayDay(passkey.created_at)}</td>
      <td className="px-4 whitespace-nowrap text-soft">{sayMoment(passkey.seen_at) || "never"}</td>
      <td className="px-4 text-right">
        <TextButton disabled={busy} onClick={remove}>
          Remove<Hidden> the passkey {passkey.name}</Hidden>
        </TextButton>
      </td>
    </tr>
  );
}
