/** A page whose subject could not be loaded. */
import { PageTitle } from "./page-title";
import { ProblemNote } from "./problem-note";

/** A page whose subject could not be read. */
export function ProblemPage({ title, problem }: { title: string; problem: unknown }) {
  return (
    <main className="mx-auto w-full max-w-3xl p-6">
      <PageTitle className="mb-3">{title}</PageTitle>
      <ProblemNote problem={problem} />
    </main>
  );
}
