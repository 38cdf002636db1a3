/** Order papers: what came, and what waits for a word. */
import { Link, useLocation } from "wouter";
import { type Paper, usePapers, useSendPaper } from "../../api/papers";
import { Badge, count, Mono, Nothing, ProblemNote, sayMoment, saySize, Waiting } from "../../parts/basics";
import { FileDrop } from "../../parts/file";
import { moveInRows } from "../../parts/keys";
import { IncomingTabs } from "../../parts/tabs";

export const STATE: Record<Paper["state"], [tone: "wax" | "ochre" | "moss" | "plain", words: string]> = {
  reading: ["plain", "being read"],
  read: ["ochre", "waits for your word"],
  entered: ["moss", "entered"],
  aside: ["plain", "set aside"],
  failed: ["wax", "cannot be read"],
};

export function PapersPage() {
  const papers = usePapers();
  const send = useSendPaper();
  const [, go] = useLocation();
  return (
    <main className="mx-auto w-full max-w-[980px] px-6 py-7 max-sm:px-3">
      <IncomingTabs />
      <h1 className="text-[24px] leading-8">Order papers</h1>
      <p className="mb-4 max-w-[70ch] text-soft">
        Order confirmations as they came. Contract number, term, passcode and serials are read from them; nothing enters
        the register before you say so.
      </p>
      <FileDrop
        label="Read an order confirmation: PDF, or a mail saved as .eml"
        accept=".pdf,.eml,application/pdf,message/rfc822"
        busy={send.isPending}
        problem={send.error}
        onFile={(file) => send.mutate(file, { onSuccess: (paper) => go(`/papers/${paper.id}`) })}
      />
      <ProblemNote problem={papers.error} />
      {papers.isPending && !papers.error && <Waiting label="Papers are being read" />}
      <ul aria-label="Papers" onKeyDown={moveInRows} className="mt-4">
        {papers.data?.map((paper) => (
          <li key={paper.id} className="border-b border-line">
            <Link
              data-row
              href={`/papers/${paper.id}`}
              className="-mx-2 grid grid-cols-[1.4fr_1fr_80px_150px] items-baseline gap-x-4 px-2 py-2 hover:bg-sheet max-md:grid-cols-[1fr_auto]"
            >
              <span className="min-w-0">
                <span className="block truncate font-semibold">{paper.name}</span>
                <span className="block truncate text-soft">
                  {sayMoment(paper.at)} by {paper.by}, {saySize(paper.size)}
                </span>
              </span>
              <span className="min-w-0 truncate max-md:hidden">
                {paper.vendor ?? "vendor not found"}
                {paper.contract && (
                  <>
                    {" "}
                    · <Mono>{paper.contract}</Mono>
                  </>
                )}
              </span>
              <span className="text-soft max-md:hidden">{count(paper.items, "serial")}</span>
              <span className="text-right">
                <Badge tone={STATE[paper.state][0]}>{STATE[paper.state][1]}</Badge>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {papers.data?.length === 0 && <Nothing>No paper came yet.</Nothing>}
    </main>
  );
}
