/** The frame: who is signed in, where one can go, and the keys that work everywhere. */
import { useMe } from "./api/session";
import { ProblemNote } from "./components/problem-note";
import { Frame } from "./frame/frame";
import { SignInPage } from "./pages/sign-in";

export function App() {
  const me = useMe();
  if (me.isPending) return <div className="min-h-dvh bg-paper" />;
  if (me.error && me.error.status !== 401) {
    return (
      <main className="mx-auto max-w-md p-8">
        <h1 className="mb-3 text-[24px] leading-8">Seal Packet</h1>
        <ProblemNote problem={me.error} />
      </main>
    );
  }
  return me.data ? <Frame person={me.data.person} roles={me.data.roles} /> : <SignInPage />;
}
