import { useState } from "react";
import { type Life, usePackets } from "../../api/packets";
import { Button } from "../../components/button";
import { join } from "../../components/join";
import { Row } from "../../components/layout";
import { Nothing } from "../../components/nothing";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Rows } from "../../components/rows";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import { PacketRow } from "./packet-row";

const LIVES: (Life | null)[] = [null, "drafting", "sealed", "lodged", "answered", "settled", "refused", "withdrawn"];

export function PacketsPage() {
  const [life, setLife] = useState<Life | null>(null);
  const [query, setQuery] = useState("");
  const packets = usePackets(life, query);
  const found = packets.data?.pages.flatMap((page) => page.items);
  return (
    <main className="mx-auto w-full max-w-[1000px] px-6 py-7">
      <Row gap={4} lines align="baseline">
        <PageTitle>Packets</PageTitle>
        <Soft>{found && (packets.hasNextPage ? `the newest ${found.length}` : count(found.length, "packet"))}</Soft>
      </Row>
      <div className="my-4 flex flex-wrap items-center gap-3">
        <input
          className="field max-w-72"
          aria-label="Narrow by words, number or reference"
          placeholder="Words, number or reference"
          value={query}
          onChange={(event) => setQuery(event.target.value)}
        />
        <fieldset className="flex flex-wrap gap-1">
          <Hidden as="legend">State</Hidden>
          {LIVES.map((value) => (
            <label
              key={value ?? "all"}
              className={join(
                "cursor-pointer rounded-full px-2.5 py-0.5 has-focus-visible:outline-2 has-focus-visible:outline-slate",
                value === life ? "bg-ink text-paper" : "text-soft hover:text-ink",
              )}
            >
              <input
                type="radio"
                name="life"
                className="sr-only"
                checked={value === life}
                onChange={() => setLife(value)}
              />
              {value ?? "all"}
            </label>
          ))}
        </fieldset>
      </div>
      <ProblemNote problem={packets.error} />
      {packets.isPending && !packets.error && <Waiting label="Loading packets" />}
      {found && (
        <Rows label="Packets">
          {found.map((packet) => (
            <PacketRow key={packet.number} packet={packet} />
          ))}
        </Rows>
      )}
      {packets.hasNextPage && (
        <Button className="mt-3" disabled={packets.isFetchingNextPage} onClick={() => packets.fetchNextPage()}>
          {packets.isFetchingNextPage ? "Reading…" : "Show more"}
        </Button>
      )}
      {found?.length === 0 && (
        <Nothing>{query || life ? "No packet matches." : "No packets yet. Press N to note what happened."}</Nothing>
      )}
    </main>
  );
}
