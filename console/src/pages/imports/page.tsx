/** One import. */

import { useImport } from "../../api/imports";
import { PageMain } from "../../components/page-main";
import { ProblemNote } from "../../components/problem-note";
import { Waiting } from "../../components/waiting";
import { Preview } from "./preview";

export function ImportPage({ ident }: { ident: string }) {
  const found = useImport(ident);
  return (
    <PageMain width="wide">
      <ProblemNote problem={found.error} />
      {found.data ? <Preview shown={found.data} /> : !found.error && <Waiting label="Loading the import" lines={8} />}
    </PageMain>
  );
}
