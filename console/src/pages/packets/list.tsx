/** All packets: narrowed, sorted and laid out as the address says, and many of them dealt with at once. */

import { Link } from "wouter";
import { useMe } from "../../api/session";
import { Button } from "../../components/button";
import { ChosenBar } from "../../components/chosen-bar";
import { Row } from "../../components/layout";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Table } from "../../components/table";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import { PacketFilters, PacketLayout } from "./list-filters";
import { TogetherActs } from "./together";
import { usePacketList } from "./use-packet-list";

export function PacketsPage() {
  const me = useMe().data?.name ?? "";
  const list = usePacketList();
  const { packets, rows, chosen, setChosen } = list;
  return (
    <PageMain width="table">
      <Row gap={4} lines align="baseline">
        <PageTitle>Packets</PageTitle>
        <Soft>{packets.data && (packets.hasNextPage ? `${rows.length} and more` : count(rows.length, "packet"))}</Soft>
        <Link className="link" href="/batches">
          Many at once
        </Link>
        <PacketLayout list={list} />
      </Row>
      <PacketFilters list={list} me={me} />
      <ProblemNote problem={packets.error} />
      {packets.isPending && !packets.error && <Waiting label="Loading packets" lines={10} />}
      {rows.length > 0 && (
        <Table
          label="Packets"
          columns={list.columns}
          rows={rows}
          sort={list.sort}
          onSort={(sort) => list.put("sort", sort)}
          href={(row) => `/packets/${row.number}`}
          chosen={chosen}
          onChoose={setChosen}
        />
      )}
      {packets.hasNextPage && (
        <Button className="mt-3" disabled={packets.isFetchingNextPage} onClick={() => packets.fetchNextPage()}>
          {packets.isFetchingNextPage ? "Reading…" : "Show more"}
        </Button>
      )}
      {packets.data && rows.length === 0 && (
        <Nothing>{list.isNarrowed ? "No packet matches." : "No packets yet. Press N to note what happened."}</Nothing>
      )}
      {chosen.size > 0 && (
        <ChosenBar words={`${chosen.size} chosen`} onClear={() => setChosen(new Set())}>
          <TogetherActs numbers={[...chosen]} />
        </ChosenBar>
      )}
    </PageMain>
  );
}
