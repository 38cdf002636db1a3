/** Desks: where vendors take packets, and which version of its sheet each has. */

import { Link } from "wouter";
import { useDesks } from "../../api/desks";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Waiting } from "../../components/waiting";

export function DesksPage({ roles }: { roles: string[] }) {
  const desks = useDesks();
  const keeper = roles.includes("keeper");
  return (
    <main className="mx-auto w-full max-w-4xl p-6 max-md:px-4">
      <div className="mb-3 flex items-baseline gap-4">
        <PageTitle>Desks</PageTitle>
        {keeper && (
          <Link href="/desks/new" className="link ml-auto">
            Write a sheet for a new desk
          </Link>
        )}
      </div>
      <ProblemNote problem={desks.error} />
      {desks.isPending && <Waiting label="Loading the desks" />}
      {desks.data?.length === 0 && <Nothing>There is no desk yet. A desk begins with its sheet.</Nothing>}
      {desks.data && desks.data.length > 0 && (
        <table className="w-full border-collapse rounded-sheet border border-line bg-sheet">
          <thead>
            <tr className="border-b border-line text-left text-soft">
              <th scope="col" className="px-4 py-2 font-normal">
                Desk
              </th>
              <th scope="col" className="font-normal">
                Vendor
              </th>
              <th scope="col" className="pr-4 text-right font-normal">
                Sheet
              </th>
              <th scope="col" className="font-normal max-sm:sr-only">
                Address
              </th>
            </tr>
          </thead>
          <tbody>
            {desks.data.map((desk) => (
              <tr key={desk.key} className="border-b border-line last:border-0">
                <td className="px-4 py-2">
                  <Link href={`/desks/${desk.key}`} className="link">
                    {desk.name}
                  </Link>{" "}
                  <Mono className="ml-1 text-soft max-sm:hidden">{desk.key}</Mono>
                </td>
                <td>{desk.vendor}</td>
                <td className="pr-4 text-right tabular-nums">{desk.version}</td>
                <td className="text-soft max-sm:sr-only">{desk.reachable ? "configured" : "none configured"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </main>
  );
}
