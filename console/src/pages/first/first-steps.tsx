/** What an empty house offers: where to begin, and something to try. */

import { Link } from "wouter";
import { Heading, Soft } from "../../components/text";
import sample from "./sample-sites.csv?url&no-inline";

const STEPS = [
  [
    "/imports",
    "Import a list",
    "of assets, contracts or sites, as a spreadsheet or CSV. The preview shows what each row would do.",
  ],
  [
    "/order-documents",
    "Read an order document",
    "as your vendor sent it. Contract, term and serials are found; you confirm them.",
  ],
  ["/desks/new", "Add a desk", "to which your cases go, with the questions that it asks and the format that it takes."],
] as const;

export function FirstSteps({ keeper }: { keeper: boolean }) {
  return (
    <section className="mt-6" aria-labelledby="first-steps">
      <Heading level={2} id="first-steps">
        First steps
      </Heading>
      {keeper ? (
        <>
          <Soft>The register is empty. Begin with whatever is at hand:</Soft>
          <ol className="mt-2">
            {STEPS.map(([to, name, words]) => (
              <li key={to} className="border-t border-line py-2.5">
                <Link href={to} className="link font-semibold">
                  {name}
                </Link>{" "}
                <Soft as="span">{words}</Soft>
              </li>
            ))}
            <li className="border-y border-line py-2.5">
              <a href={sample} download="sample-sites.csv" className="link font-semibold">
                Download a sample list
              </a>{" "}
              <Soft as="span">
                of four sites, one of them with a mistake. Import it to see the preview, apply it, and undo it again.
              </Soft>
            </li>
          </ol>
        </>
      ) : (
        <Soft>The register is empty. A keeper fills it: with a list, an order document or a desk.</Soft>
      )}
    </section>
  );
}
