/** The register: one page for each kind of record. */

import { Link } from "wouter";
import { Button, TextButton } from "../../components/button";
import { ChosenBar } from "../../components/chosen-bar";
import { Key } from "../../components/key";
import { Row } from "../../components/layout";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Table } from "../../components/table";
import { Tabs } from "../../components/tabs";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { Above } from "./above";
import { REGISTER, type Register } from "./kinds";
import { PrintLabels } from "./labels";
import { RecordDialogs } from "./record-dialogs";
import { RecordFilters } from "./record-filters";
import { useRecordList } from "./use-record-list";

export function RegisterPage({ plural, roles }: { plural: string; roles: string[] }) {
  const register = REGISTER.find((one) => one.plural === plural);
  return register ? <Records key={plural} register={register} roles={roles} /> : null;
}

function Records({ register, roles }: { register: Register; roles: string[] }) {
  const list = useRecordList(register, roles);
  const { records, rows, chosen, setChosen, isAsset, setOpen } = list;
  return (
    <PageMain width="table">
      <Tabs label="The register" tabs={REGISTER.map((one) => [`/${one.plural}`, one.title])} />
      <Row gap={4} lines align="baseline">
        <PageTitle>{register.title}</PageTitle>
        <Soft>{records.data && `${rows.length}${records.hasNextPage ? " and more" : ""}`}</Soft>
      </Row>
      <RecordFilters register={register} list={list} />
      <Above plural={register.plural} vendor={list.narrow.vendor} roles={roles} />
      <ProblemNote problem={records.error} />
      {records.isPending && !records.error && <Waiting label={`Loading ${register.title.toLowerCase()}`} lines={10} />}
      {records.data && rows.length > 0 && (
        <Table
          label={register.title}
          columns={list.columns}
          rows={rows}
          sort={list.narrow.sort}
          onSort={(sort) => list.put("sort", sort)}
          href={register.href}
          chosen={list.mayChoose ? chosen : undefined}
          onChoose={list.mayChoose ? setChosen : undefined}
        />
      )}
      {records.data && rows.length === 0 && (
        <Nothing>
          {list.late
            ? "Nothing matches, even with typing mistakes."
            : "Nothing is kept here yet. Import a list, or add one."}
        </Nothing>
      )}
      {records.hasNextPage && (
        <Button className="mt-3" disabled={records.isFetchingNextPage} onClick={() => records.fetchNextPage()}>
          {records.isFetchingNextPage ? "Reading…" : "Show more"}
        </Button>
      )}
      {chosen.size > 0 && (
        <ChosenBar
          words={`${chosen.size} chosen`}
          onEdit={list.mayEdit ? () => setOpen("edit") : undefined}
          onClear={() => setChosen(new Set())}
        >
          {list.pair && (
            <TextButton onClick={() => setOpen("merge")} aria-keyshortcuts="m">
              Merge <Key>M</Key>
            </TextButton>
          )}
          {isAsset && roles.includes("preparer") && (
            <Link
              className="link"
              href={`/batches?assets=${list.picked.map((row) => encodeURIComponent(row.serial)).join(",")}`}
            >
              Note packets
            </Link>
          )}
          {isAsset && list.mayPrint && <PrintLabels ids={[...chosen]} />}
        </ChosenBar>
      )}
      <RecordDialogs register={register} list={list} />
    </PageMain>
  );
}
