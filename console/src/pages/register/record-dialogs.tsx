/** The dialogs of a list of records: add, edit one or several, merge two. */
import { BulkDialog } from "./bulk";
import type { Register } from "./kinds";
import { MergeDialog } from "./merge";
import { RecordDialog } from "./record";
import type { RecordList } from "./use-record-list";

export function RecordDialogs({ register, list }: { register: Register; list: RecordList }) {
  const { open, setOpen, picked, chosen, setChosen } = list;
  return (
    <>
      {open === "add" && <RecordDialog register={register} onClose={() => setOpen(null)} />}
      {open === "edit" && picked.length === 1 && (
        <RecordDialog register={register} row={picked[0]} onClose={() => setOpen(null)} />
      )}
      {open === "edit" && picked.length !== 1 && (
        <BulkDialog register={register} ids={[...chosen]} onClose={() => setOpen(null)} />
      )}
      {open === "merge" && (
        <MergeDialog
          register={register}
          ids={[...chosen] as [string, string]}
          onClose={() => setOpen(null)}
          onDone={() => {
            setOpen(null);
            setChosen(new Set());
          }}
        />
      )}
    </>
  );
}
