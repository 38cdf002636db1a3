/** Which differences are shown. */
import type { Sort, Statement } from "../../api/statements";
import { Chip } from "../../components/chip";
import type { Deciding } from "./use-deciding";

export const SORTS: [sort: Sort, words: string][] = [
  ["mistyped", "Likely mistyped"],
  ["differs", "Different"],
  ["only_ours", "Only ours"],
  ["only_theirs", "Only theirs"],
];

export function SortFilter({ counts, deciding }: { counts: Statement["counts"]; deciding: Deciding }) {
  const { sort, setSort, undecided, setUndecided } = deciding;
  return (
    <div className="my-4 flex flex-wrap items-center gap-2">
      {SORTS.map(([name, words]) => (
        <Chip key={name} chosen={sort === name} onClick={() => setSort(sort === name ? "" : name)}>
          {words} {counts[name]}
        </Chip>
      ))}
      <label className="ml-3 flex items-center gap-2">
        <input type="checkbox" checked={undecided} onChange={(event) => setUndecided(event.target.checked)} />
        only open ones
      </label>
    </div>
  );
}
