/** All keys, under `?`. */
import { Dialog } from "../components/dialog";
import { Key } from "../components/key";
import { headings } from "./registry";

const NAMES: Record<string, string> = { PageUp: "PgUp", PageDown: "PgDn", Escape: "Esc" };

export function KeyHelp({ open, onChange }: { open: boolean; onChange: (open: boolean) => void }) {
  return (
    <Dialog open={open} onChange={onChange} title="Keys" className="p-5">
      <div className="gap-5 sm:columns-2">
        {headings().map(([group, keys]) => (
          <section key={group} className="mb-4 break-inside-avoid">
            <h3 className="mb-1 text-[14px]">{group}</h3>
            <dl className="grid grid-cols-[64px_1fr] gap-y-1">
              {keys.map(({ key, words }) => (
                <div key={words} className="contents">
                  <dt>
                    <Key>{NAMES[key] ?? key}</Key>
                  </dt>
                  <dd className="text-soft">{words}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Dialog>
  );
}
