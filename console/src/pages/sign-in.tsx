import { type FormEvent, useState } from "react";
import { usePasskeySignIn } from "../api/passkeys";
import { useSignIn, useSignInWays } from "../api/session";
import { Button } from "../components/button";
import { Row } from "../components/layout";
import { PageTitle } from "../components/page-title";
import { ProblemNote } from "../components/problem-note";
import { Seal } from "../components/seal";
import { Soft } from "../components/text";

/** Why somebody came back from the provider and is not signed in. */
const REFUSED: Record<string, string> = {
  "provider-away": "The provider cannot be reached. Try again in a minute; a local administrator can sign in here.",
  "provider-unbelieved": "What the provider says cannot be trusted. If it stays so, tell whoever runs the service.",
  "provider-refused": "The provider did not sign you in.",
  "sign-in-gone": "That sign-in was not begun in this browser, or too long ago. Begin again.",
  "no-role": "You have an account there and no role here. Ask an administrator.",
  "name-taken": "There is another account of your name here. Ask an administrator.",
  "no-name": "The provider gives no name that an account can have. Tell whoever runs the service.",
  disabled: "Your account is disabled. Ask an administrator.",
  "too-many-tries": "There were too many tries. Wait five minutes.",
};

export function SignInPage() {
  const signIn = useSignIn();
  const ways = useSignInWays();
  const passkey = usePasskeySignIn();
  const refused = new URLSearchParams(window.location.search).get("refused");
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");

  function submit(event: FormEvent) {
    event.preventDefault();
    signIn.mutate({ name, password });
  }

  return (
    <main className="mx-auto flex min-h-dvh max-w-sm flex-col justify-center gap-6 px-5 pb-24">
      <Row gap={4} align="center">
        <Seal state="ready" size={56} />
        <div>
          <PageTitle title="Sign in" className="text-[28px] leading-9">
            Seal Packet
          </PageTitle>
          <Soft>Cases that neither bounce nor leak.</Soft>
        </div>
      </Row>
      {refused && (
        <p role="alert" className="rounded-sheet border border-wax px-4 py-3">
          {REFUSED[refused] ?? "You were not signed in. Try again."}
        </p>
      )}
      {ways.data?.provider && (
        <a
          className="inline-flex items-center justify-center rounded-md border border-ink bg-ink px-3 py-1.5 font-semibold text-paper hover:opacity-90"
          href="/sign-in/provider"
        >
          Sign in with {ways.data.provider}
        </a>
      )}
      {ways.data?.passkeys && window.PublicKeyCredential && (
        <>
          <Button className="justify-center" disabled={passkey.isPending} onClick={() => passkey.mutate()}>
            Sign in with a passkey
          </Button>
          {passkey.error instanceof DOMException ? (
            <p role="alert">The browser gave no passkey. Try again, or sign in with your password.</p>
          ) : (
            <ProblemNote problem={passkey.error} />
          )}
        </>
      )}
      <form onSubmit={submit} className="flex flex-col gap-4 rounded-sheet border border-line bg-sheet p-5">
        <label className="flex flex-col gap-1">
          <span className="font-semibold">Name</span>
          <input
            className="field"
            name="name"
            autoComplete="username"
            // biome-ignore lint/a11y/noAutofocus: it is the only thing to do here
            autoFocus
            required
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="flex flex-col gap-1">
          <span className="font-semibold">Password</span>
          <input
            className="field"
            name="password"
            type="password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
        </label>
        <ProblemNote problem={signIn.error} />
        <Button
          look={ways.data?.provider ? "plain" : "ink"}
          type="submit"
          disabled={signIn.isPending}
          className="justify-center"
        >
          Sign in
        </Button>
      </form>
    </main>
  );
}
