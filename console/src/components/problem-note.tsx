/** What went wrong and what to do. */
import type { ReactNode } from "react";
import { ProblemError } from "../api/client";

/** What went wrong, what was kept, what to do. */
export function ProblemNote({ problem, children }: { problem: unknown; children?: ReactNode }) {
  if (!problem) return null;
  const known = problem instanceof ProblemError;
  return (
    <div role="alert" className="rounded-md border-l-3 border-wax bg-wax-wash px-3 py-2">
      <p>{known ? problem.detail : "Something broke in this page."}</p>
      <p className="text-soft">{known ? problem.remedy : "Reload the page; nothing was changed."}</p>
      {children}
    </div>
  );
}
