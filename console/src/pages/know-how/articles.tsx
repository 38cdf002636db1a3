/** Articles: what we have written down. They show while a note is written. */
import { useState } from "react";
import { useSearchParams } from "wouter";
import { useArticles, usePutArticle } from "../../api/knowledge";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { sayDay } from "../../format/dates";
import { count } from "../../format/numbers";
import ArticleDialog from "./article";
import { Line, Shelf } from "./shelf";

const FIELDS: FieldSpec[] = [
  { name: "key", title: "Key", kind: "mono", needed: true, hint: "mirror-link" },
  { name: "title", title: "Title", kind: "text", needed: true },
  { name: "sort", title: "Sort", kind: ["note", "how-to", "vendor"], first: "note" },
  { name: "vendor", title: "About things of", kind: "vendor" },
  { name: "models", title: "Models", kind: "list", hint: "with commas; empty: any" },
  { name: "written_on", title: "Written on", kind: "day", hint: "today, if empty" },
  { name: "text", title: "Text", kind: "long", needed: true, rows: 12, hint: "Markdown" },
];

export function ArticlesPage({ roles }: { roles: string[] }) {
  const articles = useArticles();
  const [search, setSearch] = useSearchParams();
  const shown = search.get("open") ?? "";
  const setShown = (key: string) => setSearch(key ? { open: key } : {}, { replace: true });
  const [writing, setWriting] = useState<Values | null>(null);
  const mayWrite = roles.includes("preparer");
  return (
    <Shelf
      title="Articles"
      about="They show while somebody notes what they are about, and may end the draft."
      nothing="Nothing is written down yet. What solved a packet is worth an article."
      roles={roles}
      read={articles}
      add={mayWrite ? "Write one" : undefined}
      onAdd={() => setWriting({})}
      dialogs={
        <>
          {shown && (
            <ArticleDialog
              name={shown}
              onClose={() => setShown("")}
              onWrite={mayWrite ? (article) => setWriting({ ...article }) : undefined}
            />
          )}
          {writing && <Write values={writing} onClose={() => setWriting(null)} />}
        </>
      }
    >
      {articles.data?.map((one) => (
        <Line
          key={one.key}
          title={one.title}
          mono={one.key}
          beside={sayDay(one.written_on)}
          onOpen={() => setShown(one.key)}
        >
          {[one.sort, one.vendor, one.models.join(", "), one.solved > 0 && `ended ${count(one.solved, "draft")}`]
            .filter(Boolean)
            .join(" · ")}
        </Line>
      ))}
    </Shelf>
  );
}

function Write({ values, onClose }: { values: Values; onClose: () => void }) {
  const put = usePutArticle();
  return (
    <FormDialog
      title={values.key ? `Correct ${values.key}` : "An article"}
      fields={FIELDS}
      values={values}
      fixed={values.key ? ["key"] : []}
      act="Save"
      busy={put.isPending}
      problem={put.error}
      onClose={onClose}
      onSubmit={(given) =>
        put.mutate(
          {
            key: String(values.key ?? given.key),
            body: {
              title: String(given.title),
              text: String(given.text),
              sort: (given.sort ?? "note") as "note",
              vendor: String(given.vendor ?? ""),
              models: (given.models as string[] | null) ?? [],
              written_on: (given.written_on as string | null) ?? null,
            },
          },
          { onSuccess: onClose },
        )
      }
    />
  );
}
