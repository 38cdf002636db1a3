/** One import. */
import { useImport } from "../../api/imports";
import { ProblemNote } from "../../components/problem-note";
import { Waiting } from "../../components/waiting";
import { Preview } from "./preview";

export function ImportPage({ ident }: { ident: string }) {
  const found = useImport(ident);
  return (
    <main className="mx-auto w-full max-w-[1180px] px-6 py-7 max-sm:px-3">
      <ProblemNote problem={found.error} />
      {found.data ? (
        <Preview shown={found.data} />
      ) : (
        !found.error && <Waiting label="The import is being read" lines={8} />
      )}
    </main>
  );
}
