/** A page whose subject could not be loaded. */
import { ProblemNote } from "./problem-note";

/** A page whose subject could not be read. */
export function ProblemPage({ title, problem }: { title: string; problem: unknown }) {
  return (
    <main className="mx-auto w-full max-w-3xl p-6">
      <h1 className="mb-3 text-[24px] leading-8">{title}</h1>
      <ProblemNote problem={problem} />
    </main>
  );
}
