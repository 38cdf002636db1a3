/** A new sheet, begun with what the vendor has. */

import { useBeginSheet } from "../../api/desks";
import { FileDrop } from "../../components/file-drop";

const KINDS = ".pdf,.xsd,.xml,.json,.yaml,.yml,.eml,.txt,.html,.htm";

export function Begin({ onBegun }: { onBegun: (yaml: string) => void }) {
  const begin = useBeginSheet();
  const take = (file: File) => begin.mutate(file, { onSuccess: onBegun });
  return (
    <FileDrop label="A file of the vendor's" accept={KINDS} busy={begin.isPending} onFile={take} problem={begin.error}>
      <p className="basis-full text-soft">
        Begin with what the vendor has: a PDF form, an XML or JSON schema, OpenAPI, a sample, or a saved web form.
      </p>
    </FileDrop>
  );
}
