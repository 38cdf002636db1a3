/** The frame: who is signed in, where one can go, and the keys that work everywhere. */

import { useMe } from "./api/session";
import { PageTitle } from "./components/page-title";
import { ProblemNote } from "./components/problem-note";
import { Frame } from "./frame/frame";
import { SignInPage } from "./pages/sign-in";

export function App() {
  const me = useMe();
  if (me.isPending) return <div className="min-h-dvh bg-paper" />;
  if (me.error && me.error.status !== 401) {
    return (
      <main className="mx-auto max-w-md p-8">
        <PageTitle className="mb-3">Seal Packet</PageTitle>
        <ProblemNote problem={me.error} />
      </main>
    );
  }
  return me.data ? <Frame person={me.data.person} roles={me.data.roles} /> : <SignInPage />;
}
