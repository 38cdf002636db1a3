/** What the columns of all kinds of record have in common. */

import type { RecordKind } from "../../api/imports";
import { Mono } from "../../components/mono";
import type { Column } from "../../components/table";
import { sayDay } from "../../format/dates";

// biome-ignore lint/suspicious/noExplicitAny: each kind of record has its own shape; its columns know it
export type Row = any;

export const mono = (value: string | null | undefined) => (value ? <Mono>{value}</Mono> : null);

export const list = (values: string[] | undefined) => (values ?? []).join(", ");

export const day = (iso: string | null | undefined) => (iso ? sayDay(iso) : null);

export const state = (value: string) => value.replace("_", " ");

export interface Register {
  kind: RecordKind;
  plural: string;
  title: string;
  usual: string[];
  href?: (row: Row) => string;
  columns: Column<Row>[];
  /** Fields that may be changed for many at once. */
  bulk: [field: string, name: string][];
}

export const changed: Column<Row> = {
  key: "updated_at",
  title: "Changed",
  sort: "updated_at",
  show: (r) => day(r.updated_at),
};
