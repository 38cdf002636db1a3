import { type FormEvent, useState } from "react";
import { useSignIn } from "../api/session";
import { Button } from "../components/button";
import { Row } from "../components/layout";
import { ProblemNote } from "../components/problem-note";
import { Seal } from "../components/seal";
import { Soft } from "../components/text";

export function SignInPage() {
  const signIn = useSignIn();
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
          <h1 className="text-[28px] leading-9">Seal Packet</h1>
          <Soft>Cases that neither bounce nor leak.</Soft>
        </div>
      </Row>
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
        <Button look="ink" type="submit" disabled={signIn.isPending} className="justify-center">
          Sign in
        </Button>
      </form>
    </main>
  );
}
