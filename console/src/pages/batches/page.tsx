/** A batch: its rows, their packets, and those that failed, which can be corrected and tried again. */

import { useState } from "react";
import { Link } from "wouter";
import { type Batch, useBatch, useRetryBatch } from "../../api/batches";
import { Badge } from "../../components/badge";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { count } from "../../format/numbers";
import { TogetherActs } from "../packets/together";

export function BatchPage({ ident }: { ident: string }) {
  const batch = useBatch(ident);
  if (batch.error) return <ProblemPage title="Batch" problem={batch.error} />;
  return (
    <PageMain width="wide">
      {batch.data ? <Known batch={batch.data} /> : <Waiting label="Loading the batch" />}
    </PageMain>
  );
}

function Known({ batch }: { batch: Batch }) {
  const [corrected, setCorrected] = useState<Record<number, string>>({});
  const retry = useRetryBatch(batch.id);
  const numbers = batch.rows.flatMap((row) => row.packet || []);
  return (
    <>
      <PageTitle>{batch.title}</PageTitle>
      <Soft>
        {count(batch.noted, "packet")} by {batch.by}, {sayMoment(batch.at)}
        {batch.waiting > 0 && ` · ${count(batch.waiting, "row")} under way`}
      </Soft>
      <Row gap={4} lines align="baseline">
        {numbers.length > 0 && (
          <>
            <Soft as="span">All of them:</Soft>
            <TogetherActs numbers={numbers} />
          </>
        )}
      </Row>
      <PlainTable
        heads={["Row", "Asset", "Packet", "State", "Turn", "Stops", "Problem"]}
        right={["Row", "Stops"]}
        className="mt-3"
      >
        {batch.rows.map((row) => (
          <tr key={row.place} className="border-t border-line align-baseline">
            <td className="px-4 py-1 text-right tabular-nums">{row.place}</td>
            <td className="px-4">
              {row.state === "failed" ? (
                <input
                  className="field w-44 font-mono"
                  aria-label={`Asset of row ${row.place}`}
                  value={corrected[row.place] ?? row.row.asset}
                  onChange={(event) => setCorrected({ ...corrected, [row.place]: event.target.value })}
                />
              ) : (
                <Mono>{row.row.asset}</Mono>
              )}
            </td>
            <td className="px-4">
              {row.packet && (
                <Link className="link" href={`/packets/${row.packet}`}>
                  <Mono>{row.packet}</Mono>
                </Link>
              )}
            </td>
            <td className="px-4">{row.life ?? <Badge tone={row.problem ? "wax" : "plain"}>{row.state}</Badge>}</td>
            <td className="px-4">{row.turn === "none" ? null : row.turn}</td>
            <td className="px-4 text-right tabular-nums">{row.stops}</td>
            <td className="px-4 text-wax">{row.problem}</td>
          </tr>
        ))}
      </PlainTable>
      <ProblemNote problem={retry.error} />
      {batch.failed > 0 && (
        <Button
          className="mt-3"
          disabled={retry.isPending}
          onClick={() =>
            retry.mutate(
              batch.rows
                .filter((row) => row.state === "failed")
                .map((row) => ({
                  place: row.place,
                  row: { ...row.row, asset: corrected[row.place] ?? row.row.asset },
                })),
            )
          }
        >
          Try {count(batch.failed, "row")} again
        </Button>
      )}
    </>
  );
}
